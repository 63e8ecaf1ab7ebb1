namespace Narbit.Core.Comparing;

/// <summary>Says how a field stands by three values: what is there, what should be, and what both sides had agreed on.</summary>
public static class Step
{
    /// <summary>How a field stands.</summary>
    /// <param name="type">Its type, by which values are compared.</param>
    /// <param name="there">What the target has; null: nothing.</param>
    /// <param name="should">What it should have.</param>
    /// <param name="agreed">Whether both sides had ever agreed on the field, and on what.</param>
    /// <returns>The finding; null: it is in step.</returns>
    public static StepFinding? Of(Records.FieldType type, string? there, string? should, (bool Known, string? Value) agreed) =>
        FieldComparison.Same(type, there, should) ? null
        : agreed.Known && !FieldComparison.Same(type, there, agreed.Value) ? StepFinding.ChangedThere
        : StepFinding.ToSend;
}
