using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Pairing;

/// <summary>What was decided at the pair desk.</summary>
/// <param name="database">Where decisions are.</param>
public sealed class DeskHistory(Database database)
{
    /// <summary>Decisions: of a batch, about a record, or those that wait; the newest 1,000.</summary>
    public async Task<IReadOnlyList<DecisionView>> DecisionsAsync(long id, long? batch, string? key, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var decisions = db.Decisions.AsNoTracking().Where(d => d.CoupleId == id);
        decisions =
            batch is not null ? decisions.Where(d => d.BatchId == batch)
            : key is not null ? decisions.Where(d => d.HubKey == key || d.OtherKey == key)
            : decisions.Where(d => d.State == DecisionState.Waiting);
        return [.. (await decisions.OrderByDescending(d => d.Id).Take(1000).ToListAsync(cancel)).Select(View)];
    }

    /// <summary>A decision as it is shown.</summary>
    public static DecisionView View(PairDecision d) =>
        new()
        {
            Id = d.Id,
            Act = d.Act,
            State = d.State,
            Words = DecisionDesk.Said(d),
            HubKey = d.HubKey,
            OtherKey = d.OtherKey,
            Reference = d.Reference,
            Caption = d.Caption,
            Reason = d.Reason,
            Evidence = d.Evidence,
            Verdict = d.Verdict,
            By = d.By,
            At = d.At,
            Parts = PairJson.Items(d.Parts),
        };

    /// <summary>What was thrown away together, the newest first.</summary>
    public async Task<IReadOnlyList<ThrownAway>> ThrownAsync(long id, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var thrown = db.Decisions.AsNoTracking().Where(d => d.CoupleId == id && d.State == DecisionState.ThrownAway && d.ThrownAt != null);
        var together = await thrown
            .GroupBy(d => d.ThrownAt)
            .Select(g => new
            {
                At = g.Key!.Value,
                Count = g.Count(),
                Last = g.Max(d => d.Id),
            })
            .OrderByDescending(g => g.At)
            .Take(20)
            .ToListAsync(cancel);
        var ids = together.Select(g => g.Last).ToList();
        var last = await db.Decisions.AsNoTracking().Where(d => ids.Contains(d.Id)).ToDictionaryAsync(d => d.Id, cancel);
        return [.. together.Select(g => new ThrownAway(g.At, last[g.Last].ThrownBy ?? "", g.Count, DecisionDesk.Said(last[g.Last])))];
    }

    /// <summary>What was put into force together, the newest 200.</summary>
    public async Task<IReadOnlyList<BatchView>> BatchesAsync(long id, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return
        [
            .. (
                await db.Batches.AsNoTracking().Where(b => b.CoupleId == id).OrderByDescending(b => b.Id).Take(200).ToListAsync(cancel)
            ).Select(b => new BatchView(b.Id, b.By, b.At, b.Note, b.Decisions, b.UndoneBy, b.UndoneAt)),
        ];
    }
}
