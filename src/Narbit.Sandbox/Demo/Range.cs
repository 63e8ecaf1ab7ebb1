namespace Narbit.Sandbox.Demo;

/// <summary>A size in which a product is sold; weight in grams.</summary>
public sealed record Size(string Label, string Code, decimal Factor, int Weight);

/// <summary>A range of the Lanternmoor catalogue: its names times its sizes.</summary>
public sealed record Range(string Code, string Noun, string Category, string TaxCode, decimal From, decimal To, string[] Names, Size[] Sizes)
{
    private static readonly string[] Colours =
    [
        "Celadon", "Tenmoku", "Shino", "Harbour Blue", "Oatmeal", "Moss", "Ember", "Chalk White", "Soot Black", "Rust Red", "Kelp", "Honey", "Iron Speckle", "Sea Glass",
        "Plum", "Slate", "Butter", "Copper Green", "Rose Ash", "Storm", "Nutmeg", "Fern", "Lagoon", "Parchment", "Amber", "Bracken", "Smoke", "Dove", "Marigold", "Ink",
        "Clover", "Sandbar", "Pebble", "Saffron", "Midnight", "Frost", "Terra", "Linen", "Juniper", "Rhubarb",
    ];

    private static readonly Size[] Jars = [new("250 ml", "250", 0.6m, 380), new("500 ml", "500", 1m, 720), new("1 l", "1000", 1.85m, 1400)];
    private static readonly Size[] Buckets = [new("5 l", "5L", 1m, 6900), new("10 l", "10L", 1.9m, 13600)];
    private static readonly Size[] Bags = [new("5 kg", "05", 0.5m, 5000), new("12.5 kg", "125", 1m, 12500), new("25 kg", "25", 1.8m, 25000)];
    private static readonly Size[] Tubs = [new("100 g", "100", 0.5m, 130), new("250 g", "250", 1m, 290), new("1 kg", "1K", 3.4m, 1080)];
    private static readonly Size[] Pairs = [new("60 ml", "060", 1m, 95), new("120 ml", "120", 1.7m, 170)];
    private static readonly Size[] Brushes = [new("no. 2", "02", 0.6m, 12), new("no. 4", "04", 0.8m, 15), new("no. 6", "06", 1m, 19), new("no. 8", "08", 1.3m, 24), new("no. 12", "12", 1.9m, 38)];
    private static readonly Size[] Shelves = [new("30 × 30 cm", "SH30", 1m, 2900), new("40 × 40 cm", "SH40", 1.6m, 5100), new("50 × 45 cm", "SH50", 2.1m, 7200)];
    private static Size[] One(int weight) => [new("", "", 1m, weight)];

    /// <summary>The whole catalogue: 600 variants of about 280 products.</summary>
    public static readonly Range[] All =
    [
        new("GLZ", "glaze, brush-on", "Glazes › Brush-on", "S", 9.8m, 15.6m, Colours, Jars),
        new("DIP", "dipping glaze", "Glazes › Dipping", "S", 42m, 66m, Colours[..30], Buckets),
        new("UGL", "underglaze", "Glazes › Underglaze", "S", 4.2m, 7.4m, Colours[4..40], Pairs),
        new("CLY", "", "Clays", "S", 11m, 29m,
        [
            "Stoneware clay, smooth", "Stoneware clay, grogged", "Raku clay, grogged", "Terracotta clay", "Porcelain clay", "Porcelain clay, casting", "Paper clay", "Black clay", "Crank clay",
            "Buff school clay", "White earthenware clay", "Red earthenware clay", "Flecked stoneware clay", "Sculpture clay", "Toasted clay", "Ivory stoneware clay", "Grey school clay",
            "Crystal porcelain clay", "Bone clay", "Garden clay", "Ash clay", "Vanilla stoneware clay", "Tile clay", "Oxidised clay",
        ], Bags),
        new("OX", "", "Raw materials › Oxides and stains", "S", 5m, 22m,
        [
            "Cobalt oxide", "Copper carbonate", "Red iron oxide", "Black iron oxide", "Manganese dioxide", "Chromium oxide", "Nickel oxide", "Rutile", "Titanium dioxide", "Tin oxide",
            "Yellow stain", "Turquoise stain", "Pink stain", "Violet stain", "Orange stain", "Grey stain", "Bentonite", "Whiting", "Talc", "Zirconium silicate",
        ], Tubs),
        new("SLP", "slip", "Clays › Slips", "S", 8m, 14m, ["Stoneware", "Porcelain", "Terracotta", "White", "Black", "Buff", "Toasted", "Ivory", "Grey", "Red", "Flecked", "Bone", "Ash", "Vanilla", "Chestnut"],
            [new("1 l", "01", 0.5m, 1500), new("5 l", "05", 1m, 7600)]),
        new("TL", "", "Tools", "S", 2.4m, 38m,
        [
            "Loop tool, round", "Loop tool, square", "Loop tool, pear", "Ribbon tool, small", "Ribbon tool, large", "Needle tool", "Wooden knife", "Trimming tool set, 8 pc", "Turning tool, L shape",
            "Metal kidney, soft", "Metal kidney, firm", "Rubber kidney, red", "Rubber kidney, green", "Wooden rib, round", "Wooden rib, straight", "Cutting wire, twisted", "Cutting wire, plain",
            "Sponge, throwing", "Sponge, turning", "Sponge on a stick", "Banding wheel 18 cm", "Banding wheel 22 cm", "Banding wheel 30 cm", "Callipers 20 cm", "Callipers 30 cm", "Rolling pin 40 cm",
            "Rolling guides 6 mm", "Rolling guides 9 mm", "Slip trailer, 3 tips", "Slip trailer, fine", "Hole cutter 6 mm", "Hole cutter 10 mm", "Hole cutter 16 mm", "Texture roller, waves",
            "Texture roller, linen", "Stamp set, letters", "Stamp set, leaves", "Fettling knife", "Scoring tool", "Wire loop set", "Throwing bat 25 cm", "Throwing bat 30 cm", "Throwing bat 35 cm",
            "Bat pins, pair", "Glaze tongs", "Glaze sieve, 80 mesh", "Glaze sieve, 120 mesh", "Test tile stand", "Splash pan", "Apron, canvas",
        ], One(210)),
        new("BR", "brush", "Tools › Brushes", "S", 3.2m, 11m, ["Bamboo", "Hake", "Mop", "Liner", "Fan", "Glaze", "Wash", "Detail", "Flat", "Round", "Sumi", "Stencil"], Brushes),
        new("KF", "kiln shelf", "Kilns › Furniture", "S", 18m, 42m, ["Cordierite", "Nitride", "Half round", "Light", "Ribbed", "Coated", "Slotted", "Thin", "Square", "Heavy"], Shelves),
        new("KLN", "", "Kilns", "S", 890m, 4200m,
            ["Bench kiln 20", "Bench kiln 35", "Studio kiln 60", "Studio kiln 100", "Studio kiln 150", "School kiln 100", "School kiln 200", "Front loader 120", "Front loader 250", "Raku kiln, gas"], One(68000)),
        new("WHL", "", "Wheels", "S", 520m, 1480m, ["Tabletop wheel", "Studio wheel", "Studio wheel, quiet", "School wheel", "Kick wheel", "Wheel for seated work"], One(42000)),
        new("BK", "", "Books", "R", 14m, 36m,
            ["Glazes from the beginning", "Throwing, a first year", "The raku notebook", "Kiln logs", "Slip and line", "Hand building", "Surface and fire", "Clay in the classroom", "A potter's chemistry", "Marks and makers"], One(640)),
        new("WX", "wax resist", "Glazes › Resists", "S", 6m, 12m, ["Clear", "Blue", "Green", "Hot", "Thin", "Brush-on", "Dipping", "Latex", "Peelable", "Black"], [new("250 ml", "250", 1m, 280), new("1 l", "1000", 2.9m, 1080)]),
        new("KIT", "", "Kits", "S", 32m, 96m,
            ["Starter kit, throwing", "Starter kit, hand building", "Glaze sampler, 6 jars", "Underglaze sampler, 12 pots", "School kit, 30 pupils", "Tool roll, complete", "Raku evening kit", "Tile kit", "Slip casting kit", "Brush set, 5 pc"], One(3400)),
    ];
}
