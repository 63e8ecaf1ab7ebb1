using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Mismatches;
using Narbit.Data.Systems;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Mismatches;

/// <summary>
/// What is wrong with a system and its records as they were read last: it does not answer, its credential ends, values cannot be read or
/// are not there, stock is below zero, customers look alike.
/// </summary>
/// <param name="adapters">How systems are described.</param>
/// <param name="clock">The time.</param>
public sealed class SystemMismatches(AdapterSource adapters, TimeProvider clock) : IMismatchSource
{
    // So long before a credential ends somebody is told.
    private const int DaysBefore = 14;

    private readonly ConcurrentDictionary<string, string> _looked = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<(string System, RecordKind Kind), LookedAt> _kinds = new();

    /// <inheritdoc/>
    public string Family => "system:";

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string>> OriginsAsync(NarbitContext db, CancellationToken cancel) =>
        await db.Systems.Select(s => s.Id).ToListAsync(cancel);

    /// <inheritdoc/>
    public Task<IReadOnlyList<string>> ConcernedAsync(NarbitContext db, LiveEvent what, CancellationToken cancel)
    {
        var over = what.Phase?.EndsWith(":reading", StringComparison.Ordinal) == false;
        IReadOnlyList<string> concerned = (what.Topic == "read" && over) || (what.Topic == "system" && what.Id.Length > 0) ? [what.Id] : [];
        return Task.FromResult(concerned);
    }

    /// <inheritdoc/>
    public async Task<Look?> LookAsync(NarbitContext db, string origin, CancellationToken cancel)
    {
        if (await db.Systems.AsNoTracking().FirstOrDefaultAsync(s => s.Id == origin, cancel) is not { } system)
            return null;
        var reads = await LatestReadsAsync(db, origin, cancel);
        // Looking through all records is dear, and nothing is otherwise as long as nothing was read.
        var ending = Ending(system);
        var state = $"{reads.Select(r => r.Id).DefaultIfEmpty().Max()} {system.PausedAt:O} {system.GrantLostWhy} {ending?.Words}";
        if (_looked.TryGetValue(origin, out var before) && before == state)
            return null;
        var found = new List<FoundMismatch>(await SilentAsync(db, system, reads, cancel));
        if (ending is not null)
            found.Add(ending);
        found.AddRange(await UnreadableAsync(db, system, cancel));
        if ((await adapters.ForAsync(origin, cancel)).ValueOrDefault is { } connection)
            foreach (var kind in connection.Adapter.Kinds)
                found.AddRange(await OfKindAsync(db, connection, kind, cancel));

        var at = reads.Select(r => r.EndedAt ?? r.StartedAt).DefaultIfEmpty(system.TestedAt ?? DateTimeOffset.UnixEpoch).Max();
        _looked[origin] = state;
        return new Look(at, found);
    }

    private sealed record LookedAt(DateTimeOffset At, int Revision, bool IsHub, IReadOnlyList<FoundMismatch> Found);

    // A kind of which no record has changed since it was looked through is as it was found then.
    private async Task<IReadOnlyList<FoundMismatch>> OfKindAsync(
        NarbitContext db,
        Connection connection,
        OfferedKind kind,
        CancellationToken cancel
    )
    {
        var (system, now) = (connection.System, clock.GetUtcNow());
        var before = _kinds.GetValueOrDefault((system.Id, kind.Kind));
        var isHub = await db.Workspaces.AnyAsync(w => w.HubId == system.Id, cancel);
        if (
            before?.Revision == system.Revision
            && before.IsHub == isHub
            && !await HasChangedAsync(db, system.Id, kind.Kind, before.At, cancel)
        )
            return before.Found;
        var found = await RecordLooks.OfAsync(db, connection, kind, isHub, cancel);
        _kinds[(system.Id, kind.Kind)] = new LookedAt(now, system.Revision, isHub, found);
        return found;
    }

    private static async Task<bool> HasChangedAsync(
        NarbitContext db,
        string system,
        RecordKind kind,
        DateTimeOffset since,
        CancellationToken cancel
    ) =>
        await db.Records.AnyAsync(r => r.ChangedAt >= since && r.SystemId == system && r.Kind == kind, cancel)
        || await db.Reads.AnyAsync(r => r.SystemId == system && r.EndedAt >= since && (r.Gone > 0 || r.Changed > 0), cancel);

    // A person has said until when it holds; a grant that was lost says so itself.
    private FoundMismatch? Ending(ConnectedSystem system)
    {
        if (system.GrantLostWhy is not null || !DateOnly.TryParseExact(system.CredentialEndsOn, "O", out var last))
            return null;
        var days = last.DayNumber - DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime).DayNumber;
        return days switch
        {
            > DaysBefore => null,
            < 0 => Whole(system, "system.secret", $"What lets Narbit in ended on {last:O}"),
            0 => Whole(system, "system.secret", "What lets Narbit in ends today"),
            _ => Whole(system, "system.secret", $"What lets Narbit in ends on {last:O}; ask for another and enter it in time"),
        };
    }

    // The newest reading of each kind that is over.
    private static async Task<List<MirrorRead>> LatestReadsAsync(NarbitContext db, string system, CancellationToken cancel)
    {
        var newest = db
            .Reads.Where(r => r.SystemId == system && r.State != ReadState.Reading)
            .GroupBy(r => r.Kind)
            .Select(g => g.Max(r => r.Id));
        return await db.Reads.AsNoTracking().Where(r => newest.Contains(r.Id)).ToListAsync(cancel);
    }

    private static async Task<IEnumerable<FoundMismatch>> SilentAsync(
        NarbitContext db,
        ConnectedSystem system,
        List<MirrorRead> reads,
        CancellationToken cancel
    )
    {
        if (system.GrantLostWhy is { } lost)
            return [Whole(system, "system.secret", lost)];
        if (system.PausedAt is not null || reads.Count == 0 || reads.MaxBy(r => r.Id) is not { State: ReadState.Failed } failed)
            return [];
        // Since the first failure after it answered last.
        var answered = await db
            .Reads.Where(r => r.SystemId == system.Id && r.State == ReadState.Done)
            .MaxAsync(r => (DateTimeOffset?)r.StartedAt, cancel);
        var since = await db
            .Reads.Where(r => r.SystemId == system.Id && r.State == ReadState.Failed && (answered == null || r.StartedAt > answered))
            .MinAsync(r => (DateTimeOffset?)r.StartedAt, cancel);
        return [Whole(system, "system.silent", failed.Message ?? $"{system.Name} did not answer") with { Since = since }];
    }

    private static async Task<IEnumerable<FoundMismatch>> UnreadableAsync(
        NarbitContext db,
        ConnectedSystem system,
        CancellationToken cancel
    )
    {
        var troubled = await db
            .Records.Where(r => r.SystemId == system.Id && r.GoneAt == null && r.Problems != null)
            .Select(r => new
            {
                r.Kind,
                r.Key,
                r.Reference,
                r.Caption,
                r.Problems,
                r.ChangedAt,
            })
            .ToListAsync(cancel);
        return troubled.Select(r =>
        {
            var problems = StoredRecord.Problems(r.Problems);
            return Record(system, "read.unreadable", r.Kind, r.Key, string.Join("; ", problems.Select(p => p.Message))) with
            {
                Reference = r.Reference,
                Caption = r.Caption,
                Subject = problems.Count > 0 ? problems[0].Field : null,
                Since = r.ChangedAt,
            };
        });
    }

    private static FoundMismatch Whole(ConnectedSystem system, string cause, string words) =>
        new()
        {
            Cause = cause,
            SystemId = system.Id,
            Scope = system.Id,
            Caption = system.Name,
            Words = words,
        };

    internal static FoundMismatch Record(ConnectedSystem system, string cause, RecordKind kind, string key, string words) =>
        new()
        {
            Cause = cause,
            SystemId = system.Id,
            Kind = kind,
            Key = key,
            Words = words,
        };
}
