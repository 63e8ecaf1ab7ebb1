using System.Globalization;

namespace Narbit.Core.Orders;

/// <summary>
/// Why an order stands where it does: a stable code and the values that its words speak of, so that the words can be made wherever, and
/// whenever, a person reads.
/// </summary>
/// <param name="Code">A stable word for programs.</param>
/// <param name="Outcome">What it asks for.</param>
public sealed record CauseOfOrder(string Code, OrderOutcome Outcome)
{
    /// <summary>What it is about, by which orders are alike: a SKU, a method, a mail address; null: the order as a whole.</summary>
    public string? Subject { get; init; }

    /// <summary>The line that it is about; null: none, or the shipping.</summary>
    public string? Line { get; init; }

    /// <summary>What else its words speak of, by the names of <see cref="OrderWords"/>; null: nothing.</summary>
    public IReadOnlyDictionary<string, string>? Values { get; init; }

    /// <summary>A value that the words speak of, or null.</summary>
    public string? this[string name] => Values?.GetValueOrDefault(name);

    /// <summary>The cause in words, for people.</summary>
    public string Words => OrderWords.Of(this);

    /// <summary>A cause that was found in an order.</summary>
    public static CauseOfOrder Of(OrderCause cause, Order order)
    {
        var line = order.Lines.FirstOrDefault(l => l.Id == cause.Line);
        return new CauseOfOrder(cause.Code, cause.Outcome)
        {
            Subject = SubjectOf(cause, order, line),
            Line = line?.Id,
            Values = Known(
                (OrderWords.Title, line?.Title),
                (OrderWords.By, cause.By is { } by ? Numbers.Plain(by) : null),
                (OrderWords.Currency, cause.By is null ? null : order.Currency)
            ),
        };
    }

    /// <summary>A cause that something else has said of an order.</summary>
    /// <param name="code">Its code.</param>
    /// <param name="why">What was said.</param>
    public static CauseOfOrder Of(string code, Reason why) =>
        new(code, OrderOutcome.Hold) { Subject = why["field"] ?? why["from"], Values = Known((OrderWords.Why, why.Words)) };

    /// <summary>The values that there are; null: there is none.</summary>
    /// <param name="values">Names and values.</param>
    public static IReadOnlyDictionary<string, string>? Known(params ReadOnlySpan<(string Name, string? Value)> values)
    {
        var known = new SortedDictionary<string, string>(StringComparer.Ordinal);
        foreach (var (name, value) in values)
            if (value is not null)
                known[name] = value;
        return known.Count == 0 ? null : known;
    }

    /// <summary>The amount that it is about; null: none.</summary>
    public decimal? By => this[OrderWords.By] is { } by ? decimal.Parse(by, CultureInfo.InvariantCulture) : null;

    private static string? SubjectOf(OrderCause cause, Order order, OrderLine? line) =>
        cause.Code switch
        {
            "paymentMethod" => order.Payment.Method,
            "shippingMethod" => order.Shipping.Select(s => s.Method).FirstOrDefault(m => m is not null),
            "customerAmbiguous" => order.Email,
            "state" => order.State,
            "payment" => order.Payment.State,
            _ => line?.Sku,
        };
}
