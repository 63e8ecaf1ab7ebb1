using Microsoft.EntityFrameworkCore;
using Narbit.Core.Comparing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Runs;

namespace Narbit.Engine.Runs;

/// <summary>
/// Tells the changes that writes of ours made from those of other people: a change that was seen after a write had left, in the field
/// that was written and with the value that was written, is that write's. A field that sisters share changes in all of them.
/// </summary>
internal static class OwnChanges
{
    /// <summary>Notes, in the changes that were seen of some confirmed writes, whose they are.</summary>
    public static async Task NoteAsync(NarbitContext db, WrittenSide side, IReadOnlyList<PlannedWrite> writes, CancellationToken cancel)
    {
        PlannedWrite[] confirmed = [.. writes.Where(w => w is { State: WriteState.Confirmed, Attempts: > 0, SentAt: not null })];
        if (confirmed.Length == 0)
            return;
        var sisters = await SistersAsync(db, side, confirmed, cancel);
        var seen = await SeenAsync(db, side, sisters, confirmed.Min(w => w.SentAt!.Value), cancel);
        foreach (var change in seen)
        {
            var made = confirmed.Where(w => change.At >= w.SentAt && Made(side, w, change)).ToLookup(side.Key);
            // A record's own write comes before that of a sister.
            change.WriteId = made[change.Key].Concat(sisters[change.Key].SelectMany(s => made[s])).FirstOrDefault()?.Id;
        }

        await db.SaveChangesAsync(cancel);
    }

    private static bool Made(WrittenSide side, PlannedWrite write, ValueChange change)
    {
        if (change.Key == side.Key(write) && write.Act == WriteAct.End)
            return true;
        var type = side.Kind.Fields.Named(change.Field)?.Type ?? FieldType.Text;
        return write.Written.Any(f => f.Field == change.Field && FieldComparison.Same(type, f.New, change.New));
    }

    // By each record that may have changed: the written records that it is, or is a sister of.
    private static async Task<Dictionary<string, HashSet<string>>> SistersAsync(
        NarbitContext db,
        WrittenSide side,
        PlannedWrite[] writes,
        CancellationToken cancel
    )
    {
        string[] keys = [.. writes.Select(side.Key)];
        var records = db.Records.Where(r => r.SystemId == side.System.Id && r.Kind == side.Kind.Kind);
        var parents = await records
            .Where(r => keys.Contains(r.Key) && r.Parent != null)
            .Select(r => new { r.Key, r.Parent })
            .ToListAsync(cancel);
        string?[] families = [.. parents.Select(p => p.Parent).Distinct()];
        var members = await records.Where(r => families.Contains(r.Parent)).Select(r => new { r.Key, r.Parent }).ToListAsync(cancel);
        var written = parents.ToLookup(p => p.Parent, p => p.Key);
        var sisters = keys.Distinct(StringComparer.Ordinal).ToDictionary(k => k, k => new HashSet<string>([k], StringComparer.Ordinal));
        foreach (var member in members)
        {
            if (!sisters.TryGetValue(member.Key, out var of))
                sisters[member.Key] = of = new HashSet<string>(StringComparer.Ordinal);
            of.UnionWith(written[member.Parent]);
        }

        return sisters;
    }

    private static Task<List<ValueChange>> SeenAsync(
        NarbitContext db,
        WrittenSide side,
        Dictionary<string, HashSet<string>> sisters,
        DateTimeOffset since,
        CancellationToken cancel
    )
    {
        string[] keys = [.. sisters.Keys];
        return db
            .ValueChanges.Where(v =>
                v.SystemId == side.System.Id && v.Kind == side.Kind.Kind && keys.Contains(v.Key) && v.WriteId == null && v.At >= since
            )
            .OrderBy(v => v.Id)
            .ToListAsync(cancel);
    }
}
