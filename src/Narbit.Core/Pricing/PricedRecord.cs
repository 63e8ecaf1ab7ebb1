using Narbit.Core.Records;

namespace Narbit.Core.Pricing;

/// <summary>What price rules take from records.</summary>
public static class PricedRecord
{
    /// <summary>What a price rule needs to know, taken from a record of this kind.</summary>
    /// <param name="fields">The fields of its kind.</param>
    /// <param name="values">The record's values.</param>
    /// <param name="at">The instant to compute for.</param>
    /// <param name="decimals">The target currency's digits after the point.</param>
    public static PriceItem PriceItem(this FieldSet fields, IReadOnlyDictionary<string, string> values, DateTimeOffset at, int decimals)
    {
        var prices = new Dictionary<string, ListedPrice>(fields.Prices.Count, StringComparer.Ordinal);
        foreach (var field in fields.Prices)
        {
            if (fields.Number(values, FieldRole.Price, field.List) is not { } amount)
                continue;
            prices[FieldSet.ListOf(field)] = new ListedPrice
            {
                Amount = amount,
                Sale = fields.Number(values, FieldRole.SalePrice, field.List),
                SaleFrom = fields.Instant(values, FieldRole.SaleFrom, field.List),
                SaleTo = fields.Instant(values, FieldRole.SaleTo, field.List),
            };
        }

        return new PriceItem
        {
            Prices = prices,
            TaxRate = fields.Number(values, FieldRole.TaxRate) ?? 0,
            Cost = fields.Number(values, FieldRole.Cost),
            At = at,
            Decimals = decimals,
        };
    }
}
