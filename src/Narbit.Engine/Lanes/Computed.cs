using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes;

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
