namespace Narbit.Core.Orders;

/// <summary>A line of a document while it is reckoned, in whole units.</summary>
internal sealed class ReckonedLine
{
    public required DocumentLineKind Kind { get; init; }

    public string? Item { get; init; }

    public string? Line { get; init; }

    public long Quantity { get; init; } = 1;

    public decimal Rate { get; init; }

    /// <summary>Gross where the order's amounts are, else net.</summary>
    public long Amount { get; set; }

    public long Net { get; set; }

    public long Tax { get; set; }

    public long Gross { get; set; }
}

/// <summary>A line of the order that is left out, with its gross.</summary>
internal readonly record struct OmittedLine(string Line, int Quantity, long Gross);

/// <summary>A document with what credit notes need of it.</summary>
internal sealed record MadeDocument(
    HubDocument Document,
    IReadOnlyList<ReckonedLine> Lines,
    IReadOnlyList<OmittedLine> Omitted,
    Units Units
);

/// <summary>Makes a document of an order: steps 5 to 15.</summary>
internal sealed class OrderDocument(
    OrderRule rule,
    Order order,
    KnownToHub known,
    OrderTrace trace,
    List<OrderCause> causes,
    List<string> remarks
)
{
    private readonly Units _units = new(order.Decimals);
    private readonly List<ReckonedLine> _lines = [];
    private readonly List<ReckonedLine> _goods = [];
    private readonly List<OmittedLine> _omitted = [];

    private long GoodsAmount
    {
        get
        {
            var sum = 0L;
            foreach (var goods in _goods)
                sum += goods.Amount;
            return sum;
        }
    }

    public MadeDocument Make()
    {
        var paymentType = PaymentType();
        var codes = ShippingCodes();
        var (address, isPlaceholder, unreachable) = OrderDestination.Of(rule, order, trace);
        Note(unreachable);
        if (isPlaceholder)
            remarks.Add("placeholderAddress");
        var (customer, unknown) = OrderBuyer.Of(rule, order, known, trace);
        Note(unknown);
        Lines();
        Discounts();
        Shipping();
        Fees();
        Tax();
        Totals();
        var payments = Payments(paymentType);
        var document = new HubDocument
        {
            Number = Number(),
            As = As(),
            Customer = customer,
            ShipTo = address,
            Placeholder = isPlaceholder,
            ShippingCodes = codes,
            Payments = payments,
            Lines = _lines.ConvertAll(Shown),
            Totals = Sums(_lines, _units),
        };
        return new MadeDocument(document, _lines, _omitted, _units);
    }

    /// <summary>Sums of lines.</summary>
    public static DocumentTotals Sums(List<ReckonedLine> lines, Units units)
    {
        var (net, tax, gross) = (0L, 0L, 0L);
        foreach (var line in lines)
            (net, tax, gross) = (net + line.Net, tax + line.Tax, gross + line.Gross);
        return new DocumentTotals(units.Amount(net), units.Amount(tax), units.Amount(gross));
    }

    private void Note(OrderCause? cause)
    {
        if (cause is not null)
            causes.Add(cause);
    }

    private void Held(string code) => causes.Add(new OrderCause(code, OrderOutcome.Hold));

    private void HeldAt(string code, string line) => causes.Add(new OrderCause(code, OrderOutcome.Hold) { Line = line, NamesLine = true });

    private string? PaymentType()
    {
        var method = order.Payment.Method;
        if (string.IsNullOrWhiteSpace(method))
        {
            trace.Add("paymentMethod", null, null, "the order names none");
            return null;
        }

        var type = rule.Methods.GetValueOrDefault(method) ?? rule.OtherMethod;
        trace.Add("paymentMethod", method, type, type is null ? "no payment type is given for it" : "the hub's payment type");
        if (type is null)
            Held("paymentMethod");
        return type;
    }

    private List<string?> ShippingCodes()
    {
        var codes = new List<string?>(order.Shipping.Count);
        foreach (var shipping in order.Shipping)
        {
            var code = (shipping.Method is { } m ? rule.ShippingMethods.GetValueOrDefault(m) : null) ?? rule.OtherShipping;
            trace.Add(
                "shippingMethod",
                shipping.Method,
                code,
                code is null ? "no shipping code is given for it" : "the hub's shipping code"
            );
            if (code is null)
                Held("shippingMethod");
            codes.Add(code);
        }

        return codes;
    }

    private void Lines()
    {
        foreach (var line in order.Lines)
            Line(line);
        if (_goods.Count > 0)
            trace.Add("lines", null, _units.Text(GoodsAmount), $"{_lines.Count} lines of goods");
        else
            Held("noLines");
    }

    private void Line(OrderLine line)
    {
        var amount = _units.Of(line.Price * line.Quantity) - _units.Of(line.Discount);
        var sku = line.Sku ?? "";
        if (rule.Kits == KitChoice.Split && known.Kits.TryGetValue(sku, out var kit))
        {
            var rate = Rate(line);
            Split(line, amount, kit, rate);
            return;
        }

        var item = known.Items.GetValueOrDefault(sku);
        if (item is null)
        {
            if (rule.UnknownItem == UnknownItem.Omit)
            {
                Omit(line, amount);
                return;
            }

            if (rule.UnknownItem == UnknownItem.Hold)
                HeldAt("unknownItem", line.Id);
            else
                item = rule.UseItem;
        }

        Add(line, item, line.Quantity, amount, Rate(line));
    }

    private decimal Rate(OrderLine line)
    {
        if ((line.TaxRate ?? rule.Tax.DefaultRate) is { } rate)
            return rate;
        HeldAt("taxRate", line.Id);
        return 0;
    }

    private void Omit(OrderLine line, long amount)
    {
        remarks.Add("lineOmitted");
        var rate = TaxFraction.Percent(line.TaxRate ?? rule.Tax.DefaultRate ?? 0);
        var gross = order.TaxIncluded ? amount : rate.Split(amount, gross: false).Gross;
        _omitted.Add(new OmittedLine(line.Id, line.Quantity, gross));
    }

    private void Split(OrderLine line, long amount, IReadOnlyList<KitComponent> kit, decimal rate)
    {
        var priced = kit.Any(c => c.Price * c.Quantity != 0);
        var weights = Weights([.. kit.Select(c => priced ? c.Price * c.Quantity : c.Quantity)]);
        var parts = Units.ShareOut(amount, weights);
        for (var i = 0; i < kit.Count; i++)
            Add(line, kit[i].Item, (long)line.Quantity * kit[i].Quantity, parts[i], rate);
    }

    private static List<Int128> Weights(IReadOnlyList<decimal> weights)
    {
        var scale = 1m;
        while (weights.Any(w => w * scale != decimal.Truncate(w * scale)))
            scale *= 10;
        return [.. weights.Select(w => (Int128)(w * scale))];
    }

    private void Add(OrderLine line, string? item, long quantity, long amount, decimal rate)
    {
        var goods = new ReckonedLine
        {
            Kind = DocumentLineKind.Goods,
            Item = item,
            Line = line.Id,
            Quantity = quantity,
            Amount = amount,
            Rate = rate,
        };
        _lines.Add(goods);
        _goods.Add(goods);
    }

    private void Discounts()
    {
        if (_lines.Count == 0 || order.Discounts.Count == 0)
            return;
        var sum = order.Discounts.Sum(d => _units.Of(d.Amount));
        if (sum > GoodsAmount)
        {
            Held("discountTooLarge");
            return;
        }

        trace.Add(
            "discounts",
            null,
            _units.Text(sum),
            rule.Discounts == DiscountChoice.Spread ? "taken off the goods" : "a line for each rate"
        );
        if (rule.Discounts == DiscountChoice.Spread)
        {
            var parts = Units.ShareOut(sum, [.. _goods.Select(g => (Int128)g.Amount)]);
            for (var i = 0; i < _goods.Count; i++)
                _goods[i].Amount -= parts[i];
            return;
        }

        foreach (var (rate, part) in OverRates(sum))
            AddSingle(DocumentLineKind.Discount, rule.DiscountItem, -part, rate);
    }

    // Shares an amount out over the rates of the goods, by their amounts, ascending; parts that are nothing are left out.
    private List<(decimal Rate, long Part)> OverRates(long amount)
    {
        var rates = _goods.GroupBy(g => g.Rate).OrderBy(g => g.Key).Select(g => (Rate: g.Key, Sum: g.Sum(l => l.Amount))).ToList();
        var parts = Units.ShareOut(amount, [.. rates.Select(r => (Int128)r.Sum)]);
        return [.. rates.Select((r, i) => (r.Rate, parts[i])).Where(r => r.Item2 != 0)];
    }

    private void AddSingle(DocumentLineKind kind, string? item, long amount, decimal rate) =>
        _lines.Add(
            new ReckonedLine
            {
                Kind = kind,
                Item = item,
                Amount = amount,
                Rate = rate,
            }
        );

    private void Shipping()
    {
        foreach (var shipping in order.Shipping)
            Beside(DocumentLineKind.Shipping, rule.ShippingItem, _units.Of(shipping.Amount), shipping.TaxRate);
    }

    private void Fees()
    {
        foreach (var fee in order.Fees)
            Beside(DocumentLineKind.Fee, rule.FeeItem, _units.Of(fee.Amount), fee.TaxRate);
    }

    private void Beside(DocumentLineKind kind, string? item, long amount, decimal? own)
    {
        var choice = rule.Tax.ShippingRate;
        if ((own ?? choice.Fixed) is { } rate)
        {
            AddSingle(kind, item, amount, rate);
            return;
        }

        if (choice.Spread && GoodsAmount != 0)
        {
            foreach (var (over, part) in OverRates(amount))
                AddSingle(kind, item, part, over);
            return;
        }

        AddSingle(kind, item, amount, HighestRate);
    }

    private decimal HighestRate
    {
        get
        {
            var highest = _goods.Count == 0 ? 0 : _goods[0].Rate;
            foreach (var goods in _goods)
                highest = Math.Max(highest, goods.Rate);
            return highest;
        }
    }

    private void Tax()
    {
        if (rule.Tax.Rounding == TaxRounding.Rate)
            TaxByRate();
        else
            foreach (var line in _lines)
                (line.Net, line.Tax, line.Gross) = TaxFraction.Percent(line.Rate).Split(line.Amount, order.TaxIncluded);
        trace.Add(
            "tax",
            order.TaxIncluded ? "gross" : "net",
            _units.Text(_lines.Sum(l => l.Tax)),
            rule.Tax.Rounding == TaxRounding.Rate ? "rounded rate by rate" : "rounded line by line"
        );
    }

    private void TaxByRate()
    {
        // Most orders have one rate.
        if (_lines.TrueForAll(l => l.Rate == _lines[0].Rate))
            TaxTogether(_lines);
        else
            foreach (var rate in _lines.GroupBy(l => l.Rate))
                TaxTogether([.. rate]);
    }

    private void TaxTogether(List<ReckonedLine> lines)
    {
        if (lines.Count == 0)
            return;
        var fraction = TaxFraction.Percent(lines[0].Rate);
        var tax = fraction.Split(lines.Sum(l => l.Amount), order.TaxIncluded).Tax;
        var parts = Units.Cut(lines.ConvertAll(l => fraction.In(l.Amount, order.TaxIncluded)), tax);
        for (var i = 0; i < lines.Count; i++)
        {
            var line = lines[i];
            line.Tax = parts[i];
            line.Net = order.TaxIncluded ? line.Amount - line.Tax : line.Amount;
            line.Gross = line.Net + line.Tax;
        }
    }

    private void Totals()
    {
        var wanted = _units.Of(order.Total) - _omitted.Sum(o => o.Gross);
        var found = _lines.Sum(l => l.Gross);
        var off = wanted - found;
        trace.Add("totals", _units.Text(wanted), _units.Text(found), off == 0 ? "it adds up" : $"off by {_units.Text(off)}");
        if (Math.Abs(off) > _units.Of(rule.Tolerance))
        {
            if (rule.Difference == DifferenceChoice.Line && Math.Abs(off) <= _units.Of(rule.DifferenceUpTo))
            {
                _lines.Add(Difference(off, rule));
                remarks.Add("difference");
            }
            else
            {
                causes.Add(new OrderCause("totals", OrderOutcome.Hold) { By = _units.Amount(off) });
            }
        }

        if (order.TaxTotal is { } told && _omitted.Count == 0 && Math.Abs(_units.Of(told) - _lines.Sum(l => l.Tax)) > _lines.Count)
            remarks.Add("taxDiffers");
    }

    /// <summary>A line that makes up for a difference.</summary>
    public static ReckonedLine Difference(long off, OrderRule rule) =>
        new()
        {
            Kind = DocumentLineKind.Difference,
            Item = rule.DifferenceItem,
            Amount = off,
            Net = off,
            Gross = off,
        };

    private List<DocumentPayment> Payments(string? type)
    {
        var payments = new List<DocumentPayment>(order.Vouchers.Count + 1);
        var total = _units.Of(order.Total);
        var rest = total;
        foreach (var voucher in order.Vouchers)
        {
            payments.Add(new DocumentPayment(rule.VoucherType, voucher.Amount));
            rest -= _units.Of(voucher.Amount);
        }

        if (rest < 0)
            Held("vouchers");
        else if (rest > 0 && OrderReadiness.IsPaid(order))
            payments.Add(new DocumentPayment(type, _units.Amount(rest)));
        trace.Add("payments", null, Numbers.Plain(payments.Sum(p => p.Amount)), $"{payments.Count} of {_units.Text(total)}");
        return payments;
    }

    private string Number() =>
        rule.Number.Replace("{number}", order.Number ?? "", StringComparison.Ordinal).Replace("{id}", order.Id, StringComparison.Ordinal);

    private string As()
    {
        bool Fits(string? wanted, string? own) => wanted is null || string.Equals(wanted, own, StringComparison.Ordinal);
        var choice = rule.Documents.FirstOrDefault(d => Fits(d.Method, order.Payment.Method) && Fits(d.State, order.State));
        trace.Add("document", null, choice?.As ?? rule.Document, choice is null ? "the usual kind" : "the first kind that fits");
        return choice?.As ?? rule.Document;
    }

    private DocumentLine Shown(ReckonedLine line)
    {
        var whole = _units.Amount(rule.Tax.Target == OrderTaxTarget.Gross ? line.Gross : line.Net);
        return new DocumentLine
        {
            Kind = line.Kind,
            Item = line.Item,
            Line = line.Line,
            Quantity = line.Quantity,
            UnitPrice = decimal.Round(line.Quantity == 1 ? whole : whole / line.Quantity, 4, MidpointRounding.AwayFromZero),
            Net = _units.Amount(line.Net),
            Tax = _units.Amount(line.Tax),
            Gross = _units.Amount(line.Gross),
            TaxRate = line.Rate,
        };
    }
}
