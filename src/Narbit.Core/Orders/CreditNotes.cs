namespace Narbit.Core.Orders;

/// <summary>Credit notes for the refunds of an order, so that refunding everything in any portions gives the document back.</summary>
internal sealed class CreditNotes
{
    private readonly OrderRule _rule;
    private readonly Order _order;
    private readonly MadeDocument _made;
    private readonly Units _units;
    private readonly Dictionary<string, long> _ordered;
    private readonly Dictionary<string, long> _refunded = new(StringComparer.Ordinal);
    private readonly Dictionary<ReckonedLine, (long Net, long Gross)> _credited = [];
    private readonly long _goods;
    private long _goodsRefunded;

    private CreditNotes(OrderRule rule, Order order, MadeDocument made)
    {
        (_rule, _order, _made, _units) = (rule, order, made, made.Units);
        _ordered = order
            .Lines.GroupBy(l => l.Id, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.Sum(l => (long)l.Quantity), StringComparer.Ordinal);
        _goods = made.Lines.Where(l => l.Kind == DocumentLineKind.Goods).Sum(l => l.Gross);
    }

    /// <summary>A credit note for each refund that has none; the others count all the same.</summary>
    public static IReadOnlyList<CreditNote> For(OrderRule rule, Order order, KnownToHub known, MadeDocument made)
    {
        if (order.Refunds.Count == 0)
            return [];
        var notes = new CreditNotes(rule, order, made);
        var all = order.Refunds.Select(notes.Note).ToList();
        return [.. all.Where(n => !known.Credited.Contains(n.Refund))];
    }

    private CreditNote Note(OrderRefund refund)
    {
        var causes = new List<OrderCause>();
        var lines = new List<DocumentLine>();
        var outside = Goods(refund, causes, lines);
        Discounts(lines);
        Shipping(refund, causes, lines);
        Total(refund, outside, causes, lines);
        return new CreditNote
        {
            Refund = refund.Id,
            Outcome = causes.Count == 0 ? OrderOutcome.Take : OrderOutcome.Hold,
            Causes = causes,
            Restock = refund.Restock,
            Lines = lines,
            Totals = new DocumentTotals(lines.Sum(l => l.Net), lines.Sum(l => l.Tax), lines.Sum(l => l.Gross)),
        };
    }

    // What is credited of the lines that were ordered; what belongs to omitted ones is outside the credit note.
    private long Goods(OrderRefund refund, List<OrderCause> causes, List<DocumentLine> lines)
    {
        var outside = 0L;
        foreach (var (id, quantity) in refund.Lines)
        {
            var ordered = _ordered.GetValueOrDefault(id);
            var before = _refunded.GetValueOrDefault(id);
            var after = before + quantity;
            if (after > ordered)
            {
                causes.Add(TooMuch(id));
                continue;
            }

            _refunded[id] = after;
            long Part(long whole) => Units.Share(whole, after, ordered) - Units.Share(whole, before, ordered);
            foreach (var line in _made.Lines.Where(l => l.Line == id))
            {
                var (net, gross) = (Part(line.Net), Part(line.Gross));
                _goodsRefunded += gross;
                Credit(line, net, gross);
                lines.Add(Shown(line, Units.Share(line.Quantity, quantity, ordered), net, gross));
            }

            outside += _made.Omitted.Where(o => o.Line == id).Sum(o => Part(o.Gross));
        }

        return outside;
    }

    private static OrderCause TooMuch(string? line) => new("refundTooMuch", OrderOutcome.Hold) { Line = line, NamesLine = true };

    // Discounts go with the goods.
    private void Discounts(List<DocumentLine> lines)
    {
        foreach (var line in _made.Lines.Where(l => l.Kind == DocumentLineKind.Discount))
        {
            var (creditedNet, creditedGross) = _credited.GetValueOrDefault(line);
            var net = Units.Share(line.Net, _goodsRefunded, _goods) - creditedNet;
            var gross = Units.Share(line.Gross, _goodsRefunded, _goods) - creditedGross;
            if (net == 0 && gross == 0)
                continue;
            Credit(line, net, gross);
            lines.Add(Shown(line, 1, net, gross));
        }
    }

    private void Shipping(OrderRefund refund, List<OrderCause> causes, List<DocumentLine> lines)
    {
        var amount = _units.Of(refund.Shipping);
        if (amount == 0)
            return;
        var shipping = _made.Lines.Where(l => l.Kind == DocumentLineKind.Shipping).ToList();
        var left = shipping.Select(l => l.Gross - _credited.GetValueOrDefault(l).Gross).ToList();
        if (amount > left.Sum())
        {
            causes.Add(TooMuch(null));
            return;
        }

        var parts = Units.ShareOut(amount, [.. left.Select(l => (Int128)l)]);
        for (var i = 0; i < shipping.Count; i++)
        {
            if (parts[i] == 0)
                continue;
            var line = shipping[i];
            var (creditedNet, creditedGross) = _credited.GetValueOrDefault(line);
            var net = Units.Share(line.Net, creditedGross + parts[i], line.Gross) - creditedNet;
            Credit(line, net, parts[i]);
            lines.Add(Shown(line, 1, net, parts[i]));
        }
    }

    private void Total(OrderRefund refund, long outside, List<OrderCause> causes, List<DocumentLine> lines)
    {
        var tolerance = _units.Of(_rule.Tolerance);
        var off = _units.Of(refund.Total) - outside - lines.Sum(l => _units.Of(l.Gross));
        if (Math.Abs(off) > tolerance && _order.Lines.All(l => _refunded.GetValueOrDefault(l.Id) == _ordered[l.Id]))
            off = Rest(off, tolerance, lines);
        if (Math.Abs(off) <= tolerance)
            return;
        if (_rule.Difference == DifferenceChoice.Line && Math.Abs(off) <= _units.Of(_rule.DifferenceUpTo))
            lines.Add(Shown(OrderDocument.Difference(off, _rule), 1, off, off));
        else if (causes.Count == 0)
            causes.Add(new OrderCause("refundTotals", OrderOutcome.Hold) { By = _units.Amount(off) });
    }

    // When all goods are back, what is left of the rest may be what was paid back too.
    private long Rest(long off, long tolerance, List<DocumentLine> lines)
    {
        var rest = _made
            .Lines.Where(l => l.Kind is DocumentLineKind.Shipping or DocumentLineKind.Fee or DocumentLineKind.Difference)
            .Select(l => (Line: l, Net: l.Net - _credited.GetValueOrDefault(l).Net, Gross: l.Gross - _credited.GetValueOrDefault(l).Gross))
            .Where(r => r.Net != 0 || r.Gross != 0)
            .ToList();
        var sum = rest.Sum(r => r.Gross);
        if (Math.Abs(off - sum) > tolerance)
            return off;
        foreach (var (line, net, gross) in rest)
        {
            Credit(line, net, gross);
            lines.Add(Shown(line, 1, net, gross));
        }

        return off - sum;
    }

    private void Credit(ReckonedLine line, long net, long gross)
    {
        var (n, g) = _credited.GetValueOrDefault(line);
        _credited[line] = (n + net, g + gross);
    }

    private DocumentLine Shown(ReckonedLine line, long quantity, long net, long gross) =>
        new()
        {
            Kind = line.Kind,
            Item = line.Item,
            Line = line.Line,
            Quantity = quantity,
            Net = _units.Amount(net),
            Tax = _units.Amount(gross - net),
            Gross = _units.Amount(gross),
            TaxRate = line.Rate,
        };
}
