using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>Records that are paired and written field by field, by a field map.</summary>
public abstract class MapWork : LaneWork
{
    /// <inheritdoc/>
    public override string Part => "map";

    /// <inheritdoc/>
    public override IReadOnlyList<LaneStep> Steps { get; } =
    [
        LaneStep.Scope,
        LaneStep.Pairs,
        new("map", "Field map"),
        new("crosswalks", "Crosswalks"),
        LaneStep.Guards,
        LaneStep.Preview,
        LaneStep.Timetable,
        LaneStep.Runs,
        LaneStep.Versions,
    ];
}

/// <summary>What field maps use, and why one no longer fits.</summary>
internal static class MapUses
{
    /// <summary>The fields of both sides that the map in a document reads or writes.</summary>
    public static IEnumerable<FieldUse> Of(LaneDocument document, RecordKind kind)
    {
        var fields = document.Mapped?.Fields ?? [];
        return
        [
            .. fields.SelectMany(f => f.Source.Fields ?? []).Distinct().Select(f => new FieldUse(OfSource: true, kind, f)),
            .. fields.Select(f => new FieldUse(OfSource: false, kind, f.Target)),
        ];
    }

    /// <summary>Why nothing can be computed by a map.</summary>
    public static Reason Broken(IReadOnlyList<RuleFault> faults) =>
        new(
            "map.broken",
            "The field map no longer fits its systems, so nothing is sent: "
                + $"{string.Join("; ", faults.Where(f => f.Severity == Severity.Refuse).Select(f => f.Message))}."
        );
}
