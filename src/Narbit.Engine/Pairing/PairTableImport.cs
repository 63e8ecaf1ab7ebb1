using Narbit.Adapters.Files;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Pairing;

/// <summary>Takes pair tables and kit tables in, and gives them out.</summary>
/// <param name="database">Where the pairs are.</param>
/// <param name="desk">Where decisions wait.</param>
public sealed class PairTableImport(Database database, DecisionDesk desk)
{
    /// <summary>The columns of a pair table.</summary>
    public static readonly IReadOnlyList<string> Columns = ["hub_key", "sku", "system", "quantity"];

    /// <summary>What is read of a pair table.</summary>
    public static readonly TableShape Shape = new(Columns, ["hub_key", "sku"]);

    /// <summary>
    /// Takes a table in as waiting decisions: all lines, or none where one does not fit, unless only what fits is wanted.
    /// </summary>
    /// <param name="couple">The couple.</param>
    /// <param name="hub">The hub's records.</param>
    /// <param name="other">The other side's.</param>
    /// <param name="rows">The table.</param>
    /// <param name="whatFits">Whether to take what fits although other lines do not.</param>
    /// <param name="by">Who imports.</param>
    /// <param name="cancel">Gives up; nothing is taken then.</param>
    public async Task<Outcome<PairTableReport>> ImportAsync(
        Couple couple,
        PairSide hub,
        PairSide other,
        IEnumerable<Outcome<TableRow>> rows,
        bool whatFits,
        string by,
        CancellationToken cancel
    )
    {
        var table = Table.All(rows);
        if (table.Fault is { } unreadable)
            return unreadable;
        var system = other.Connection.System;
        var (pairs, faults) = PairTable.Resolve(
            table.Value.Select(r => new PairTableLine(r.Line, r.Cells[0], r.Cells[1], r.Cells[2], r.Cells[3])),
            word =>
                string.Equals(word, system.Id, StringComparison.OrdinalIgnoreCase)
                || string.Equals(word, system.Mark, StringComparison.OrdinalIgnoreCase)
                || string.Equals(word, system.Name, StringComparison.OrdinalIgnoreCase),
            hub.Keyed,
            other.Named,
            hub.Connection.System.Name,
            system.Name
        );

        var standing = await Standing.LoadAsync(database, couple.Id, cancel);
        var linked = standing.Links.ToLookup(l => l.OtherKey, StringComparer.Ordinal);
        var hubTaken = standing.Links.Where(l => !l.IsKit).ToLookup(l => l.HubKey, l => l.OtherKey, StringComparer.Ordinal);
        var (wanted, all, already) = (new List<DecisionToMake>(), faults.ToList(), 0);
        var claimed = new HashSet<string>(StringComparer.Ordinal);
        foreach (var pair in pairs)
        {
            var now = linked[pair.OtherKey]
                .Select(l => new KitItem(l.HubKey, l.Quantity))
                .OrderBy(p => p.HubKey, StringComparer.Ordinal)
                .ToList();
            if (now.Count > 0)
            {
                if (now.SequenceEqual(pair.Parts.OrderBy(p => p.HubKey, StringComparer.Ordinal)))
                    already++;
                else
                    all.Add(
                        new TableFault(
                            pair.Line,
                            $"{other.Rows[pair.OtherKey].Reference ?? pair.OtherKey} is paired with "
                                + $"{string.Join(", ", now.Select(p => p.HubKey))} already; unpair it first"
                        )
                    );
                continue;
            }

            var part = pair.Parts[0];
            wanted.Add(
                pair.IsKit
                    ? new DecisionToMake(DecisionAct.Kit, OtherKey: pair.OtherKey, Parts: pair.Parts)
                    : new DecisionToMake(
                        hubTaken.Contains(part.HubKey) || !claimed.Add(part.HubKey) ? DecisionAct.Share : DecisionAct.Accept,
                        part.HubKey,
                        pair.OtherKey
                    )
            );
        }

        all.Sort((a, b) => a.Line.CompareTo(b.Line));
        var report = new PairTableReport(table.Value.Count, pairs.Count, 0, already, all);
        if (wanted.Count == 0 || (all.Count > 0 && !whatFits))
            return report;
        var made = await desk.DecideAsync(couple.Id, wanted, by, cancel);
        return made.Fault is { } fault ? fault : report with { Taken = made.Value.Count };
    }

    /// <summary>The links in force as a table.</summary>
    public async Task<IReadOnlyList<IReadOnlyList<string?>>> ExportAsync(Couple couple, PairSide other, CancellationToken cancel)
    {
        var standing = await Standing.LoadAsync(database, couple.Id, cancel);
        return
        [
            .. standing
                .Links.OrderBy(l => l.HubKey, StringComparer.Ordinal)
                .ThenBy(l => l.OtherKey, StringComparer.Ordinal)
                // Where a SKU does not name one record, the key does.
                .Select(l =>
                    (IReadOnlyList<string?>)
                        [
                            l.HubKey,
                            other.Rows.TryGetValue(l.OtherKey, out var row)
                            && row.Reference is { } sku
                            && other.Named(sku.Trim()).Count == 1
                                ? sku
                                : l.OtherKey,
                            couple.OtherId,
                            PairSide.Plain(l.Quantity),
                        ]
                ),
        ];
    }
}
