using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Mapping;
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
        {
            found.AddRange(await BelowZeroAsync(db, connection, cancel));
            found.AddRange(await EmptyAsync(db, connection, cancel));
            found.AddRange(await PicturesAsync(db, connection, cancel));
            if (await db.Workspaces.AnyAsync(w => w.HubId == origin, cancel))
                found.AddRange(await AlikeAsync(db, connection, cancel));
        }

        var at = reads.Select(r => r.EndedAt ?? r.StartedAt).DefaultIfEmpty(system.TestedAt ?? DateTimeOffset.UnixEpoch).Max();
        _looked[origin] = state;
        return new Look(at, found);
    }

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

    private static async Task<IEnumerable<FoundMismatch>> BelowZeroAsync(NarbitContext db, Connection connection, CancellationToken cancel)
    {
        var found = new List<FoundMismatch>();
        foreach (var kind in connection.Adapter.Kinds.Where(k => k.Kind is RecordKind.Item or RecordKind.StockLevel))
        {
            if (kind.Fields.Find(FieldRole.OnHand) is not { } field)
                continue;
            var path = $"$.\"{field.Name}\"";
            var below = await db
                .Records.Where(r =>
                    r.SystemId == connection.System.Id
                    && r.Kind == kind.Kind
                    && r.GoneAt == null
                    && NarbitContext.Number(r.Values, path) < 0
                )
                .Select(r => new
                {
                    r.Key,
                    r.Parent,
                    r.Reference,
                    r.Caption,
                    r.ChangedAt,
                    Pieces = NarbitContext.Number(r.Values, path),
                })
                .ToListAsync(cancel);
            found.AddRange(
                below.Select(r =>
                    Record(connection.System, "stock.belowZero", kind.Kind, r.Key, $"{r.Pieces:#,0.##} pieces on hand") with
                    {
                        Reference = r.Reference ?? r.Parent,
                        Caption = r.Caption,
                        Pieces = -(decimal)r.Pieces!.Value,
                        Since = r.ChangedAt,
                    }
                )
            );
        }

        return found;
    }

    // What the readiness check asks for itself is left to it.
    private static async Task<IEnumerable<FoundMismatch>> EmptyAsync(NarbitContext db, Connection connection, CancellationToken cancel)
    {
        var found = new List<FoundMismatch>();
        foreach (var kind in connection.Adapter.Kinds)
        foreach (var field in kind.Fields.Fields.Where(f => f is { Required: true, Role: not (FieldRole.Sku or FieldRole.Key) }))
        {
            var path = $"$.\"{field.Name}\"";
            var empty = await db
                .Records.Where(r =>
                    r.SystemId == connection.System.Id
                    && r.Kind == kind.Kind
                    && r.GoneAt == null
                    && (NarbitContext.Json(r.Values, path) ?? "") == ""
                )
                .Select(r => new
                {
                    r.Key,
                    r.Reference,
                    r.Caption,
                    r.ChangedAt,
                    r.Problems,
                })
                .ToListAsync(cancel);
            // One that cannot be read is not empty, and told of as such.
            found.AddRange(
                empty
                    .Where(r => !StoredRecord.Problems(r.Problems).Any(p => p.Field == field.Name))
                    .Select(r =>
                        Record(connection.System, "read.requiredEmpty", kind.Kind, r.Key, $"no {field.Label.ToLowerInvariant()}") with
                        {
                            Scope = field.Name,
                            Reference = r.Reference,
                            Caption = r.Caption,
                            Subject = field.Name,
                            Since = r.ChangedAt,
                        }
                    )
            );
        }

        return found;
    }

    // Addresses of pictures are looked at and never visited.
    private static async Task<IEnumerable<FoundMismatch>> PicturesAsync(NarbitContext db, Connection connection, CancellationToken cancel)
    {
        var found = new List<FoundMismatch>();
        var fields = connection.Adapter.Kinds.FirstOrDefault(k => k.Kind == RecordKind.Item)?.Fields.Fields ?? [];
        foreach (var field in fields.Where(f => f.Role is FieldRole.Image or FieldRole.MoreImages))
        {
            var path = $"$.\"{field.Name}\"";
            var pictures = await db
                .Records.Where(r => r.SystemId == connection.System.Id && r.Kind == RecordKind.Item && r.GoneAt == null)
                .Select(r => new
                {
                    r.Key,
                    r.Reference,
                    r.Caption,
                    r.ChangedAt,
                    Addresses = NarbitContext.Json(r.Values, path),
                })
                .Where(r => r.Addresses != null)
                .ToListAsync(cancel);
            found.AddRange(
                from r in pictures
                let fault = MapValue.ReadList(r.Addresses!).Select(ImageAddress.FaultOfPart).FirstOrDefault(f => f is not null)
                where fault is not null
                select Record(connection.System, "read.picture", RecordKind.Item, r.Key, fault) with
                {
                    Scope = field.Name,
                    Reference = r.Reference,
                    Caption = r.Caption,
                    Subject = field.Name,
                    Since = r.ChangedAt,
                }
            );
        }

        return found;
    }

    // Customers of the hub who share a mail address, or a name and a telephone number.
    private static async Task<IEnumerable<FoundMismatch>> AlikeAsync(NarbitContext db, Connection hub, CancellationToken cancel)
    {
        if (hub.Adapter.Kinds.FirstOrDefault(k => k.Kind == RecordKind.Customer)?.Fields is not { } fields)
            return [];
        var (email, phone) = (Path(fields, FieldRole.Email), Path(fields, FieldRole.Phone));
        var customers = await db
            .Records.Where(r => r.SystemId == hub.System.Id && r.Kind == RecordKind.Customer && r.GoneAt == null)
            .Select(r => new Known(r.Key, r.Reference, r.Caption, NarbitContext.Json(r.Values, email), NarbitContext.Json(r.Values, phone)))
            .ToListAsync(cancel);
        return Alike(hub.System, customers.Where(c => !string.IsNullOrEmpty(c.Email)), c => c.Email!.Trim(), "mail address")
            .Concat(
                Alike(
                    hub.System,
                    customers.Where(c => !string.IsNullOrEmpty(c.Phone) && c.Caption is not null),
                    c => $"{c.Phone} {c.Caption}",
                    "name and telephone number"
                )
            );
    }

    private sealed record Known(string Key, string? Reference, string? Caption, string? Email, string? Phone);

    private static string Path(FieldSet fields, FieldRole role) => $"$.\"{fields.Find(role)?.Name}\"";

    // The one that was there first is the one that the others are like.
    private static IEnumerable<FoundMismatch> Alike(
        ConnectedSystem hub,
        IEnumerable<Known> customers,
        Func<Known, string> shared,
        string called
    )
    {
        foreach (var same in customers.GroupBy(shared, StringComparer.OrdinalIgnoreCase))
        {
            var sorted = same.OrderBy(c => c.Key, StringComparer.Ordinal).ToList();
            foreach (var other in sorted.Skip(1))
                yield return Record(hub, "customer.alike", RecordKind.Customer, other.Key, $"{sorted[0].Key} has the same {called}") with
                {
                    Reference = other.Reference,
                    Caption = other.Caption,
                    OtherSystemId = hub.Id,
                    OtherKey = sorted[0].Key,
                    Proposal = sorted[0].Key,
                };
        }
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

    private static FoundMismatch Record(ConnectedSystem system, string cause, RecordKind kind, string key, string words) =>
        new()
        {
            Cause = cause,
            SystemId = system.Id,
            Kind = kind,
            Key = key,
            Words = words,
        };
}
