using System.Globalization;

namespace Narbit.Core.Pairing;

/// <summary>A line of a pair table, as a person wrote it.</summary>
/// <param name="Line">Its line in the file.</param>
/// <param name="HubKey">The hub's key, or its SKU there.</param>
/// <param name="Sku">The other side's SKU, or its key there.</param>
/// <param name="System">The other system's short name, mark or name; empty: the one at hand.</param>
/// <param name="Quantity">How many of the item the listing stands for; empty: one.</param>
public sealed record PairTableLine(int Line, string? HubKey, string? Sku, string? System, string? Quantity);

/// <summary>An item in a kit.</summary>
/// <param name="HubKey">The item.</param>
/// <param name="Quantity">How many of it, above 0.</param>
public sealed record KitItem(string HubKey, decimal Quantity);

/// <summary>What a pair table says of one listing: a pair, or a kit where there are several items or a quantity other than one.</summary>
/// <param name="Line">Its first line.</param>
/// <param name="OtherKey">The listing.</param>
/// <param name="Parts">The items it stands for.</param>
public sealed record TablePair(int Line, string OtherKey, IReadOnlyList<KitItem> Parts)
{
    /// <summary>Whether it is a kit.</summary>
    public bool IsKit => Parts.Count > 1 || Parts[0].Quantity != 1;
}

/// <summary>A line that did not fit.</summary>
/// <param name="Line">The line.</param>
/// <param name="Message">Why, and what to do.</param>
public sealed record TableFault(int Line, string Message);

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
