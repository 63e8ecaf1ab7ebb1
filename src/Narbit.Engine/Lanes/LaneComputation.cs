using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Guarding;
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

    /// <summary>Whether the new value is the key of the record that another of the run's is made from, until that one has its own.</summary>
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

/// <summary>What a lane makes of one pair of records: fields, or what is in the way of them.</summary>
/// <param name="Fields">The fields, the leading one first; empty where something is in the way.</param>
public record Computed(IReadOnlyList<ComputedField> Fields)
{
    /// <summary>Nothing, because the record is none of the lane's.</summary>
    public static Computed OutOfScope { get; } = new([]) { IsOutOfScope = true };

    /// <summary>Nothing, because something is in the way.</summary>
    public static Computed Not(Reason why) => new([]) { Why = why };

    /// <summary>Nothing, because something is in the way.</summary>
    public static Computed Not(string code, string words) => Not(new Reason(code, words));

    /// <summary>What is in the way, or null.</summary>
    public Reason? Why { get; init; }

    /// <summary>Why the values look wrong, or null.</summary>
    public Reason? Hold { get; init; }

    /// <summary>What the value comes from, kept with what is agreed on: for stock the source's basis.</summary>
    public string? Source { get; init; }

    /// <summary>What is done to the record.</summary>
    public WriteAct Act { get; init; }

    /// <summary>The lists within the record that are written with it.</summary>
    public RecordChildren Children { get; init; } = RecordChildren.None;

    /// <summary>The target's lists as they are, so that those that are written over can be put back; null: it has none.</summary>
    public RecordChildren? ChildrenNow { get; init; }

    /// <summary>The source's lists as they are; null: it has none.</summary>
    public RecordChildren? ChildrenBackNow { get; init; }

    /// <summary>For one that is created: the record of which it becomes a part; null: none.</summary>
    public string? ParentKey { get; init; }

    /// <summary>For one that is created: what it shares with those that are created beside it; null: nothing.</summary>
    public string? Group { get; init; }

    /// <summary>The lists that go back with the fields that do.</summary>
    public RecordChildren ChildrenBack { get; init; } = RecordChildren.None;

    /// <summary>Records of other kinds that are written with it: an order's customer before it, credit notes after it.</summary>
    public IReadOnlyList<BesideWrite> Beside { get; init; } = [];

    /// <summary>Whether the record is none of the lane's, and counts nowhere.</summary>
    public bool IsOutOfScope { get; init; }

    /// <summary>What both sides turn out to agree on where that was not known yet, by target field.</summary>
    public IReadOnlyList<(string Field, string? Value)> Baseline { get; init; } = [];

    /// <summary>The change as the guards look at it.</summary>
    public GuardedChange Guarded { get; init; }

    /// <summary>
    /// The same for some of the target's fields only. A part makes no record and ends none, and leaves the lists within it alone.
    /// </summary>
    public Computed Part(IReadOnlySet<string> fields) =>
        IsOutOfScope || Why is not null
            ? this
            : new Computed(Act == WriteAct.Update ? [.. Fields.Where(f => f.Way == Way.There && fields.Contains(f.Field.Name))] : [])
            {
                Hold = Hold,
                Source = Source,
                Guarded = Guarded,
            };

    /// <summary>Whether anything has to be written.</summary>
    public bool Changes =>
        Act == WriteAct.End || Fields.Any(f => f.Changes) || !Children.IsEmpty || !ChildrenBack.IsEmpty || Beside.Count > 0;
}

/// <summary>A record of another kind that is written at the target beside the one that was computed.</summary>
/// <param name="Kind">The kind.</param>
/// <param name="SourceKey">What it is known by until it has a key of its own.</param>
/// <param name="Reference">What a person knows it by.</param>
/// <param name="Caption">What it is in words.</param>
public sealed record BesideWrite(RecordKind Kind, string SourceKey, string? Reference, string? Caption)
{
    /// <summary>The key of the record that changes; null: it is created.</summary>
    public string? TargetKey { get; init; }

    /// <summary>Its fields.</summary>
    public IReadOnlyList<ComputedField> Fields { get; init; } = [];

    /// <summary>The lists within it.</summary>
    public RecordChildren Children { get; init; } = RecordChildren.None;
}

/// <summary>A lane's document, ready to be applied to pairs of records. Pure: the same inputs give the same result.</summary>
public abstract class LaneComputation
{
    /// <summary>Whether what both sides agree on must be kept even where nothing is written.</summary>
    public virtual bool KeepsSource => false;

    /// <summary>The most records that a run creates; null: no limit.</summary>
    public virtual int? Portion => null;

    /// <summary>What becomes of a pair. One that breaks the computation has that as its reason; the others go on.</summary>
    public Computed Compute(LanePair pair)
    {
        try
        {
            return pair.Unbelievable is { } words ? Computed.Not("unreadable", words) : Of(pair);
        }
        catch (OverflowException)
        {
            return Computed.Not("amount.tooLarge", "its amounts are too large to compute with");
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            return Computed.Not("broke", $"it cannot be computed ({error.GetType().Name}: {error.Message.TrimEnd('.')})");
        }
    }

    /// <summary>What the document makes of a pair.</summary>
    protected abstract Computed Of(LanePair pair);

    /// <summary>What is in the way of a field that cannot be read, or null.</summary>
    private protected static Computed? Unreadable(SideRecord record, string side, params ReadOnlySpan<FieldDescription?> needed)
    {
        if (record.Problems.Count == 0)
            return null;
        foreach (var problem in record.Problems)
        foreach (var field in needed)
            if (field?.Name == problem.Field)
                return Computed.Not(new Reason("unreadable", $"{side}: {problem.Message}").With("field", problem.Field));
        return null;
    }
}

/// <summary>A computation of pairs of one type.</summary>
/// <typeparam name="T">The pair that its kind reads.</typeparam>
public abstract class LaneComputation<T> : LaneComputation
    where T : LanePair
{
    /// <inheritdoc/>
    protected sealed override Computed Of(LanePair pair) =>
        pair is T own ? Of(own) : throw new InvalidOperationException($"{GetType().Name} was given a {pair.GetType().Name}.");

    /// <inheritdoc cref="LaneComputation.Of"/>
    protected abstract Computed Of(T pair);
}
