namespace Narbit.Core;

/// <summary>What reasons are called where several records have the same one, so that they are counted under one name.</summary>
public static class ReasonWords
{
    private static readonly Dictionary<string, string> Known = new(StringComparer.Ordinal)
    {
        ["noPrice"] = "no price",
        ["unreadable"] = "unreadable",
        ["amount.tooLarge"] = "amounts too large",
        ["broke"] = "cannot be computed",
        ["crosswalk"] = "code without an entry",
        ["map.step"] = "a step cannot be done",
        ["map.required"] = "required there, and empty",
        ["map.tooLong"] = "text too long",
        ["map.notWhole"] = "no whole number",
        ["map.noImage"] = "no image",
        ["map.noWayBack"] = "cannot be turned back",
        ["required"] = "required, not mapped",
        ["skuThere"] = "SKU is there already",
        ["skuHere"] = "SKU is here already",
        ["skuTwice"] = "SKU twice among the new",
        ["sistersSold"] = "sisters still sold",
        ["cannotCreate"] = "cannot be created",
        ["cannotHide"] = "cannot be hidden",
        ["cannotEnd"] = "cannot be ended",
        ["cannotEmpty"] = "cannot be emptied there",
        ["notWritable"] = "cannot be written",
        ["noField"] = "field no longer described",
        ["movedOn"] = "changed since",
        ["gone"] = "gone",
        ["ended"] = "was ended",
        ["changedOnBoth"] = "changed on both sides",
        ["price.sourceNegative"] = "the source's price is negative",
        ["price.sourceZero"] = "the source's price is zero",
        ["price.notAboveZero"] = "the price would be 0 or less",
        ["price.tooHigh"] = "the price would be beyond belief",
        ["price.rises"] = "would rise to more than 3 times what is there",
        ["price.falls"] = "would fall below 40 % of what is there",
        ["quantity.tooHigh"] = "the quantity would be beyond belief",
        ["quantity.notWhole"] = "the quantity is not whole",
    };

    /// <summary>The name, or null where a reason has none and its own words stand for all.</summary>
    public static string? InGeneral(string code) => Known.GetValueOrDefault(code);
}
