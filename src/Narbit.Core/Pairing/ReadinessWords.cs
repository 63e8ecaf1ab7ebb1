namespace Narbit.Core.Pairing;

/// <summary>What the readiness check finds, in words for people; programs go by the codes.</summary>
public static class ReadinessWords
{
    private const string Missing = "missing:";

    /// <summary>A finding's cause as a word for programs, e.g. <c>skuMissing</c> or <c>missing:weight</c>.</summary>
    public static string Code(ReadinessFinding finding) =>
        finding.Cause == ReadinessCause.Missing ? $"{Missing}{Camel(finding.Role.ToString())}" : Camel(finding.Cause.ToString());

    /// <summary>What a code stands for.</summary>
    public static string Of(string code) =>
        code switch
        {
            "skuMissing" => "SKU missing",
            "skuTwice" => "SKU used twice",
            "skuForm" => "SKU differs in form",
            "skuOfAnother" => "SKU of another product",
            "barcodeInvalid" => "barcode invalid",
            "barcodeTwice" => "barcode used twice",
            "priceZero" => "price of zero or less",
            "titleTooLong" => "title too long",
            _ when code.StartsWith(Missing, StringComparison.Ordinal) =>
                $"no {code[Missing.Length..] switch { "taxCode" => "tax code", var role => role }}",
            _ => code,
        };

    private static string Camel(string word) => char.ToLowerInvariant(word[0]) + word[1..];
}
