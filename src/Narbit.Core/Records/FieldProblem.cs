namespace Narbit.Core.Records;

/// <summary>A value that could not be read as what its field is.</summary>
/// <param name="Field">The field's name.</param>
/// <param name="Message">What was found instead.</param>
public sealed record FieldProblem(string Field, string Message)
{
    /// <summary>Stands for the key in place of a field: nothing of the record can be believed.</summary>
    public const string OfKey = "(key)";
}
