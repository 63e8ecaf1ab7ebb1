using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes;

/// <summary>A field as it is and as it should be.</summary>
/// <param name="Field">The field.</param>
/// <param name="Old">Its value now.</param>
/// <param name="New">The value that was computed.</param>
/// <param name="Trace">How it came about.</param>
public sealed record ComputedField(FieldDescription Field, string? Old, string? New, IReadOnlyList<TraceStep> Trace)
{
    /// <summary>Whether it belongs to the target, or goes back to the source; the field and both values are that side's.</summary>
    public Way Way { get; init; }

    /// <summary>
    /// Whether the new value is the key of the record that another of the run's is made from, until that one has its own.
    /// </summary>
    public bool ToCome { get; init; }

    /// <summary>Whether it was changed on both sides, so that a person decides which value counts.</summary>
    public bool Asks { get; init; }

    /// <summary>For one that goes back: the target's own value, which both sides agree on once it has arrived.</summary>
    public string? Agrees { get; init; }

    /// <summary>Why it becomes so, in words; null: the trace says it step by step.</summary>
    public string? Why { get; init; }

    /// <summary>Whether the side differs.</summary>
    private readonly bool _differs = !FieldComparison.Same(Field.Type, Old, New);

    /// <summary>Whether the side has to change.</summary>
    public bool Changes => _differs && !Stays;

    /// <summary>Whether it would be emptied and its system does not let it be, so that it is left as it is.</summary>
    public bool Stays => _differs && New is null && !Field.CanBeEmptied;
}
