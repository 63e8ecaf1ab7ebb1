namespace Narbit.Sandbox.Orders;

/// <summary>Adds up orders as a store does: each line rounded for itself.</summary>
public static class Reckoning
{
    /// <summary>The order with its totals.</summary>
    /// <param name="order">An order.</param>
    /// <param name="gross">Whether its amounts are gross.</param>
    public static StoreOrder Added(StoreOrder order, bool gross)
    {
        var (total, tax) = (0m, 0m);
        void Add(decimal amount, decimal rate)
        {
            var share = gross
                ? amount - Math.Round(amount / (1 + rate / 100), 2, MidpointRounding.AwayFromZero)
                : Math.Round(amount * rate / 100, 2, MidpointRounding.AwayFromZero);
            total += gross ? amount : amount + share;
            tax += share;
        }

        foreach (var line in order.Lines)
            Add(Math.Round(line.Price * line.Quantity, 2, MidpointRounding.AwayFromZero) - line.Discount, line.TaxRate ?? 20);
        var highest = order.Lines.Select(l => l.TaxRate ?? 20).DefaultIfEmpty(0).Max();
        foreach (var off in order.Discounts)
            Add(-off.Amount, highest);
        foreach (var sending in order.Shipping)
            Add(sending.Amount, sending.TaxRate ?? highest);
        foreach (var fee in order.Fees)
            Add(fee.Amount, fee.TaxRate ?? highest);
        return order with { Total = total, TaxTotal = tax };
    }
}
