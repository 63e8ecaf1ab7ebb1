using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Runs;

namespace Narbit.Engine.Runs;

/// <summary>
/// The idempotency keys of a lane's creations. A key comes from the lane, the kind, the source's record and how many creations of it were
/// settled before, not from the run: as long as nobody knows whether an earlier one arrived, a later run asks for the same thing by the
/// same key. Once one was made, or clearly refused, the next is another thing and has another key.
/// </summary>
/// <remarks>A key says nothing of the record, since keys are kept by systems and in logs.</remarks>
internal static class CreationKeys
{
    private const int Chunk = 400;

    /// <summary>Gives every creation of a change set its key.</summary>
    public static async Task GiveAsync(NarbitContext db, string lane, IReadOnlyList<PlannedWrite> writes, CancellationToken cancel)
    {
        foreach (var some in writes.Where(w => w.Act == WriteAct.Create).GroupBy(w => w.Way))
        foreach (var chunk in some.Chunk(Chunk))
        {
            var settled = await SettledAsync(db, lane, some.Key, [.. chunk.Select(Of)], cancel);
            foreach (var write in chunk)
                write.IdempotencyKey = KeyOf(lane, write, settled.GetValueOrDefault((write.Record, Of(write))));
        }
    }

    // The side that is created has a key to come; the other's is the same in every run.
    private static string Of(PlannedWrite write) => write.Way == Way.There ? write.SourceKey : write.TargetKey;

    private static async Task<Dictionary<(RecordKind Record, string Of), int>> SettledAsync(
        NarbitContext db,
        string lane,
        Way way,
        List<string> of,
        CancellationToken cancel
    )
    {
        var creations = db.Writes.Where(w => w.Act == WriteAct.Create && w.Way == way && w.Attempts > 0);
        creations = way == Way.There ? creations.Where(w => of.Contains(w.SourceKey)) : creations.Where(w => of.Contains(w.TargetKey));
        var settled = await creations
            .Where(w => w.State == WriteState.Confirmed || w.State == WriteState.Sent || w.State == WriteState.Failed)
            .Where(w => db.Runs.Any(r => r.Id == w.RunId && r.LaneId == lane))
            .Select(w => new { w.Record, Of = way == Way.There ? w.SourceKey : w.TargetKey })
            .ToListAsync(cancel);
        return settled.GroupBy(s => (s.Record, s.Of)).ToDictionary(g => g.Key, g => g.Count());
    }

    private static string KeyOf(string lane, PlannedWrite write, int settled)
    {
        var number = settled.ToString(CultureInfo.InvariantCulture);
        var said = string.Join('\n', lane, write.Record.ToString(), write.Way.ToString(), Of(write), number);
        return Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(said)).AsSpan(0, 16));
    }
}
