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
