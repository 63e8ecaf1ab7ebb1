namespace Narbit.Core.Orders;

/// <summary>The causes for which an order is not taken, in words for people; programs go by the codes.</summary>
public static class OrderWords
{
    private static readonly Dictionary<string, string> Causes = new(StringComparer.Ordinal)
    {
        ["state"] = "its state is not one that is taken",
        ["payment"] = "it is not paid",
        ["paymentMethod"] = "no payment type of the hub is given for how it was paid",
        ["shippingMethod"] = "no shipping code of the hub is given for how it is sent",
        ["noAddress"] = "it has no whole address to send to",
        ["outsideZone"] = "it goes outside the shipping zones",
        ["customerAmbiguous"] = "several customers of the hub could be the buyer",
        ["customerNameless"] = "the buyer is not known and has no name, company or mail address",
        ["customerUnknown"] = "the buyer is not known at the hub",
        ["unknownItem"] = "a SKU of it is not known at the hub",
        ["taxRate"] = "a line of it has no tax rate",
        ["noLines"] = "there is no line to take",
        ["discountTooLarge"] = "its discounts are more than its goods",
        ["totals"] = "its lines do not add up to its total",
        ["vouchers"] = "its vouchers are more than its total",
        ["taken"] = "it was taken before",
        ["beforeCutOff"] = "it was placed before the cut-off",
        ["refundTooMuch"] = "more is given back than was bought",
        ["refundTotals"] = "the refund does not add up to its total",
        ["unreadable"] = "it could not be read as its description says",
        ["numberTwice"] = "another order of the store has the same number",
        ["editedGoods"] = "its lines or amounts were changed in the store after it was posted",
        ["editedAddress"] = "its address was changed in the store after it was posted",
        ["editedPayment"] = "its payment changed in the store after it was posted",
        ["cancelledLater"] = "it was cancelled in the store after it was posted",
        ["changedOnBoth"] = "it was changed in the store and at the hub after it was posted",
        ["tooLate"] = "it is to be changed, and the hub's document is too far on to be touched",
        ["cannotBeAnew"] = "its document cannot be made anew",
        ["furtherField"] = "a further field of the document cannot be made of it",
        ["noPlace"] = "the store that is to send it has no place for a part of it",
        ["takenOut"] = "its posting was undone; it rests until somebody has it posted again",
        ["currency"] = "its amounts are in another currency than the hub's",
    };

    /// <summary>The title of the line that a cause is about.</summary>
    public const string Title = "title";

    /// <summary>By how much something is off.</summary>
    public const string By = "by";

    /// <summary>The currency of a cause's amounts, ISO 4217.</summary>
    public const string Currency = "currency";

    /// <summary>What was said by something else, in words.</summary>
    public const string Why = "why";

    /// <summary>The key of another order.</summary>
    public const string Other = "other";

    /// <summary>The order's own number.</summary>
    public const string Number = "number";

    /// <summary>What the order amounts to in the store.</summary>
    public const string InStore = "inStore";

    /// <summary>What its document amounts to at the hub.</summary>
    public const string AtHub = "atHub";

    /// <summary>A cause in words, with its line or amount.</summary>
    public static string Of(CauseOfOrder cause)
    {
        if (cause[Why] is { } said)
            return said;
        var words = cause[Other] is { } other ? $"order {other} of the store has the number {cause[Number]} too" : Of(cause.Code);
        if (cause.Line is { } id)
            words =
                cause.Code == "unknownItem"
                    ? $"{cause.Subject ?? "a line without a SKU"} is not known at the hub (line {id})"
                    : $"{words} ({cause.Subject ?? "no SKU"}, line {id})";
        if (cause[InStore] is { } here && cause[AtHub] is { } there)
            words += $": the store has {here}, the hub {there} {cause[Currency]}";
        return cause[By] is { } by ? $"{words} (by {by} {cause[Currency]})" : words;
    }

    /// <summary>Several causes in words.</summary>
    public static string Of(IEnumerable<CauseOfOrder> causes) => string.Join("; ", causes.Select(Of));

    /// <summary>What a code stands for.</summary>
    public static string Of(string code) => Causes.GetValueOrDefault(code, code);

    /// <summary>What a code stands for, as a heading.</summary>
    public static string Heading(string code)
    {
        var words = Causes.GetValueOrDefault(code, code);
        return char.ToUpperInvariant(words[0]) + words[1..];
    }
}
