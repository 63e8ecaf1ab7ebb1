using System.Globalization;

namespace Narbit.Core.Pairing;

/// <summary>Reads pair tables and kit tables.</summary>
public static class PairTable
{
    /// <summary>Finds the records that the lines speak of.</summary>
    /// <param name="lines">The lines.</param>
    /// <param name="isThisSystem">Whether a word in the system column means the system at hand.</param>
    /// <param name="hub">The hub's records with a key or SKU.</param>
    /// <param name="other">The other side's records with a SKU or key.</param>
    /// <param name="hubName">What the hub is called.</param>
    /// <param name="otherName">What the other side is called.</param>
    public static (IReadOnlyList<TablePair> Pairs, IReadOnlyList<TableFault> Faults) Resolve(
        IEnumerable<PairTableLine> lines,
        Func<string, bool> isThisSystem,
        Func<string, IReadOnlyList<string>> hub,
        Func<string, IReadOnlyList<string>> other,
        string hubName,
        string otherName
    )
    {
        var listings = new Dictionary<string, (int Line, List<KitItem> Parts)>(StringComparer.Ordinal);
        var faults = new List<TableFault>();
        foreach (var line in lines)
        {
            if (Fault(line) is { } fault)
                faults.Add(new TableFault(line.Line, fault));
        }

        return ([.. listings.Select(l => new TablePair(l.Value.Line, l.Key, l.Value.Parts))], faults);

        string? Fault(PairTableLine line)
        {
            if (string.IsNullOrWhiteSpace(line.HubKey))
                return "there is no hub key";
            if (string.IsNullOrWhiteSpace(line.Sku))
                return $"there is no SKU of {otherName}";
            if (!string.IsNullOrWhiteSpace(line.System) && !isThisSystem(line.System.Trim()))
                return $"it is for “{line.System.Trim()}”, not for {otherName}";
            var quantity = 1m;
            if (
                !string.IsNullOrWhiteSpace(line.Quantity)
                && (
                    !decimal.TryParse(line.Quantity, NumberStyles.Number, CultureInfo.InvariantCulture, out quantity)
                    || quantity <= 0
                    || quantity > 10_000
                )
            )
                return $"the quantity “{line.Quantity}” is no number above 0";
            if (One(hub(line.HubKey.Trim()), line.HubKey, hubName, out var hubKey) is { } noHub)
                return noHub;
            if (One(other(line.Sku.Trim()), line.Sku, otherName, out var otherKey) is { } noOther)
                return noOther;
            if (!listings.TryGetValue(otherKey, out var listing))
                listings[otherKey] = listing = (line.Line, []);
            if (listing.Parts.Exists(p => p.HubKey == hubKey))
                return $"{line.Sku} is paired with {line.HubKey} already on line {listing.Line}";
            listing.Parts.Add(new KitItem(hubKey, quantity));
            return null;
        }
    }

    private static string? One(IReadOnlyList<string> found, string asked, string where, out string key)
    {
        key = found.Count == 1 ? found[0] : "";
        return found.Count switch
        {
            0 => $"{where} has no record “{asked.Trim()}”",
            1 => null,
            _ => $"{where} has {found.Count} records “{asked.Trim()}”: {string.Join(", ", found.Take(4))}. Give the key instead",
        };
    }
}
