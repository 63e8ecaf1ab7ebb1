using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Mismatches;

namespace Narbit.Engine.Mismatches;

/// <summary>What a system's webhooks should have told of and did not, so that only the clock found it.</summary>
/// <param name="clock">The time.</param>
public sealed class EventMismatches(TimeProvider clock) : IMismatchSource
{
    // An event may come later than the record is read.
    private static readonly TimeSpan Patience = TimeSpan.FromMinutes(10);
    private static readonly TimeSpan Shown = TimeSpan.FromDays(1);

    /// <inheritdoc/>
    public string Family => "events:";

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string>> OriginsAsync(NarbitContext db, CancellationToken cancel) =>
        await db.Systems.Where(s => s.HookSecretAt != null).Select(s => s.Id).ToListAsync(cancel);

    /// <inheritdoc/>
    public Task<IReadOnlyList<string>> ConcernedAsync(NarbitContext db, LiveEvent what, CancellationToken cancel) =>
        Task.FromResult<IReadOnlyList<string>>(
            what is { Topic: "read", Phase: { } phase } && phase.EndsWith(":done", StringComparison.Ordinal) ? [what.Id] : []
        );

    /// <inheritdoc/>
    public async Task<Look?> LookAsync(NarbitContext db, string origin, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        var system = await db.Systems.AsNoTracking().FirstOrDefaultAsync(s => s.Id == origin, cancel);
        var aside = system is null ? [] : await SetAsideAsync(db, origin, cancel);
        if (system is not { HookSecretAt: { } told } || SystemDocument.Read(system.Document).ValueOrDefault?.Hook is not { } hook)
            return new Look(now, aside);
        // What was there before webhooks were, nothing could tell of.
        var first = await db
            .Reads.Where(r => r.SystemId == origin && r.Kind == hook.Kind && r.State == ReadState.Done && r.StartedAt > told)
            .MinAsync(r => r.EndedAt, cancel);
        if (first is not { } since)
            return new Look(now, aside);
        var (from, until) = (now - Shown > since ? now - Shown : since, now - Patience);
        var lost = await db
            .Records.Where(r =>
                r.SystemId == origin
                && r.Kind == hook.Kind
                && r.ChangedAt > from
                && r.FirstReadAt > from
                && r.FirstReadAt < until
                && !db.HookEvents.Any(e => e.SystemId == origin && e.Kind == hook.Kind && e.RecordKey == r.Key)
            )
            .Select(r => new
            {
                r.Key,
                r.Reference,
                r.Caption,
                r.FirstReadAt,
            })
            .ToListAsync(cancel);
        return new Look(now, [.. aside, .. lost.Select(r => Of(origin, hook.Kind, r.Key, r.Reference, r.Caption, r.FirstReadAt))]);
    }

    // What is read by now in another way needs nobody any more.
    private static async Task<IReadOnlyList<FoundMismatch>> SetAsideAsync(NarbitContext db, string system, CancellationToken cancel)
    {
        var aside = await db
            .HookEvents.Where(e => e.SystemId == system && e.SetAsideAt != null)
            .Where(e =>
                !db.Records.Any(r => r.SystemId == system && r.Kind == e.Kind && r.Key == e.RecordKey && r.ChangedAt > e.ReceivedAt)
            )
            .ToListAsync(cancel);
        return
        [
            .. aside
                .DistinctBy(e => (e.Kind, e.RecordKey))
                .Select(e => new FoundMismatch
                {
                    Cause = "event.setAside",
                    SystemId = system,
                    Kind = e.Kind,
                    Key = e.RecordKey,
                    Words = $"Tried {e.Tries} times in vain: {e.Fault}",
                    Since = e.ReceivedAt,
                }),
        ];
    }

    private static FoundMismatch Of(string system, RecordKind kind, string key, string? reference, string? caption, DateTimeOffset at) =>
        new()
        {
            Cause = "event.lost",
            SystemId = system,
            Kind = kind,
            Key = key,
            Reference = reference,
            Caption = caption,
            Words = "No webhook told of it; it was found when the system was read",
            Since = at,
        };
}
