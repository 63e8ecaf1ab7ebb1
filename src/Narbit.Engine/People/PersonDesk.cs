using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.People;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.People;
using Narbit.Data.Runs;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.People;

/// <summary>
/// One person's data: collected, and anonymised. What was bought and paid stays; names, addresses, mail addresses and telephone numbers go,
/// from the mirror with its raw records, from runs with their traces, and from the history. The systems themselves are not written.
/// </summary>
public sealed class PersonDesk(Database database, AdapterSource adapters, TimeProvider clock)
{
    private const int AtOnce = 200;

    // Shorter texts stand in too many others.
    private const int ShortestText = 6;
    private static readonly RecordKind[] About = [RecordKind.Customer, RecordKind.Order];
    private static readonly FieldRole[] KnownBy = [FieldRole.Email, FieldRole.Account, FieldRole.Phone];

    /// <summary>All that is kept of a person.</summary>
    /// <param name="who">A mail address, a customer number or a telephone number.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<PersonData> CollectAsync(string who, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var records = await FindAsync(db, who, cancel);
        var writes = new Dictionary<long, PersonWrite>();
        foreach (var of in records.GroupBy(r => (r.SystemId, r.Kind)))
        foreach (var some in of.Select(r => r.Key).Chunk(AtOnce))
        foreach (
            var write in await WritesOf(db, of.Key.SystemId, of.Key.Kind, some).Include(w => w.Fields).AsNoTracking().ToListAsync(cancel)
        )
            writes.TryAdd(
                write.Id,
                new PersonWrite(
                    write.RunId,
                    write.Record,
                    write.TargetKey,
                    write.SentAt,
                    write.Fields.ToDictionary(f => f.Field, f => f.New)
                )
            );
        return new PersonData(
            who,
            [
                .. records.Select(r => new PersonRecord(
                    r.SystemId,
                    r.Kind,
                    r.Key,
                    JsonSerializer.Deserialize<JsonElement>(r.Raw),
                    r.FirstReadAt
                )),
            ],
            [.. writes.Values]
        );
    }

    /// <summary>Anonymises a person.</summary>
    /// <param name="who">A mail address, a customer number or a telephone number.</param>
    /// <param name="cancel">Gives up between two records.</param>
    public async Task<Anonymised> AnonymiseAsync(string who, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return await AnonymiseAsync(db, await FindAsync(db, who, cancel), cancel);
    }

    /// <summary>Anonymises the orders that were placed before an instant, and what changed since it was anonymised.</summary>
    public async Task<Anonymised> AnonymiseOldAsync(DateTimeOffset before, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var old = await (
            from o in db.OrderStandings
            join l in db.Lanes.IgnoreQueryFilters() on o.LaneId equals l.Id
            // An order that could not be read has no such instant.
            where o.PlacedAt < before && o.PlacedAt > DateTimeOffset.UnixEpoch && o.Buyer != Anonymity.Mark
            select new { l.SourceId, o.SourceKey }
        ).ToListAsync(cancel);
        var rows = new List<MirrorRecord>();
        foreach (var system in old.GroupBy(o => o.SourceId))
        foreach (var keys in system.Select(o => o.SourceKey).Distinct().Chunk(AtOnce))
            rows.AddRange(
                await db
                    .Records.Where(r => r.SystemId == system.Key && r.Kind == RecordKind.Order && keys.Contains(r.Key))
                    .ToListAsync(cancel)
            );
        rows.AddRange(await db.Records.Where(r => r.AnonymisedAt != null && r.ChangedAt > r.AnonymisedAt).ToListAsync(cancel));
        return await AnonymiseAsync(db, await WithDocumentsAsync(db, rows, cancel), cancel);
    }

    private async Task<List<MirrorRecord>> FindAsync(NarbitContext db, string who, CancellationToken cancel)
    {
        var sought = who.Trim();
        if (sought.Length == 0)
            return [];
        var near = $"%{Escaped(sought)}%";
        // The text is met anywhere first, which the database does fast; then it is looked at what it means there.
        var met = await db.Records.Where(r => About.Contains(r.Kind) && EF.Functions.Like(r.Values, near, "\\")).ToListAsync(cancel);
        var theirs = new List<MirrorRecord>();
        foreach (var row in met)
            if (await FieldsAsync(row.SystemId, row.Kind, cancel) is { } fields && IsAbout(fields, row, sought))
                theirs.Add(row);
        return await WithDocumentsAsync(db, theirs, cancel);
    }

    // As it stands in the values, which are JSON; what has a meaning in a search has none here.
    private static string Escaped(string text) =>
        JsonSerializer
            .Serialize(text, RuleJson.Options)[1..^1]
            .Replace("\\", "\\\\", StringComparison.Ordinal)
            .Replace("%", "\\%", StringComparison.Ordinal)
            .Replace("_", "\\_", StringComparison.Ordinal);

    private static bool IsAbout(FieldSet fields, MirrorRecord row, string who)
    {
        var values = StoredRecord.Values(row.Values);
        return KnownBy.Any(role => string.Equals(fields.Text(values, role)?.Trim(), who, StringComparison.OrdinalIgnoreCase));
    }

    // What an order became at the hub has the same buyer's address.
    private static async Task<List<MirrorRecord>> WithDocumentsAsync(NarbitContext db, List<MirrorRecord> rows, CancellationToken cancel)
    {
        var all = rows.ToDictionary(r => r.Id);
        foreach (var system in rows.Where(r => r.Kind == RecordKind.Order).GroupBy(r => r.SystemId))
        foreach (var keys in system.Select(r => r.Key).Chunk(AtOnce))
        {
            var documents =
                from made in db.Counterparts
                where made.Kind == RecordKind.Order && made.SourceId == system.Key && keys.Contains(made.SourceKey)
                join r in db.Records
                    on new
                    {
                        S = made.TargetId,
                        K = made.TargetKey,
                        D = RecordKind.Order,
                    } equals new
                    {
                        S = r.SystemId,
                        K = r.Key,
                        D = r.Kind,
                    }
                select r;
            foreach (var row in await documents.ToListAsync(cancel))
                all.TryAdd(row.Id, row);
        }

        return [.. all.Values];
    }

    private async Task<Anonymised> AnonymiseAsync(NarbitContext db, List<MirrorRecord> rows, CancellationToken cancel)
    {
        var writes = 0;
        var told = new HashSet<string>(StringComparer.Ordinal);
        foreach (var row in rows)
        {
            if (await FieldsAsync(row.SystemId, row.Kind, cancel) is not { } fields)
                continue;
            told.UnionWith(Telling(row, fields));
            await using var transaction = await db.Database.BeginTransactionAsync(cancel);
            Mask(row, fields);
            writes += await MaskWritesAsync(db, row, fields, cancel);
            await db.SaveChangesAsync(cancel);
            // The database notes what changed in a record, and so what it was; this comes after it.
            await MaskPastAsync(db, row, fields, cancel);
            await transaction.CommitAsync(cancel);
        }

        await WipeAsync(told, rows, cancel);
        return new Anonymised(rows.Count, writes);
    }

    // What tells who it was may stand in keys, remarks, notices and requests too; what somebody else also has is left alone.
    private async Task WipeAsync(HashSet<string> told, List<MirrorRecord> rows, CancellationToken cancel)
    {
        if (told.Count == 0)
            return;
        var traces = new PersonTraces(database);
        var theirs = await traces.OnlyTheirsAsync(told, rows.Select(r => r.Id), cancel);
        // No two people become one: what was under a key of its own stays so.
        await traces.ReplaceAsync(theirs, $"{Anonymity.Mark}-{Guid.NewGuid():N}", cancel);
    }

    private static IEnumerable<string> Telling(MirrorRecord row, FieldSet fields)
    {
        var isCustomer = row.Kind == RecordKind.Customer;
        var own = Anonymity.TextsOf(fields, StoredRecord.Values(row.Values), isCustomer);
        return own.Concat(Anonymity.TextsOf(fields, RecordChildren.Read(row.Children)))
            .SelectMany(text => new[] { text.Trim(), text.Trim().ToLowerInvariant() })
            // As it stands in JSON, however that was written.
            .SelectMany(text =>
                new[] { text, JsonSerializer.Serialize(text)[1..^1], JsonSerializer.Serialize(text, RuleJson.Options)[1..^1] }
            )
            .Where(text => text.Length >= ShortestText && text != Anonymity.Mark);
    }

    // The hash stays, so that reading the same again does not bring the person back; what has changed since is masked anew.
    private void Mask(MirrorRecord row, FieldSet fields)
    {
        var isCustomer = row.Kind == RecordKind.Customer;
        row.Values = JsonSerializer.Serialize(Anonymity.Of(fields, StoredRecord.Values(row.Values), isCustomer), RuleJson.Options);
        row.Children = Anonymity.Of(fields, RecordChildren.Read(row.Children)).Write();
        row.Raw = JsonSerializer.Serialize(new Dictionary<string, bool> { [Anonymity.Mark] = true });
        row.Problems = null;
        row.Reference = isCustomer ? Anonymity.Mark : row.Reference;
        row.Caption = row.Caption is null ? null : Anonymity.Mark;
        var now = clock.GetUtcNow();
        (row.ChangedAt, row.AnonymisedAt) = (now, now);
    }

    // Writes of a record: it was written there, or what was written was made of it. Another system, or kind, may have the same key.
    private static IQueryable<PlannedWrite> WritesOf(NarbitContext db, string systemId, RecordKind kind, IReadOnlyCollection<string> keys)
    {
        var of = db.Lanes.IgnoreQueryFilters().Where(l => l.SourceId == systemId).Select(l => l.Id);
        var to = db.Lanes.IgnoreQueryFilters().Where(l => l.TargetId == systemId).Select(l => l.Id);
        return db.Writes.Where(w =>
            w.Record == kind
            && (
                (keys.Contains(w.SourceKey) && db.Runs.Any(r => r.Id == w.RunId && of.Contains(r.LaneId)))
                || (keys.Contains(w.TargetKey) && db.Runs.Any(r => r.Id == w.RunId && to.Contains(r.LaneId)))
            )
        );
    }

    private static async Task<int> MaskWritesAsync(NarbitContext db, MirrorRecord row, FieldSet fields, CancellationToken cancel)
    {
        var writes = await WritesOf(db, row.SystemId, row.Kind, [row.Key]).Include(w => w.Fields).ToListAsync(cancel);
        foreach (var write in writes)
        {
            write.Caption = write.Caption is null ? null : Anonymity.Mark;
            if (write.Record == RecordKind.Customer)
                write.Reference = Anonymity.Mark;
            write.Children = write.Children is null ? null : Anonymity.Of(fields, RecordChildren.Read(write.Children)).Write();
            write.ChildrenBefore = write.ChildrenBefore is null
                ? null
                : Anonymity.Of(fields, RecordChildren.Read(write.ChildrenBefore)).Write();
            foreach (var field in write.Fields.Where(f => IsTelling(fields, f.Field, write.Record)))
            {
                field.Old = field.Old is null ? null : Anonymity.Mark;
                field.New = field.New is null ? null : Anonymity.Mark;
                field.Trace = "[]";
            }
        }

        return writes.Count;
    }

    private static bool IsTelling(FieldSet fields, string name, RecordKind kind) =>
        fields.Named(name) is { } field && Anonymity.Tells(field, kind == RecordKind.Customer);

    // The history of its fields, what runs remarked, and the list of orders.
    private static async Task MaskPastAsync(NarbitContext db, MirrorRecord row, FieldSet fields, CancellationToken cancel)
    {
        var telling = fields.Fields.Where(f => Anonymity.Tells(f, row.Kind == RecordKind.Customer)).Select(f => f.Name).ToList();
        await db
            .ValueChanges.Where(v => v.SystemId == row.SystemId && v.Kind == row.Kind && v.Key == row.Key && telling.Contains(v.Field))
            .ExecuteUpdateAsync(s => s.SetProperty(v => v.Old, Anonymity.Mark).SetProperty(v => v.New, Anonymity.Mark), cancel);
        await MaskMismatchesAsync(db, row, cancel);
        if (row.Kind != RecordKind.Order)
            return;
        var lanes = db.Lanes.IgnoreQueryFilters().Where(l => l.SourceId == row.SystemId).Select(l => l.Id);
        var standings = db.OrderStandings.Where(o => o.SourceKey == row.Key && lanes.Contains(o.LaneId));
        await standings.ExecuteUpdateAsync(
            s => s.SetProperty(o => o.Buyer, Anonymity.Mark).SetProperty(o => o.Email, (string?)null).SetProperty(o => o.Fingerprint, ""),
            cancel
        );
        // A cause may be about a mail address, or speak of a name.
        await db
            .StandingCauses.Where(c => standings.Any(o => o.Id == c.StandingId))
            .ExecuteUpdateAsync(s => s.SetProperty(c => c.Subject, (string?)null).SetProperty(c => c.Values, (string?)null), cancel);
        await db
            .Remarks.Where(m => m.SourceKey == row.Key && db.Runs.Any(r => r.Id == m.RunId && lanes.Contains(r.LaneId)))
            .ExecuteUpdateAsync(s => s.SetProperty(m => m.Caption, Anonymity.Mark), cancel);
    }

    // What they are called, and by what they are alike.
    private static Task<int> MaskMismatchesAsync(NarbitContext db, MirrorRecord row, CancellationToken cancel)
    {
        var isCustomer = row.Kind == RecordKind.Customer;
        return db
            .Mismatches.Where(m => m.SystemId == row.SystemId && m.Kind == row.Kind && m.Key == row.Key)
            .ExecuteUpdateAsync(
                s =>
                    s.SetProperty(m => m.Caption, Anonymity.Mark)
                        .SetProperty(m => m.Reference, m => isCustomer ? Anonymity.Mark : m.Reference)
                        .SetProperty(m => m.Subject, (string?)null)
                        .SetProperty(m => m.Because, (string?)null),
                cancel
            );
    }

    private async Task<FieldSet?> FieldsAsync(string systemId, RecordKind kind, CancellationToken cancel) =>
        (await adapters.ForAsync(systemId, cancel)).ValueOrDefault?.Adapter.Kinds.FirstOrDefault(k => k.Kind == kind)?.Fields;
}
