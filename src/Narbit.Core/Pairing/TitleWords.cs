using System.Collections.Frozen;

namespace Narbit.Core.Pairing;

/// <summary>A measured dimension.</summary>
internal enum Dimension : byte
{
    None,
    Volume,
    Mass,
    Length,
    Count,
    Power,
    Voltage,
    Temperature,
}

/// <summary>Words of the trade that titles are read by: units, colours, sizes, abbreviations, and words that say nothing.</summary>
internal static class TitleWords
{
    /// <summary>Units with their dimension and their factor to ml, g, mm, pieces, W, V or °C.</summary>
    public static readonly FrozenDictionary<string, (Dimension Dimension, decimal Factor)> Units = new (
        string Names,
        Dimension Dimension,
        decimal Factor
    )[]
    {
        ("ml millilitre millilitres milliliter", Dimension.Volume, 1),
        ("cl", Dimension.Volume, 10),
        ("dl", Dimension.Volume, 100),
        ("l lt ltr litre litres liter liters", Dimension.Volume, 1000),
        ("floz", Dimension.Volume, 29.5735m),
        ("pint pints", Dimension.Volume, 568.261m),
        ("mg", Dimension.Mass, 0.001m),
        ("g gr gm gms gram grams gramme", Dimension.Mass, 1),
        ("kg kgs kilo kilos kilogram kilograms", Dimension.Mass, 1000),
        ("oz ounce ounces", Dimension.Mass, 28.3495m),
        ("lb lbs", Dimension.Mass, 453.592m),
        ("mm", Dimension.Length, 1),
        ("cm", Dimension.Length, 10),
        ("m metre metres", Dimension.Length, 1000),
        ("in inch inches \"", Dimension.Length, 25.4m),
        ("ft", Dimension.Length, 304.8m),
        ("pc pcs piece pieces pk pack packs ct count er", Dimension.Count, 1),
        ("w watt", Dimension.Power, 1),
        ("kw", Dimension.Power, 1000),
        ("v volt", Dimension.Voltage, 1),
        ("c °c", Dimension.Temperature, 1),
    }
        .SelectMany(u => u.Names.Split(' ').Select(name => (name, (u.Dimension, u.Factor))))
        .ToFrozenDictionary(u => u.name, u => u.Item2, StringComparer.Ordinal);

    /// <summary>Colour words, each with the colour it is one of.</summary>
    public static readonly FrozenDictionary<string, string> Colours = Meaning(
        ("white", "white"),
        ("black", "black"),
        ("grey", "grey gray"),
        ("red", "red"),
        ("blue", "blue"),
        ("green", "green"),
        ("yellow", "yellow"),
        ("orange", "orange"),
        ("brown", "brown"),
        ("pink", "pink"),
        ("purple", "purple"),
        ("violet", "violet"),
        ("turquoise", "turquoise"),
        ("beige", "beige"),
        ("cream", "cream"),
        ("silver", "silver"),
        ("gold", "gold"),
        ("clear", "transparent clear"),
        ("navy", "navy"),
        ("teal", "teal"),
        ("maroon", "maroon"),
        ("magenta", "magenta"),
        ("cyan", "cyan"),
        ("ivory", "ivory")
    );

    /// <summary>Clothing-like sizes that stand alone.</summary>
    public static readonly FrozenDictionary<string, string> Sizes = Meaning(
        ("XXS", "xxs"),
        ("XS", "xs"),
        ("S", "s small sml"),
        ("M", "m medium med"),
        ("L", "l large lge lrg"),
        ("XL", "xl"),
        ("XXL", "xxl"),
        ("XXXL", "xxxl")
    );

    /// <summary>Abbreviations that rules of spelling would not find.</summary>
    public static readonly FrozenDictionary<string, string> Abbreviations = Meaning(
        ("black", "blk bk"),
        ("white", "wht wh"),
        ("grey", "gry gray"),
        ("green", "grn"),
        ("blue", "blu"),
        ("brown", "brn"),
        ("yellow", "ylw yel"),
        ("orange", "org"),
        ("pink", "pnk"),
        ("silver", "slv"),
        ("gold", "gld"),
        ("turquoise", "trq"),
        ("clear", "clr"),
        ("assorted", "asst ast"),
        ("with", "w"),
        ("without", "wo"),
        ("number", "no nr num"),
        ("color", "colour col"),
        ("about", "approx"),
        ("including", "incl"),
        ("quantity", "qty"),
        ("standard", "std")
    );

    /// <summary>Words that tell no product from another.</summary>
    public static readonly FrozenSet<string> Empty = new[]
    {
        "the",
        "a",
        "an",
        "and",
        "of",
        "for",
        "with",
        "in",
        "to",
        "by",
        "on",
        "from",
        "new",
        "or",
        "per",
        "number",
        "color",
        "size",
        "x",
    }.ToFrozenSet(StringComparer.Ordinal);

    private static FrozenDictionary<string, string> Meaning(params (string Meaning, string Words)[] entries) =>
        entries
            .SelectMany(e => e.Words.Split(' ').Select(word => (word, e.Meaning)))
            .ToFrozenDictionary(e => e.word, e => e.Meaning, StringComparer.Ordinal);
}
