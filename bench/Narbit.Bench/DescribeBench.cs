using System.Diagnostics;
using System.Globalization;
using System.Text.Json.Nodes;
using Narbit.Adapters.Describing;
using Narbit.Core.Records;

namespace Narbit.Bench;

/// <summary>
/// Ten systems of different habits, whose fields are known: names in three languages and several ways to write them, cents and decimals,
/// numbers in text, nested and flat, items alone or within products. How many types and roles are proposed rightly?
/// </summary>
internal static class DescribeBench
{
    private const int Records = 100;

    // Per role: what English, German and French systems call it; the first words of each are the usual ones.
    private static readonly (FieldRole Role, FieldType Type, string[] English, string[] German, string[] French)[] Known =
    [
        (
            FieldRole.Sku,
            FieldType.Text,
            ["sku", "item code", "article number"],
            ["artikel nummer", "artikel nr"],
            ["reference", "code article"]
        ),
        (FieldRole.Barcode, FieldType.Text, ["barcode", "ean", "gtin"], ["ean", "strichcode"], ["code barres", "ean"]),
        (FieldRole.Title, FieldType.Text, ["title", "name", "product name"], ["bezeichnung", "name"], ["libelle", "designation"]),
        (FieldRole.Description, FieldType.Html, ["description", "body html"], ["beschreibung"], ["description", "descriptif"]),
        (
            FieldRole.Price,
            FieldType.Money,
            ["price", "retail price", "unit price"],
            ["verkaufs preis", "preis", "vk preis"],
            ["prix vente", "prix"]
        ),
        (FieldRole.Cost, FieldType.Money, ["cost", "purchase price"], ["einkaufs preis", "ek preis"], ["prix achat", "cout"]),
        (FieldRole.TaxRate, FieldType.Percent, ["vat rate", "tax rate"], ["mwst satz", "steuer satz"], ["taux tva", "tva"]),
        (FieldRole.OnHand, FieldType.Integer, ["stock", "quantity", "on hand"], ["lager bestand", "bestand"], ["stock", "quantite"]),
        (FieldRole.Published, FieldType.Boolean, ["published", "active", "visible"], ["aktiv", "sichtbar"], ["actif", "publie"]),
        (FieldRole.Weight, FieldType.Weight, ["weight", "weight grams"], ["gewicht"], ["poids"]),
        (FieldRole.Category, FieldType.Text, ["category", "product type"], ["kategorie", "waren gruppe"], ["categorie", "rayon"]),
        (FieldRole.Brand, FieldType.Text, ["brand", "vendor", "manufacturer"], ["hersteller", "marke"], ["marque", "fabricant"]),
        (FieldRole.None, FieldType.Instant, ["updated at", "modified"], ["geaendert am"], ["modifie le"]),
        (FieldRole.None, FieldType.Text, ["internal note", "handle"], ["notiz", "kuerzel"], ["remarque", "alias"]),
        (FieldRole.None, FieldType.Integer, ["sort position", "revision"], ["sortierung"], ["rang"]),
        (FieldRole.None, FieldType.Boolean, ["fragile", "gift wrap"], ["zerbrechlich"], ["fragile"]),
        (FieldRole.None, FieldType.List, ["tags", "keywords"], ["schlagworte"], ["etiquettes"]),
        (FieldRole.None, FieldType.Date, ["launch date", "available from"], ["erscheinungs datum"], ["date sortie"]),
    ];

    private static readonly string[] Wares =
    [
        "Salt glaze mug",
        "Kiln shelf",
        "Trimming tool",
        "Porcelain clay",
        "Celadon glaze",
        "Bisque bowl",
    ];

    public static int Run(int seed)
    {
        var (fields, types, roles) = (0, 0, 0);
        for (var system = 0; system < 10; system++)
        {
            var (reply, truth) = Make(new Random(seed * 100 + system), system);
            var text = reply.ToJsonString();
            var watch = Stopwatch.StartNew();
            var proposal = ResourceReading.OfText("api/products", text).Value;
            var milliseconds = watch.Elapsed.TotalMilliseconds;
            var wrong = new List<string>();
            foreach (var (path, type, role, factor) in truth)
            {
                var found = proposal.Fields.FirstOrDefault(f => f.Path == path);
                var isType = found?.Type == type && found.Factor == factor;
                var isRole = found?.Role == role;
                (fields, types, roles) = (fields + 1, types + (isType ? 1 : 0), roles + (isRole ? 1 : 0));
                if (!isType || !isRole)
                    wrong.Add($"{path}: {found?.Type} × {found?.Factor} {found?.Role} for {type} × {factor} {role}");
            }

            Console.WriteLine(
                $"system {system + 1}: {truth.Count} fields, {milliseconds:0} ms{string.Concat(wrong.Select(w => "\n  " + w))}"
            );
        }

        Contract();
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"types right {100.0 * types / fields:0.0} %, roles right {100.0 * roles / fields:0.0} % of {fields}"
            )
        );
        return types >= 0.95 * fields && roles >= 0.9 * fields ? 0 : 1;
    }

    // A contract of 5 MB: a thousand lists, each with a path for one record, and schemas that refer to each other.
    private static void Contract()
    {
        var (paths, schemas) = (new JsonObject(), new JsonObject());
        for (var n = 0; n < 1000; n++)
        {
            var entry = new JsonObject { ["$ref"] = $"#/components/schemas/S{n}" };
            paths[$"/things{n}"] = new JsonObject { ["get"] = Answering(new JsonObject { ["type"] = "array", ["items"] = entry }) };
            paths[$"/things{n}/{{id}}"] = new JsonObject { ["get"] = Answering(entry.DeepClone()), ["put"] = Answering(entry.DeepClone()) };
            var properties = new JsonObject { ["id"] = new JsonObject { ["type"] = "string" } };
            for (var f = 0; f < 50; f++)
                properties[$"field{f}"] = new JsonObject { ["type"] = "string", ["description"] = "What it is, in some words." };
            properties["other"] = new JsonObject { ["$ref"] = $"#/components/schemas/S{(n + 1) % 1000}" };
            schemas[$"S{n}"] = new JsonObject { ["type"] = "object", ["properties"] = properties };
        }

        var document = new JsonObject
        {
            ["openapi"] = "3.1.0",
            ["paths"] = paths,
            ["components"] = new JsonObject { ["schemas"] = schemas },
        };
        var text = document.ToJsonString();
        var parsing = Stopwatch.StartNew();
        JsonNode.Parse(text)!.ToJsonString();
        var parsed = parsing.Elapsed.TotalSeconds;
        var watch = Stopwatch.StartNew();
        var found = ContractReading.Of(text).Value.Resources.Count;
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"a contract of {text.Length / 1e6:0.0} MB: {found} of 1,000 lists proposed in {watch.Elapsed.TotalSeconds:0.00} s; "
                    + $"baseline (read and written by the library) {parsed:0.00} s"
            )
        );
    }

    private static JsonObject Answering(JsonNode schema) =>
        new()
        {
            ["responses"] = new JsonObject
            {
                ["200"] = new JsonObject { ["content"] = new JsonObject { ["application/json"] = new JsonObject { ["schema"] = schema } } },
            },
        };

    private static (JsonNode Reply, List<(string Path, FieldType Type, FieldRole Role, decimal Factor)> Truth) Make(Random dice, int system)
    {
        var language = system % 3;
        var style = system % 4;
        var (cents, grams, asText, nested) = (dice.Next(2) == 0, dice.Next(2) == 0, system % 5 == 4, system % 3 == 1);
        var truth = new List<(string, FieldType, FieldRole, decimal)>();
        var makers = new List<Action<JsonObject, int>>();
        foreach (var (role, type, english, german, french) in Known)
        {
            var words = new[] { english, german, french }[language];
            var name = Named(words[dice.Next(words.Length)], style);
            var group =
                !nested ? null
                : role is FieldRole.Price or FieldRole.Cost ? new[] { "pricing", "preise_netto", "tarif" }[language]
                : null;
            var path = group is null ? name : $"{group}.{name}";
            var factor =
                type == FieldType.Money && cents ? 0.01m
                : role == FieldRole.Weight && (grams || name.Contains("gram", StringComparison.OrdinalIgnoreCase)) ? 0.001m
                : 1m;
            truth.Add((path, type, role, factor));
            makers.Add((record, n) => Put(record, group, name, Value(dice, role, type, factor, asText, n)));
        }

        var records = new JsonArray();
        for (var n = 0; n < Records; n++)
        {
            var record = new JsonObject { [Named("id", style)] = 5000 + n };
            foreach (var make in makers)
                make(record, n);
            records.Add(record);
        }

        return (
            new JsonObject
            {
                ["meta"] = new JsonObject { ["total"] = Records },
                ["data"] = records,
            },
            truth
        );
    }

    private static void Put(JsonObject record, string? group, string name, JsonNode? value)
    {
        if (group is null)
        {
            record[name] = value;
            return;
        }

        if (record[group] is not JsonObject inner)
            record[group] = inner = [];
        inner[name] = value;
    }

    private static JsonNode? Value(Random dice, FieldRole role, FieldType type, decimal factor, bool asText, int n)
    {
        var title = $"{Wares[n % Wares.Length]} no. {n}";
        return (role, type) switch
        {
            (FieldRole.Sku, _) => $"MP-{1000 + n}",
            (FieldRole.Barcode, _) => dice.Next(50) == 0 ? null : Gtin(n),
            (FieldRole.Title, _) => title,
            (FieldRole.Description, _) => $"<p>{title}, <b>hand made</b>.</p>",
            (FieldRole.Price or FieldRole.Cost, _) => Amount(dice, role == FieldRole.Cost ? 0.5m : 1m, factor, asText),
            (FieldRole.TaxRate, _) => Text(dice.Next(6) == 0 ? 5m : 20m, asText),
            (FieldRole.OnHand, _) => dice.Next(60),
            (FieldRole.Weight, _) => factor == 1
                ? Text(Math.Round(0.1m + dice.Next(900) / 250m, 2), asText)
                : Text(100 + dice.Next(3000), asText),
            (FieldRole.Category, _) => new[] { "Glazes", "Tools", "Clay" }[n % 3],
            (FieldRole.Brand, _) => new[] { "Quarry Works", "Moor Pottery" }[n % 2],
            (_, FieldType.Boolean) => dice.Next(5) > 0,
            (_, FieldType.Instant) => $"2026-0{1 + n % 9}-1{n % 9}T08:{10 + n % 40}:00Z",
            (_, FieldType.Date) => $"2026-0{1 + n % 9}-1{n % 9}",
            (_, FieldType.Integer) => n % 40,
            (_, FieldType.List) => new JsonArray("clay", "studio"),
            _ => $"note {n % 17}",
        };
    }

    private static JsonValue Amount(Random dice, decimal share, decimal factor, bool asText)
    {
        var amount = Math.Round((5 + dice.Next(9000) / 100m) * share, 2);
        return Text(factor == 1 ? amount : Math.Round(amount / factor), asText && factor == 1);
    }

    private static JsonValue Text(decimal number, bool asText) =>
        asText ? JsonValue.Create(number.ToString("0.00", CultureInfo.InvariantCulture)) : JsonValue.Create(number);

    private static string Gtin(int n)
    {
        var digits = $"2{n + 70_000:D11}";
        var sum = digits.Select((c, i) => (c - '0') * (i % 2 == 0 ? 1 : 3)).Sum();
        return digits + ((10 - sum % 10) % 10);
    }

    // snake_case, camelCase, PascalCase, or written together.
    private static string Named(string words, int style)
    {
        var parts = words.Split(' ');
        string Upper(string w) => char.ToUpperInvariant(w[0]) + w[1..];
        return style switch
        {
            0 => string.Join('_', parts),
            1 => parts[0] + string.Concat(parts.Skip(1).Select(Upper)),
            2 => string.Concat(parts.Select(Upper)),
            _ => string.Concat(parts),
        };
    }
}
