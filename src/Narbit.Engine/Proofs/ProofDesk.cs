using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Proofs;
using Narbit.Data.Runs;
using Narbit.Data.Systems;
using Narbit.Engine.Lanes;
using Narbit.Engine.Pairing;
using Narbit.Engine.Reading;
using NodaTime;

namespace Narbit.Engine.Proofs;

/// <summary>
/// Proves how far every lane is in step: reads both sides afresh and whole, compares every record, and keeps what was found, by day.
/// Nothing is written to any system. Each kind of record is read twice where the system can tell what has changed: first that, then
/// everything; what only the second reading finds is what Narbit had believed wrongly.
/// </summary>
/// <param name="database">Where lanes and proofs are.</param>
/// <param name="reader">How systems are read.</param>
/// <param name="pairs">What pairs anew.</param>
/// <param name="live">Who hears of it.</param>
/// <param name="clock">The time.</param>
/// <param name="log">Where defects are written.</param>
public sealed class ProofDesk(
    Database database,
    MirrorReader reader,
    PairDesk pairs,
    LiveFeed live,
    TimeProvider clock,
    ILogger<ProofDesk> log
)
{
    /// <summary>What is told to whoever listens.</summary>
    public const string Topic = "proof";

    // A night that was slept through is made up for in the morning, and not at noon.
    private static readonly Duration Late = Duration.FromHours(6);
    private static readonly TimeSpan RunsTake = TimeSpan.FromMinutes(5);
    private static readonly TimeSpan Looks = TimeSpan.FromSeconds(1);

    private static Reason Nothing { get; } = new("proof.nothing", "There is nothing to compare yet; set the workspace up first.");

    private readonly ProofStore _store = new(database);

    /// <summary>Begins a round, which the worker works off.</summary>
    /// <returns>Its number; or that one is at work already.</returns>
    public async Task<Outcome<long>> BeginAsync(string? by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.ProofRounds.AnyAsync(r => r.EndedAt == null, cancel))
            return new Reason("proof.atWork", "All lanes are being compared already; wait until that is done.");
        if (await db.Workspaces.AsNoTracking().FirstOrDefaultAsync(cancel) is not { } workspace)
            return Nothing;
        var round = new ProofRound
        {
            By = by,
            Day = Here(workspace).Date.ToString("uuuu-MM-dd", CultureInfo.InvariantCulture),
            StartedAt = clock.GetUtcNow(),
        };
        db.ProofRounds.Add(round);
        await db.SaveChangesAsync(cancel);
        live.Tell(new LiveEvent(Topic, "all"));
        return round.Id;
    }

    /// <summary>Says at what time of day all lanes are compared by themselves.</summary>
    /// <param name="at">The time in the workspace's zone, <c>HH:mm</c>; null: only when somebody asks.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>Why it is not kept; null: it is.</returns>
    public async Task<Reason?> SetTimeAsync(string? at, CancellationToken cancel)
    {
        if (at is not null && !TimeOnly.TryParseExact(at, "HH:mm", CultureInfo.InvariantCulture, DateTimeStyles.None, out _))
            return new Reason("proof.time", $"“{at}” is no time of day; say it like 03:10.");
        await using var db = database.CreateDbContext();
        if (await db.Workspaces.ExecuteUpdateAsync(s => s.SetProperty(w => w.ProvedAt, at), cancel) == 0)
            return Nothing;
        live.Tell(new LiveEvent(Topic, "all"));
        return null;
    }

    /// <summary>Begins the night's round where its time has come, and works off what was begun.</summary>
    public async Task WorkAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await IsDueAsync(db, cancel))
            await BeginAsync(null, cancel);
        if (await db.ProofRounds.AsNoTracking().FirstOrDefaultAsync(r => r.EndedAt == null, cancel) is { } round)
            await WorkAsync(round, cancel);
    }

    private async Task<bool> IsDueAsync(NarbitContext db, CancellationToken cancel)
    {
        if (await db.Workspaces.AsNoTracking().FirstOrDefaultAsync(cancel) is not { ProvedAt: { } time } workspace)
            return false;
        var here = Here(workspace);
        var due = here.Date.At(LocalTime.FromTimeOnly(TimeOnly.ParseExact(time, "HH:mm", CultureInfo.InvariantCulture)));
        var since = Period.Between(due, here, PeriodUnits.Ticks).ToDuration();
        if (since < Duration.Zero || since > Late)
            return false;
        var today = here.Date.ToString("uuuu-MM-dd", CultureInfo.InvariantCulture);
        return !await db.ProofRounds.AnyAsync(r => r.By == null && r.Day == today, cancel);
    }

    private LocalDateTime Here(Workspace workspace) =>
        Instant
            .FromDateTimeOffset(clock.GetUtcNow())
            .InZone(DateTimeZoneProviders.Tzdb.GetZoneOrNull(workspace.TimeZone) ?? DateTimeZone.Utc)
            .LocalDateTime;

    // A round that was cut off goes on with the lanes that it has not compared.
    private async Task WorkAsync(ProofRound round, CancellationToken cancel)
    {
        List<Lane> lanes;
        HashSet<string> done;
        await using (var db = database.CreateDbContext())
        {
            var between = LaneWorks.Between.Select(w => w.Kind).ToList();
            lanes = await db.Lanes.AsNoTracking().Where(l => !l.Off && between.Contains(l.Kind)).OrderBy(l => l.Id).ToListAsync(cancel);
            done = await db.Proofs.Where(p => p.RoundId == round.Id).Select(p => p.LaneId).ToHashSetAsync(StringComparer.Ordinal, cancel);
        }

        var read = new FreshReadings(reader.Adapters, reader, clock);
        var at = done.Count;
        foreach (var lane in lanes.Where(l => !done.Contains(l.Id)))
        {
            live.Tell(new LiveEvent(Topic, "all", lane.Id, at++, lanes.Count));
            await ProveAsync(round, lane, read, cancel);
        }

        await EndAsync(round, cancel);
    }

    private async Task EndAsync(ProofRound round, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        await using (var db = database.CreateDbContext())
            await db.ProofRounds.Where(r => r.Id == round.Id).ExecuteUpdateAsync(s => s.SetProperty(r => r.EndedAt, now), cancel);
        await _store.ForgetOldAsync(now, cancel);
        live.Tell(new LiveEvent(Topic, "all"));
    }

    // One lane that cannot be compared never keeps the others from being.
    private async Task ProveAsync(ProofRound round, Lane lane, FreshReadings read, CancellationToken cancel)
    {
        var proof = new LaneProof
        {
            RoundId = round.Id,
            LaneId = lane.Id,
            Day = round.Day,
            RuleNumber = lane.RuleNumber,
        };
        IReadOnlyList<ProofLine> lines = [];
        try
        {
            var compared = await CompareAsync(proof, lane, read, cancel);
            (proof.Why, lines) = (KeptReason.Of(compared.Fault), compared.ValueOrDefault ?? []);
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            log.LogError(error, "Lane {Lane} could not be compared", lane.Id);
            proof.Why = KeptReason.Of(new Reason("defect", $"Narbit made a mistake ({error.GetType().Name}); report it if it comes back."));
        }

        proof.At = clock.GetUtcNow();
        await _store.KeepAsync(proof, lines, cancel);
    }

    private async Task<Outcome<IReadOnlyList<ProofLine>>> CompareAsync(
        LaneProof proof,
        Lane lane,
        FreshReadings read,
        CancellationToken cancel
    )
    {
        var opened = await OpenLane.ForAsync(database, reader.Adapters, lane.Id, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var open = opened.Value;
        // What an order's map says beyond the order itself may be nothing.
        if (open.Document.Mapped is { Fields.Count: 0 } && open.Work.Writing.GoesByPairs)
            return new Reason("proof.unmapped", "Nothing is mapped yet, so nothing can be in step.");
        foreach (var wanted in open.Work.Reading.Reads(open))
            if (await read.ReadAsync(wanted, cancel) is { } unread)
                return unread;
        if (!await QuietAsync(lane.Id, cancel))
            return new Reason("proof.busy", "A run of this lane was at work all the while; compare once more when it is done.");
        if (await pairs.PairBetweenAsync(open.Work.PairedKind, lane.SourceId, lane.TargetId, cancel) is { } unpaired)
            return unpaired;
        return await TallyAsync(proof, open, read, cancel);
    }

    private async Task<Outcome<IReadOnlyList<ProofLine>>> TallyAsync(
        LaneProof proof,
        OpenLane lane,
        FreshReadings read,
        CancellationToken cancel
    )
    {
        var computation = await lane.ComputationAsync(database, clock.GetUtcNow(), cancel);
        if (computation.Fault is { } fault)
            return fault;
        ProofTally tally;
        await using (var db = database.CreateDbContext())
            tally = new ProofTally(proof, lane, await Mistakes.OfAsync(db, lane, read.Since, cancel));
        await foreach (var pair in lane.Work.Reading.PairsAsync(lane, database, [lane.Document], null, cancel))
            tally.Add(pair, computation.Value.Compute(pair));
        return proof.Records == 0
            ? new Reason("proof.nothing", "There is nothing to compare: nothing is paired, or nothing flows yet.")
            : Outcome.Of<IReadOnlyList<ProofLine>>(tally.Lines);
    }

    // What is being sent would look as if it were out of step.
    private async Task<bool> QuietAsync(string lane, CancellationToken cancel)
    {
        for (var begun = clock.GetTimestamp(); clock.GetElapsedTime(begun) < RunsTake; await Task.Delay(Looks, clock, cancel))
        {
            await using var db = database.CreateDbContext();
            if (!await db.Runs.AnyAsync(r => r.LaneId == lane && r.State == RunState.Working, cancel))
                return true;
        }

        return false;
    }
}
