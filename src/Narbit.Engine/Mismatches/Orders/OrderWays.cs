using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Mapping;
using Narbit.Core.Mismatches;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Mismatches.WaysOut;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Mismatches.Orders;

/// <summary>What gets orders past what they are held for, as far as it can be told from the hub's records and the lane's rule.</summary>
/// <param name="db">Where records are.</param>
/// <param name="adapters">How systems are described.</param>
internal sealed class OrderWays(NarbitContext db, AdapterSource adapters)
{
    private const double OfSameName = 0.9;
    private const double OfSameNames = 0.5;
    private const double OfSameMail = 0.4;
    private const double OfMethod = 0.65;
    private const double OfHubsRate = 0.85;
    private const double OfDifference = 0.8;
    private const double OfAddress = 0.4;
    private const double OfAlike = 0.7;

    /// <summary>A difference between lines and total, or an address that is not whole: there is one way.</summary>
    public static Suggestion? Plain(string cause) =>
        cause switch
        {
            "order.totals" => new Suggestion(
                "difference",
                "Make up for the difference by a line of its own",
                "lines and total are the store's own",
                OfDifference
            ),
            "order.outsideZone" or "order.noAddress" => new Suggestion("address", "Send it where it says", null, OfAddress),
            _ => null,
        };

    /// <summary>The item that an unknown SKU most likely is.</summary>
    public async Task<IEnumerable<Suggested>> ItemsAsync(string hub, IReadOnlyList<Mismatch> some, CancellationToken cancel)
    {
        var items = await db
            .Records.Where(r => r.SystemId == hub && r.Kind == RecordKind.Item && r.GoneAt == null)
            .Select(r => new KnownItem(r.Key, r.Reference, r.Caption))
            .ToListAsync(cancel);
        var likely = new LikelyItems(items);
        var wait = some.GroupBy(m => m.Subject ?? "", StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.Count());
        var known = new Dictionary<(string?, string?), LikelyItem?>();
        return some.Where(m => m.Subject is not null)
            .Select(m =>
            {
                if (!known.TryGetValue((m.Subject, m.Hint), out var item))
                    known[(m.Subject, m.Hint)] = item = likely.Of(m.Subject, m.Hint);
                return (Mismatch: m, Item: item);
            })
            .Where(f => f.Item is not null)
            .Select(f => new Suggested(f.Mismatch, Item(f.Mismatch, f.Item!, wait[f.Mismatch.Subject!])));
    }

    private static Suggestion Item(Mismatch mismatch, LikelyItem item, int waiting) =>
        new(
            "item",
            $"{mismatch.Subject} is {item.Item.Sku ?? item.Item.Key}, {item.Item.Title}",
            item.Why,
            item.Confidence,
            item.Item.Key,
            Learns: true
        )
        {
            Effect = $"for every order of the lane; {(waiting == 1 ? "1 of these here waits" : $"{waiting:N0} of these here wait")} for it",
        };

    private sealed record Customer(string Key, string? Name, string? Email);

    /// <summary>Which of several customers with the buyer's mail address the buyer is, by the name.</summary>
    public async Task<IEnumerable<Suggested>> BuyersAsync(string hub, IReadOnlyList<Mismatch> some, CancellationToken cancel)
    {
        var fields = await FieldsAsync(hub, RecordKind.Customer, cancel);
        if (fields?.Find(FieldRole.Email) is not { } mail)
            return [];
        var path = $"$.\"{mail.Name}\"";
        var wanted = some.Select(m => m.Subject?.Trim()).OfType<string>().ToHashSet(StringComparer.OrdinalIgnoreCase);
        var all = await db
            .Records.Where(r => r.SystemId == hub && r.Kind == RecordKind.Customer && r.GoneAt == null)
            .Select(r => new Customer(r.Key, r.Caption, NarbitContext.Json(r.Values, path)))
            .ToListAsync(cancel);
        var byMail = all.Where(c => c.Email is not null && wanted.Contains(c.Email.Trim()))
            .OrderBy(c => c.Key, StringComparer.Ordinal)
            .ToLookup(c => c.Email!.Trim(), StringComparer.OrdinalIgnoreCase);
        return from m in some let way = Buyer(m, [.. byMail[m.Subject?.Trim() ?? ""]]) where way is not null select new Suggested(m, way);
    }

    private static Suggestion? Buyer(Mismatch mismatch, List<Customer> candidates)
    {
        if (candidates.Count == 0)
            return null;
        var named = candidates.FindAll(c => string.Equals(c.Name, mismatch.Caption, StringComparison.OrdinalIgnoreCase));
        var (chosen, why, confidence) = named.Count switch
        {
            1 => (named[0], "mail address and name are the same", OfSameName),
            > 1 => (named[0], $"mail address and name are those of {named.Count} customers; this one was there first", OfSameNames),
            _ => (candidates[0], $"the mail address is that of {candidates.Count} customers; this one was there first", OfSameMail),
        };
        return new Suggestion("customer", $"The buyer is {chosen.Key}, {chosen.Name}", why, confidence, chosen.Key);
    }

    /// <summary>That a customer of the hub stands for another one who looks alike, in all orders from now on.</summary>
    public static Suggestion Alike(Mismatch mismatch) =>
        new(
            "sameCustomer",
            $"Take {mismatch.Key} for {mismatch.Proposal} in orders from now on",
            mismatch.Words,
            OfAlike,
            mismatch.Proposal,
            Learns: true
        )
        {
            Effect = "in every lane of orders to the hub; both stay there as they are",
        };

    /// <summary>The hub's payment type or shipping code of the most similar name.</summary>
    public async Task<IEnumerable<Suggested>> MethodsAsync(OpenLane lane, IReadOnlyList<Mismatch> some, CancellationToken cancel)
    {
        var found = new List<Suggested>();
        if (lane.Document is not OrderPolicy { Rule: var rule })
            return found;
        foreach (var cause in some.GroupBy(m => m.Cause, StringComparer.Ordinal))
        {
            var pays = cause.Key == "order.paymentMethod";
            var table = pays ? rule.Methods : rule.ShippingMethods;
            var kinds = pays ? RecordKind.Payment : RecordKind.Order;
            List<string> codes = [.. table.Values.Union(await CodesAsync(lane.Target.System.Id, kinds, cancel), StringComparer.Ordinal)];
            foreach (var method in cause.Where(m => m.Subject is not null).GroupBy(m => m.Subject!, StringComparer.Ordinal))
                if (Method(method.Key, table, codes) is var (code, why))
                    found.AddRange(method.Select(m => new Suggested(m, Of(m, pays, code, why, method.Count()))));
        }

        return found;
    }

    // A method that is called like one of the table is most likely the same at the hub.
    private static (string Code, string Why)? Method(string method, IReadOnlyDictionary<string, string> table, List<string> codes) =>
        CrosswalkTable.Suggest(method, table.Keys) is var (like, how) ? (table[like], $"{how} as in “{like}”, which is {table[like]}")
        : CrosswalkTable.Suggest(method, codes) is var (code, why) ? (code, why)
        : null;

    private static Suggestion Of(Mismatch mismatch, bool pays, string code, string why, int waiting) =>
        new(pays ? "paymentMethod" : "shippingMethod", $"{mismatch.Subject} is {code} at the hub", why, OfMethod, code, Learns: true)
        {
            Effect = $"for every order of the lane; {(waiting == 1 ? "1 of these here waits" : $"{waiting:N0} of these here wait")} for it",
        };

    private async Task<List<string>> CodesAsync(string hub, RecordKind kind, CancellationToken cancel)
    {
        if ((await FieldsAsync(hub, kind, cancel))?.Find(FieldRole.Method) is not { } field)
            return [];
        return [.. await Data.Mirror.ValueCounts.DistinctAsync(db, hub, kind, field.Name, cancel)];
    }

    /// <summary>The tax rate that the hub has of the item of the line.</summary>
    public async Task<IEnumerable<Suggested>> RatesAsync(string hub, IReadOnlyList<Mismatch> some, CancellationToken cancel)
    {
        if ((await FieldsAsync(hub, RecordKind.Item, cancel))?.Find(FieldRole.TaxRate) is not { } rate)
            return [];
        var path = $"$.\"{rate.Name}\"";
        var skus = some.Select(m => m.Subject).OfType<string>().Distinct(StringComparer.Ordinal).ToList();
        var rates = await db
            .Records.Where(r => r.SystemId == hub && r.Kind == RecordKind.Item && r.GoneAt == null && skus.Contains(r.Reference!))
            .Select(r => new { Sku = r.Reference!, Rate = NarbitContext.Number(r.Values, path) })
            .Where(r => r.Rate != null)
            .ToListAsync(cancel);
        var known = rates.GroupBy(r => r.Sku, StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.First().Rate!.Value);
        return some.Where(m => m.Subject is not null && known.ContainsKey(m.Subject))
            .Select(m => new Suggested(m, Rate(known[m.Subject!], m.Subject!)));
    }

    private static Suggestion Rate(double rate, string sku)
    {
        var percent = ((decimal)rate).ToString("0.####", CultureInfo.InvariantCulture);
        return new Suggestion("taxRate", $"Its tax rate is {percent} %", $"as the hub has it of {sku}", OfHubsRate, percent);
    }

    private async Task<FieldSet?> FieldsAsync(string system, RecordKind kind, CancellationToken cancel) =>
        (await adapters.ForAsync(system, cancel)).ValueOrDefault?.Adapter.Kinds.FirstOrDefault(k => k.Kind == kind)?.Fields;
}
