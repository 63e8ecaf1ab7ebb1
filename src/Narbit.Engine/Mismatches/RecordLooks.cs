using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Mismatches;
using Narbit.Data.Systems;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Mismatches;

/// <summary>What is wrong with the records of a kind as a system has them, whoever they are paired with.</summary>
internal static class RecordLooks
{
    /// <summary>Looks through all of them.</summary>
    /// <param name="db">Where they are.</param>
    /// <param name="connection">The system.</param>
    /// <param name="kind">The kind.</param>
    /// <param name="isHub">Whether it is the hub, whose customers should be there once.</param>
    /// <param name="cancel">Gives up.</param>
    public static async Task<IReadOnlyList<FoundMismatch>> OfAsync(
        NarbitContext db,
        Connection connection,
        OfferedKind kind,
        bool isHub,
        CancellationToken cancel
    )
    {
        var found = new List<FoundMismatch>(await EmptyAsync(db, connection, kind, cancel));
        if (kind.Kind == RecordKind.Item || kind.Kind == RecordKind.StockLevel)
            found.AddRange(await BelowZeroAsync(db, connection, kind, cancel));
        if (kind.Kind == RecordKind.Item)
            found.AddRange(await PicturesAsync(db, connection, kind, cancel));
        if (isHub && kind.Kind == RecordKind.Customer)
            found.AddRange(await AlikeAsync(db, connection, kind, cancel));
        return found;
    }

    private static async Task<IEnumerable<FoundMismatch>> BelowZeroAsync(
        NarbitContext db,
        Connection connection,
        OfferedKind kind,
        CancellationToken cancel
    )
    {
        if (kind.Fields.Find(FieldRole.OnHand) is not { } field)
            return [];
        var path = $"$.\"{field.Name}\"";
        var below = await db
            .Records.Where(r =>
                r.SystemId == connection.System.Id && r.Kind == kind.Kind && r.GoneAt == null && NarbitContext.Number(r.Values, path) < 0
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
        return below.Select(r =>
            SystemMismatches.Record(connection.System, "stock.belowZero", kind.Kind, r.Key, $"{r.Pieces:#,0.##} pieces on hand") with
            {
                Reference = r.Reference ?? r.Parent,
                Caption = r.Caption,
                Pieces = -(decimal)r.Pieces!.Value,
                Since = r.ChangedAt,
            }
        );
    }

    // What the readiness check asks for itself is left to it.
    private static async Task<IEnumerable<FoundMismatch>> EmptyAsync(
        NarbitContext db,
        Connection connection,
        OfferedKind kind,
        CancellationToken cancel
    )
    {
        var found = new List<FoundMismatch>();
        foreach (var field in kind.Fields.Fields.Where(f => f is { Required: true, Role: not (FieldRole.Sku or FieldRole.Key) }))
        {
            var path = $"$.\"{field.Name}\"";
            var empty = await Rows(db, connection, kind)
                .Where(r => (NarbitContext.Json(r.Values, path) ?? "") == "")
                .Select(r => new Row(r.Key, r.Reference, r.Caption, r.ChangedAt, r.Problems))
                .ToListAsync(cancel);
            // One that cannot be read is not empty, and told of as such.
            found.AddRange(
                empty
                    .Where(r => !StoredRecord.Problems(r.Text).Any(p => p.Field == field.Name))
                    .Select(r => About(connection, kind, field, r, "read.requiredEmpty", $"no {field.Label.ToLowerInvariant()}"))
            );
        }

        return found;
    }

    // A record with what is looked at of it.
    private sealed record Row(string Key, string? Reference, string? Caption, DateTimeOffset ChangedAt, string? Text);

    private static IQueryable<MirrorRecord> Rows(NarbitContext db, Connection connection, OfferedKind kind) =>
        db.Records.Where(r => r.SystemId == connection.System.Id && r.Kind == kind.Kind && r.GoneAt == null);

    private static FoundMismatch About(
        Connection connection,
        OfferedKind kind,
        FieldDescription field,
        Row row,
        string cause,
        string words
    ) =>
        SystemMismatches.Record(connection.System, cause, kind.Kind, row.Key, words) with
        {
            Scope = field.Name,
            Reference = row.Reference,
            Caption = row.Caption,
            Subject = field.Name,
            Since = row.ChangedAt,
        };

    // Addresses of pictures are looked at and never visited.
    private static async Task<IEnumerable<FoundMismatch>> PicturesAsync(
        NarbitContext db,
        Connection connection,
        OfferedKind kind,
        CancellationToken cancel
    )
    {
        var found = new List<FoundMismatch>();
        foreach (var field in kind.Fields.Fields.Where(f => f.Role is FieldRole.Image or FieldRole.MoreImages))
        {
            var path = $"$.\"{field.Name}\"";
            var pictures = await Rows(db, connection, kind)
                .Select(r => new Row(r.Key, r.Reference, r.Caption, r.ChangedAt, NarbitContext.Json(r.Values, path)))
                .ToListAsync(cancel);
            found.AddRange(
                from r in pictures
                where r.Text is not null
                let fault = MapValue.ReadList(r.Text!).Select(ImageAddress.FaultOfPart).FirstOrDefault(f => f is not null)
                where fault is not null
                select About(connection, kind, field, r, "read.picture", fault)
            );
        }

        return found;
    }

    // Customers of the hub who share a mail address, or a name and a telephone number.
    private static async Task<IEnumerable<FoundMismatch>> AlikeAsync(
        NarbitContext db,
        Connection hub,
        OfferedKind kind,
        CancellationToken cancel
    )
    {
        var (email, phone) = (Path(kind.Fields, FieldRole.Email), Path(kind.Fields, FieldRole.Phone));
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
                yield return SystemMismatches.Record(
                    hub,
                    "customer.alike",
                    RecordKind.Customer,
                    other.Key,
                    $"{sorted[0].Key} has the same {called}"
                ) with
                {
                    Reference = other.Reference,
                    Caption = other.Caption,
                    OtherSystemId = hub.Id,
                    OtherKey = sorted[0].Key,
                    Proposal = sorted[0].Key,
                };
        }
    }
}
