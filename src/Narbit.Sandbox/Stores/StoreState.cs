namespace Narbit.Sandbox.Stores;

/// <summary>What a store knows. All access goes through its lock; edits are kept in a journal.</summary>
public sealed class StoreState : IDisposable
{
    /// <summary>The number in a listing's key, after two letters; 0 where there is none.</summary>
    public static int NumberOf(Listing listing) =>
        listing.Id.Length > 2 && int.TryParse(listing.Id.AsSpan(2), System.Globalization.CultureInfo.InvariantCulture, out var number)
            ? number
            : 0;

    private readonly Lock _gate = new();
    private readonly List<Listing> _listings;
    private readonly Dictionary<string, Listing> _byId;
    private readonly Dictionary<string, EditResult> _seenKeys = new(StringComparer.Ordinal);
    private readonly List<ListingEdit> _applied = [];
    private readonly Journal<ListingEdit> _journal;
    private readonly TimeProvider _clock;

    private readonly StoreWays _ways;
    private readonly Dictionary<string, string> _groups = new(StringComparer.Ordinal);

    public StoreState(IReadOnlyList<Listing> listings, string? journalPath, TimeProvider clock, StoreWays ways)
    {
        _ways = ways;
        _listings = [.. listings];
        _clock = clock;
        _byId = listings.ToDictionary(l => l.Id, StringComparer.Ordinal);
        _journal = new Journal<ListingEdit>(journalPath);
        foreach (var edit in _journal.Replay())
            Apply(edit);
    }

    /// <summary>Every write by a program that took effect, oldest first.</summary>
    public IReadOnlyList<ListingEdit> Applied
    {
        get
        {
            lock (_gate)
                return [.. _applied];
        }
    }

    /// <summary>Raised after something changed, outside the lock.</summary>
    public event Action? Changed;

    public T Read<T>(int from, int most, DateTimeOffset? since, Func<IReadOnlyList<Listing>, int, T> write)
    {
        lock (_gate)
        {
            var matching = since is { } s ? [.. _listings.Where(l => l.ChangedAt >= s)] : _listings;
            return write([.. matching.Skip(from).Take(most)], matching.Count);
        }
    }

    public T Find<T>(IReadOnlyCollection<string> ids, Func<IReadOnlyList<Listing>, T> write)
    {
        lock (_gate)
            return write([.. ids.Where(_byId.ContainsKey).Select(id => _byId[id])]);
    }

    public IReadOnlyList<Listing> Search(string text, int most)
    {
        lock (_gate)
            return
            [
                .. _listings
                    .Where(l =>
                        l.Published
                        && (
                            l.Title.Contains(text, StringComparison.OrdinalIgnoreCase)
                            || l.Sku.Contains(text, StringComparison.OrdinalIgnoreCase)
                        )
                    )
                    .Take(most),
            ];
    }

    /// <summary>Applies edits; a key seen before is answered as it was the first time and changes nothing.</summary>
    public IReadOnlyList<EditResult> Edit(IReadOnlyList<ListingEdit> edits)
    {
        EditResult[] results;
        lock (_gate)
            results = [.. edits.Select(EditOne)];
        if (results.Any(r => r.Refusal is null))
            Changed?.Invoke();
        return results;
    }

    public string? Buy(string id, int quantity)
    {
        lock (_gate)
        {
            if (!_byId.TryGetValue(id, out var listing))
                return "This is no longer sold.";
            if (quantity < 1 || listing.Quantity < quantity)
                return $"Only {listing.Quantity} left.";
            var edit = new ListingEdit
            {
                Id = id,
                At = _clock.GetUtcNow(),
                Bought = quantity,
            };
            Apply(edit);
            _journal.Add(edit);
        }

        Changed?.Invoke();
        return null;
    }

    public void Dispose() => _journal.Dispose();

    private EditResult EditOne(ListingEdit edit)
    {
        if (edit.Key is { } key && _seenKeys.TryGetValue(key, out var earlier))
            return earlier;
        if (Refusal(edit) is { } refusal)
            return new EditResult(edit.Id, refusal);
        var stamped = edit with
        {
            At = _clock.GetUtcNow(),
            Id = edit.New is null || edit.Id.Length > 0 ? edit.Id : _ways.FirstId(_listings),
        };
        Apply(stamped);
        _journal.Add(stamped);
        return new EditResult(stamped.Id, null, edit.Key);
    }

    private string? Refusal(ListingEdit edit)
    {
        if (edit.New is null && !_byId.ContainsKey(edit.Id))
            return $"There is no listing {edit.Id}.";
        var listing = _byId.GetValueOrDefault(edit.Id);
        var would = new Listing
        {
            Id = edit.Id,
            Title = listing?.Title ?? "",
            Category = listing?.Category ?? "",
            TaxClass = listing?.TaxClass ?? "",
            Image = listing?.Image ?? "",
            Sku = listing?.Sku ?? "",
        };
        Take(would, edit);
        if (
            (edit.New is not null || edit.Content is not null || edit.TaxClass is not null)
            && !edit.Ended
            && _ways.Check(would) is { } unfit
        )
            return unfit;
        if (edit.Price is < 0 or > 999_999.99m || edit.GroupPrices?.Values.Any(p => p is < 0 or > 999_999.99m) == true)
            return "A price must be from 0 to 999,999.99.";
        if (edit.Quantity is < 0)
            return "A quantity cannot be negative.";
        return edit.Quantity > listing?.ShowsAtMost ? $"At most {listing.ShowsAtMost} may be shown." : null;
    }

    private void Apply(ListingEdit edit)
    {
        if (edit.New is { } made && !_byId.ContainsKey(edit.Id))
            Make(edit, made);
        if (!_byId.TryGetValue(edit.Id, out var listing))
            return;
        if (edit.Ended)
        {
            _listings.Remove(listing);
            _byId.Remove(edit.Id);
        }

        Take(listing, edit);
        if (edit.Bought is { } bought)
            listing.Quantity -= bought;
        listing.ChangedAt = edit.At;
        if (edit.Key is not { } key)
            return;
        _seenKeys[key] = new EditResult(edit.Id, null, key);
        _applied.Add(edit);
    }

    private void Make(ListingEdit edit, NewListing made)
    {
        var listing = new Listing
        {
            Id = edit.Id,
            Title = "",
            Published = false,
            ShowsAtMost = _listings.Select(l => l.ShowsAtMost).FirstOrDefault(),
        };
        if (made.Group is { Length: > 0 } group)
        {
            // Sisters that were sent under the same group belong together.
            if (!_groups.TryGetValue(group, out var parent))
                _groups[group] = parent = _listings.Exists(l => l.Parent == group) ? group : $"F-{edit.Id}";
            listing.Parent = parent;
        }

        _listings.Add(listing);
        _byId[listing.Id] = listing;
    }

    private static void Take(Listing listing, ListingEdit edit)
    {
        if (edit.Price is { } price)
            listing.Price = price;
        foreach (var (group, amount) in edit.GroupPrices ?? new Dictionary<string, decimal>())
            listing.GroupPrices[group] = amount;
        if (edit.Quantity is { } quantity)
            listing.Quantity = quantity;
        if (edit.Sku is { } sku)
            listing.Sku = sku;
        if (edit.Barcode is { } barcode)
            listing.Barcode = barcode;
        if (edit.TaxClass is { } tax)
            listing.TaxClass = tax;
        if (edit.Content is not { } content)
            return;
        listing.Title = content.Title ?? listing.Title;
        listing.Option = content.Option ?? listing.Option;
        listing.Category = content.Category ?? listing.Category;
        listing.Brand = content.Brand ?? listing.Brand;
        listing.Description = content.Description ?? listing.Description;
        listing.Image = content.Image ?? listing.Image;
        listing.Published = content.Published ?? listing.Published;
    }
}
