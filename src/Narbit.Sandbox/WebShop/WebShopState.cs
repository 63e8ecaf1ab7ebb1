namespace Narbit.Sandbox.WebShop;

/// <summary>What the web shop knows. All access goes through its lock.</summary>
public sealed class WebShopState : IDisposable
{
    private readonly Lock _gate = new();
    private readonly List<Product> _products;
    private readonly Dictionary<long, (Product Product, Variant Variant)> _variants;
    private readonly Dictionary<string, UpdateResult> _seenKeys = new(StringComparer.Ordinal);
    private readonly List<AppliedWrite> _applied = [];
    private readonly List<ShopOrder> _orders = [];
    private readonly HashSet<string> _breaking = new(StringComparer.Ordinal);
    private readonly Journal<ShopEdit> _journal;
    private readonly TimeProvider _clock;
    private long _lastVariant;

    public WebShopState(IReadOnlyList<Product> products, string? journalPath, TimeProvider clock)
    {
        _products = [.. products];
        _variants = products.SelectMany(p => p.Variants.Select(v => (p, v))).ToDictionary(x => x.v.Id, x => (x.p, x.v));
        _lastVariant = _variants.Keys.DefaultIfEmpty().Max();
        _clock = clock;
        _journal = new Journal<ShopEdit>(journalPath);
        foreach (var edit in _journal.Replay())
            Apply(edit);
    }

    /// <summary>Every write that took effect, oldest first.</summary>
    public IReadOnlyList<AppliedWrite> Applied
    {
        get
        {
            lock (_gate)
                return [.. _applied];
        }
    }

    public IReadOnlyList<ShopOrder> Orders
    {
        get
        {
            lock (_gate)
                return [.. _orders];
        }
    }

    /// <summary>SKUs whose update makes the whole batch answer 500.</summary>
    public IReadOnlyCollection<string> Breaking
    {
        get
        {
            lock (_gate)
                return [.. _breaking];
        }
    }

    public void Break(string sku, bool breaks)
    {
        lock (_gate)
        {
            if (breaks)
                _breaking.Add(sku);
            else
                _breaking.Remove(sku);
        }
    }

    public T Page<T>(int page, int perPage, DateTimeOffset? since, Func<IReadOnlyList<Product>, int, T> write)
    {
        lock (_gate)
        {
            var matching = since is { } s ? _products.Where(p => p.UpdatedAt >= s).ToList() : _products;
            return write([.. matching.Skip((page - 1) * perPage).Take(perPage)], matching.Count);
        }
    }

    public T Lookup<T>(IReadOnlyCollection<long> ids, Func<IReadOnlyList<(Product Product, Variant Variant)>, T> write)
    {
        lock (_gate)
            return write([.. ids.Where(_variants.ContainsKey).Select(id => _variants[id])]);
    }

    public IReadOnlyList<Product> Search(string text, int most)
    {
        lock (_gate)
        {
            return
            [
                .. _products
                    .Where(p =>
                        p.Published
                        && (
                            p.Title.Contains(text, StringComparison.OrdinalIgnoreCase)
                            || p.Variants.Any(v => v.Sku.Contains(text, StringComparison.OrdinalIgnoreCase))
                        )
                    )
                    .Take(most),
            ];
        }
    }

    public Product? Find(long id)
    {
        lock (_gate)
            return _products.FirstOrDefault(p => p.Id == id);
    }

    /// <summary>Applies a batch. A key seen before is answered as it was the first time and changes nothing.</summary>
    public (IReadOnlyList<UpdateResult> Results, string? Broken) Update(IReadOnlyList<ShopEdit> edits)
    {
        lock (_gate)
        {
            var broken = edits.FirstOrDefault(e => _variants.TryGetValue(e.VariantId, out var x) && _breaking.Contains(x.Variant.Sku));
            if (broken is not null)
                return ([], _variants[broken.VariantId].Variant.Sku);
            return ([.. edits.Select(UpdateOne)], null);
        }
    }

    /// <summary>The variant that is sold under a SKU; null: there is none.</summary>
    public long? VariantOf(string sku)
    {
        lock (_gate)
            return _variants.Where(v => v.Value.Variant.Sku == sku && sku.Length > 0).Select(v => (long?)v.Key).FirstOrDefault();
    }

    public string? Buy(long variantId, int quantity)
    {
        lock (_gate)
        {
            if (!_variants.TryGetValue(variantId, out var found))
                return "This is no longer sold.";
            if (quantity < 1 || found.Variant.Quantity < quantity)
                return $"Only {found.Variant.Quantity} left.";
            var edit = new ShopEdit
            {
                VariantId = variantId,
                At = _clock.GetUtcNow(),
                Bought = quantity,
            };
            Apply(edit);
            _journal.Add(edit);
            return null;
        }
    }

    public void SetPrice(long variantId, int priceCents) =>
        Edit(
            new ShopEdit
            {
                VariantId = variantId,
                PriceCents = priceCents,
                At = _clock.GetUtcNow(),
            }
        );

    public void Remove(long variantId) =>
        Edit(
            new ShopEdit
            {
                VariantId = variantId,
                At = _clock.GetUtcNow(),
                Removed = true,
            }
        );

    public void Dispose() => _journal.Dispose();

    private void Edit(ShopEdit edit)
    {
        lock (_gate)
        {
            if (!_variants.ContainsKey(edit.VariantId))
                return;
            Apply(edit);
            _journal.Add(edit);
        }
    }

    private void Make(ShopEdit edit, NewVariant made)
    {
        var product =
            made.ProductId is { } id ? _products.Find(p => p.Id == id)
            : string.IsNullOrEmpty(made.Handle) ? null
            : _products.Find(p => p.Handle == made.Handle);
        if (product is null)
        {
            product = new Product
            {
                Id = _products.Select(p => p.Id).DefaultIfEmpty(499).Max() + 1,
                Title = edit.Content!.Title!,
                Handle = made.Handle ?? "",
                Published = false,
            };
            _products.Add(product);
        }

        var variant = new Variant
        {
            Id = edit.VariantId,
            Sku = edit.Sku ?? "",
            Barcode = edit.Barcode ?? "",
        };
        product.Variants.Add(variant);
        _variants[variant.Id] = (product, variant);
        _lastVariant = Math.Max(_lastVariant, variant.Id);
    }

    private UpdateResult UpdateOne(ShopEdit edit)
    {
        if (edit.Key is { } key && _seenKeys.TryGetValue(key, out var earlier))
            return earlier;
        var result = Check(edit) is { } refusal
            ? new UpdateResult(edit.VariantId, "refused", refusal)
            : new UpdateResult(edit.VariantId, "ok", null);
        if (result.Status != "ok")
            return result;
        var stamped = edit with { At = _clock.GetUtcNow(), VariantId = edit.New is null ? edit.VariantId : _lastVariant + 1 };
        result = result with { Id = stamped.VariantId, Key = edit.Key };
        Apply(stamped);
        _journal.Add(stamped);
        return result;
    }

    private string? Check(ShopEdit edit)
    {
        if (edit.New is { } made)
        {
            if (string.IsNullOrWhiteSpace(edit.Content?.Title))
                return "A product needs a title.";
            if (edit.Content.WeightKg is not > 0)
                return "A variant needs a weight.";
            if (made.ProductId is { } id && _products.TrueForAll(p => p.Id != id))
                return $"Product {id} does not exist.";
        }
        else if (!_variants.ContainsKey(edit.VariantId))
        {
            return $"Variant {edit.VariantId} does not exist.";
        }

        if (edit.Content is { Title: "" })
            return "A product needs a title.";
        if (edit.Content is { WeightKg: < 0 })
            return "A weight cannot be negative.";
        if (edit.PriceCents is < 0)
            return "A price cannot be negative.";
        if (edit.PriceCents is > 99_999_999)
            return "A price cannot be above 999,999.99.";
        if (edit.Quantity is < 0)
            return "A quantity cannot be negative.";
        return null;
    }

    private void Apply(ShopEdit edit)
    {
        if (edit.New is { } made)
            Make(edit, made);
        if (!_variants.TryGetValue(edit.VariantId, out var found))
            return;
        var (product, variant) = found;
        if (edit.Content is { } content)
        {
            product.Title = content.Title ?? product.Title;
            product.BodyHtml = content.BodyHtml ?? product.BodyHtml;
            product.Category = content.Category ?? product.Category;
            product.Published = content.Published ?? product.Published;
            (variant.Option, variant.WeightKg) = (content.Option ?? variant.Option, content.WeightKg ?? variant.WeightKg);
            (product.Images, product.Related) = (content.Images?.ToList() ?? product.Images, content.Related?.ToList() ?? product.Related);
        }

        if (edit.Removed)
        {
            product.Variants.Remove(variant);
            _variants.Remove(edit.VariantId);
        }

        if (edit.PriceCents is { } price)
            variant.PriceCents = price;
        if (edit.SetsSale)
            variant.SaleCents = edit.SaleCents;
        if (edit.SetsCompareAt)
            variant.CompareAtCents = edit.CompareAtCents;
        if (edit.Quantity is { } quantity)
            variant.Quantity = quantity;
        if (edit.Sku is { } sku)
            variant.Sku = sku;
        if (edit.Barcode is { } barcode)
            variant.Barcode = barcode;
        if (edit.Bought is { } bought)
        {
            variant.Quantity -= bought;
            _orders.Add(new ShopOrder(70_001 + _orders.Count, variant.Id, bought, variant.SaleCents ?? variant.PriceCents, edit.At));
        }

        product.UpdatedAt = edit.At;
        if (edit.Key is not { } key)
            return;
        _seenKeys[key] = new UpdateResult(variant.Id, "ok", null, key);
        _applied.Add(new AppliedWrite(key, variant.Id, edit.PriceCents, edit.Quantity, edit.At));
    }
}
