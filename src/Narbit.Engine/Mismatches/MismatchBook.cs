using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Engine.Pairing;
using NodaTime;

namespace Narbit.Engine.Mismatches;

/// <summary>
/// Keeps everything that needs a person, once. It follows from what is kept elsewhere, so it may be brought up to date at any time and
/// loses nothing when it is late; only what people did with it is its own.
/// </summary>
/// <param name="database">Where everything is.</param>
/// <param name="sources">The parts of Narbit in which something may not match.</param>
/// <param name="live">Who hears of it.</param>
/// <param name="clock">The time.</param>
/// <param name="log">Where defects are written.</param>
public sealed class MismatchBook(
    Database database,
    IEnumerable<IMismatchSource> sources,
    LiveFeed live,
    TimeProvider clock,
    ILogger<MismatchBook> log
)
{
    /// <summary>The origin of what can be oversold.</summary>
    public const string Stock = "stock:hub";

    private readonly MismatchStore _store = new(database, clock);

    /// <summary>Looks at everything there is.</summary>
    public async Task LookAtAllAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        foreach (var source in sources)
        {
            var origins = await source.OriginsAsync(db, cancel);
            foreach (var origin in origins)
                await LookAsync(source, origin, cancel);
            await _store.EndOthersAsync(source.Family, origins.Select(o => source.Family + o), clock.GetUtcNow(), cancel);
        }

        var couples = await db.Couples.Select(c => c.Id).ToListAsync(cancel);
        await _store.EndOthersAsync(ReadinessMismatches.Family, couples.Select(ReadinessMismatches.Origin), clock.GetUtcNow(), cancel);
        await CountAsync(cancel);
    }

    /// <summary>Looks at what some events are about.</summary>
    public async Task LookAtAsync(IReadOnlyCollection<LiveEvent> events, CancellationToken cancel)
    {
        var any = false;
        foreach (var source in sources)
        foreach (var origin in await ConcernedAsync(source, events, cancel))
            any |= await LookAsync(source, origin, cancel);
        if (any)
            await CountAsync(cancel);
    }

    /// <summary>Takes in what can be oversold, as it was counted.</summary>
    public async Task TakeInAsync(IReadOnlyList<ExposedItem> exposed, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.Workspaces.Select(w => w.HubId).FirstOrDefaultAsync(cancel) is not { } hub)
            return;
        var found = exposed.Select(e => new FoundMismatch
        {
            Cause = "stock.oversold",
            SystemId = hub,
            Kind = Core.Records.RecordKind.Item,
            Key = e.Key,
            OtherSystemId = e.Offers.MaxBy(o => o.Promised)?.SystemId,
            Reference = e.Sku,
            Caption = e.Title,
            Words = $"{e.Promised:#,0.##} pieces are offered, and {e.Available:#,0.##} are there",
            Pieces = e.Exposure,
        });
        if ((await _store.TakeInAsync(Stock, clock.GetUtcNow(), found, cancel)).Any)
            await CountAsync(cancel);
    }

    /// <summary>Opens what was put off until now.</summary>
    public Task WakeAsync(CancellationToken cancel) => _store.WakeAsync(clock.GetUtcNow(), cancel);

    private async Task<IEnumerable<string>> ConcernedAsync(
        IMismatchSource source,
        IReadOnlyCollection<LiveEvent> events,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var concerned = new HashSet<string>(StringComparer.Ordinal);
        foreach (var what in events)
            concerned.UnionWith(await source.ConcernedAsync(db, what, cancel));
        return concerned;
    }

    // One origin that cannot be looked at never keeps the others from being.
    private async Task<bool> LookAsync(IMismatchSource source, string origin, CancellationToken cancel)
    {
        try
        {
            await using var db = database.CreateDbContext();
            if (await source.LookAsync(db, origin, cancel) is not { } look)
                return false;
            return (await _store.TakeInAsync(source.Family + origin, look.At, look.Found, cancel)).Any;
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            log.LogError(error, "What does not match in {Origin} could not be looked for; it is looked for again", source.Family + origin);
            return false;
        }
    }

    private async Task CountAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var zone = await db.Workspaces.Select(w => w.TimeZone).FirstOrDefaultAsync(cancel);
        var here = DateTimeZoneProviders.Tzdb.GetZoneOrNull(zone ?? "UTC") ?? DateTimeZone.Utc;
        var day = Instant.FromDateTimeOffset(clock.GetUtcNow()).InZone(here).Date;
        await _store.CountDayAsync(NodaTime.Text.LocalDatePattern.Iso.Format(day), cancel);
        live.Tell(new LiveEvent("mismatches", "all"));
    }
}
