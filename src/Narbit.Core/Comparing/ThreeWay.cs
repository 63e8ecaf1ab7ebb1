using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Core.Comparing;

/// <summary>The three-way compare: the value last agreed, the source's now (as mapped), the target's now.</summary>
public static class ThreeWay
{
    /// <summary>Decides about one field.</summary>
    /// <param name="type">The target field's type; it says how values compare.</param>
    /// <param name="mapping">Whose value it is, which way it may flow, and what becomes of two changes.</param>
    /// <param name="agreed">What both last agreed on; null: nothing yet.</param>
    /// <param name="here">The source's value as mapped.</param>
    /// <param name="there">The target's value.</param>
    /// <param name="hereAt">When the source's record changed.</param>
    /// <param name="thereAt">When the target's record changed.</param>
    public static FieldVerdict Decide(
        FieldType type,
        FieldMapping mapping,
        LastAgreed? agreed,
        string? here,
        string? there,
        DateTimeOffset? hereAt = null,
        DateTimeOffset? thereAt = null
    )
    {
        if (FieldComparison.Same(type, here, there))
            return new(
                Movement.None,
                string.Equals(here, there, StringComparison.Ordinal) ? SeamSign.Same : SeamSign.SameByMeaning,
                FieldComparison.How(type)
            );
        var hereChanged = agreed is not null && !FieldComparison.Same(type, here, agreed.Value);
        var thereChanged = agreed is not null && !FieldComparison.Same(type, there, agreed.Value);
        var (toTarget, toSource) = (mapping.Flow != Flow.ToSource, mapping.Flow != Flow.ToTarget);
        var sign =
            hereChanged && thereChanged ? SeamSign.ChangedOnBoth
            : thereChanged ? SeamSign.ChangedThere
            : SeamSign.WillChange;
        switch (mapping.Owner)
        {
            case Owner.Source:
                return toTarget
                    ? new(
                        Movement.Send,
                        sign,
                        thereChanged ? "the source owns it; it was changed there and is written over" : "the source owns it"
                    )
                    : Left("the source owns it, but it may not flow to the target");
            case Owner.Target:
                return toSource ? new(Movement.TakeBack, SeamSign.ChangedThere, "the target owns it") : Left("the target owns it");
            case Owner.FirstPublication:
                return Left("it belongs to the target since it was published");
        }

        if (agreed is null)
            return toTarget
                ? new(Movement.Send, SeamSign.WillChange, "nothing was agreed on yet, so the source's value counts")
                : new(Movement.TakeBack, SeamSign.ChangedThere, "nothing was agreed on yet, and it flows to the source only");
        if (hereChanged && thereChanged)
        {
            return mapping.Conflict switch
            {
                ConflictPolicy.HereWins when toTarget => new(Movement.Send, sign, "changed on both sides: the source's value wins"),
                ConflictPolicy.ThereWins => Back("changed on both sides: the target's value wins"),
                ConflictPolicy.NewestWins when hereAt is { } h && thereAt is { } t && h != t => h > t
                    ? toTarget
                        ? new(Movement.Send, sign, "changed on both sides: the source's is newer")
                        : Left("changed on both sides: the source's is newer, but it may not flow to the target")
                    : Back("changed on both sides: the target's is newer"),
                _ => new(Movement.Ask, SeamSign.ChangedOnBoth, "changed on both sides since they last agreed"),
            };
        }

        if (thereChanged)
            return Back("changed there only");
        return toTarget ? new(Movement.Send, sign, "changed here only") : Left("changed here only, and it flows to the source only");

        FieldVerdict Left(string why) => new(Movement.Leave, thereChanged ? sign : SeamSign.Differs, why);
        FieldVerdict Back(string why) =>
            toSource ? new(Movement.TakeBack, sign, why) : new(Movement.Leave, sign, $"{why}, and it may not flow back");
    }
}
