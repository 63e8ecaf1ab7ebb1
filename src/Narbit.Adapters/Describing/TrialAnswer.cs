namespace Narbit.Adapters.Describing;

/// <summary>A write of one field of one record, on trial.</summary>
/// <param name="Before">What the field held; null: nothing.</param>
/// <param name="Request">What is sent.</param>
/// <param name="Steps">What happened; empty where it was only shown.</param>
public sealed record TrialAnswer(string? Before, ShownRequest Request, IReadOnlyList<TrialStep> Steps)
{
    /// <summary>Whether everything went well.</summary>
    public bool Ok => Steps.All(s => s.Ok);
}
