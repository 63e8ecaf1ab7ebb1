using System.Text.Json.Serialization;

namespace Narbit.Core.Comparing;

/// <summary>How a field or a record stands in a full compare, where it is not in step or was taken for something else.</summary>
[JsonConverter(typeof(CamelCaseEnum<StepFinding>))]
public enum StepFinding
{
    /// <summary>Somebody changed the value at the target after both sides had agreed.</summary>
    ChangedThere,

    /// <summary>The value is to be sent: the source has changed, or both sides never agreed.</summary>
    ToSend,

    /// <summary>The record is not at the target yet, or is to be taken away there.</summary>
    Missing,

    /// <summary>The value looks wrong or was changed on both sides; a person decides.</summary>
    Held,

    /// <summary>The record cannot be computed.</summary>
    NotComputed,

    /// <summary>The target had another value than was taken for granted, and nothing had told of a change.</summary>
    Mistaken,
}

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
