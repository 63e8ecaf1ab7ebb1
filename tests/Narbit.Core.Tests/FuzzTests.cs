using System.Diagnostics;
using System.Globalization;
using System.IO.Compression;
using System.Text;
using CsCheck;
using Narbit.Adapters;
using Narbit.Adapters.Describing;
using Narbit.Adapters.Files;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Core.Tests.Mapping;
using Narbit.Engine.Lanes;
using Narbit.Engine.Workspaces.Files;

namespace Narbit.Core.Tests;

/// <summary>
/// Whatever comes in through a door is taken or refused in words: no input, however spoilt, ends in an exception or in a long silence.
/// <c>NARBIT_FUZZ</c> says how many inputs each door gets; the suite gives it few, <c>./narbit bench fuzz</c> very many.
/// </summary>
public sealed class FuzzTests
{
    private const int Few = 120;
    private static readonly TimeSpan Silence = TimeSpan.FromSeconds(10);
    private static readonly TableShape Shape = new(["key", "part_number", "title"], ["key"]);

    private static readonly string[] Spoilers =
    [
        "\"",
        "'",
        "{",
        "}",
        "[",
        "]",
        "<",
        ">",
        "</",
        ",",
        ";",
        "\n",
        "\r",
        "\0",
        "\uFEFF",
        "\\u0000",
        "\\ud800",
        "1e999",
        "-0",
        "null",
        "9999-99-99",
        "00:60",
        "&a ",
        "*a ",
        "<<: *a\n",
        "- - - ",
        "%",
        "=",
        "(",
        "(a+)+$",
        "[value]**9**9",
        "Pow(",
        "..",
        "/",
        "\t",
        "$ref",
        "\"#/\"",
        "true",
        "99999999999999999999999999999999",
        "<![CDATA[",
        "<!DOCTYPE a>",
        "ß",
        "😀",
        "  ",
    ];

    private static readonly Dictionary<string, (byte[][] Samples, Action<byte[]> Open)> Doors = new(StringComparer.Ordinal)
    {
        ["csv"] = (Texts("key,part_number,title\n1,P-1,\"a, \"\"b\"\"\"\n2,,x\n"), Taken("t.csv")),
        ["jsonl"] = (Texts("{\"key\":\"1\",\"title\":\"x\"}\n{\"key\":2,\"title\":[1,{}]}\n"), Taken("t.jsonl")),
        ["xlsx"] = ([Workbook()], Taken("t.xlsx")),
        ["system"] = (Demo("systems"), b => _ = SystemDocument.Read(Text(b))),
        ["lane"] = (Demo("lanes"), b => _ = LaneJson.Read(Text(b))),
        ["workspace"] = ([Zip()], b => _ = WorkspaceFiles.Read(new MemoryStream(b))),
        ["contract"] = (Texts(Contract, Yaml), b => _ = ContractReading.Of(Text(b))),
        ["reply"] = (
            Texts("{\"items\":[{\"id\":1,\"p\":\"2.50\",\"at\":\"2026-01-02T03:04:05Z\"}],\"next\":2}", "<r><i id='1'><p>2</p></i></r>"),
            b => _ = ResourceReading.OfText("items", Text(b))
        ),
        ["formula"] = (Texts("Round([value] * 1.2, 2)", "[value] ** 2 + Max(1, 2)"), b => Step("expression", "formula", Text(b))),
        ["pattern"] = (Texts("^(a+)+b$", @"(\d{2,4})[-./]\1"), b => Step("pattern", "find", Text(b))),
        ["time"] = (Texts("yyyy-MM-dd'T'HH:mm", "d. MMMM yyyy"), b => Step("date", "format", Text(b))),
    };

    private const string Contract = """
        {"openapi":"3.1.0","info":{"title":"A","version":"1"},"paths":{"/items":{"get":{"responses":{"200":{"description":"ok","content":
        {"application/json":{"schema":{"type":"array","items":{"$ref":"#/components/schemas/I"}}}}}}}}},
        "components":{"schemas":{"I":{"type":"object","properties":{"id":{"type":"integer"},"of":{"$ref":"#/components/schemas/I"}}}}}}
        """;

    private const string Yaml = """
        openapi: 3.0.0
        info: &i { title: A, version: "1" }
        paths:
          /items:
            get:
              responses:
                "200": { description: ok, content: { application/json: { schema: { type: array, items: { type: object } } } } }
        """;

    public static TheoryData<string> Named => [.. Doors.Keys];

    [Theory]
    [MemberData(nameof(Named))]
    public void WhateverComesInIsTakenOrRefusedInWords(string door)
    {
        var (samples, open) = Doors[door];
        var said = Environment.GetEnvironmentVariable("NARBIT_FUZZ");
        var many = int.TryParse(said, NumberStyles.None, CultureInfo.InvariantCulture, out var asked) ? asked : Few;
        Spoilt(samples)
            .Sample(
                bytes =>
                {
                    var begun = Stopwatch.GetTimestamp();
                    open(bytes);
                    Stopwatch.GetElapsedTime(begun).ShouldBeLessThan(Silence);
                },
                iter: many,
                threads: 1,
                print: b => Convert.ToBase64String(b)
            );
    }

    // What was found by it, one of each sort.
    [Theory]
    [InlineData("jsonl", """{"key":"1","t\ud800key":2}""")]
    [InlineData("jsonl", """{"key":"\udfff"}""")]
    [InlineData("reply", """{"\ud800":[{"id":1},{"id":2}]}""")]
    [InlineData("contract", """{"openapi":"3.1.0","paths":{"/\ud800":{}}}""")]
    [InlineData("system", """{"format":"narbit/rest-system/1","resources":[null]}""")]
    [InlineData("system", """{"format":"\ud800"}""")]
    [InlineData("system", """{"format":"narbit/file-system/1","name":null,"resources":[{"kind":"item","file":null}]}""")]
    [InlineData("lane", """{"kind":"item","fields":[null]}""")]
    [InlineData("formula", "Pow()")]
    [InlineData("formula", "Pow(9, Pow(9, Pow(9, 9)))")]
    [InlineData("formula", "[value] ** [value] ** [value] ** [value]")]
    public void WhatOnceBrokeADoorBreaksItNoMore(string door, string text) =>
        Should.NotThrow(() => Doors[door].Open(Encoding.UTF8.GetBytes(text)));

    [Theory]
    [InlineData("[", "json")]
    [InlineData("{\"a\":", "json")]
    [InlineData("- ", "yaml")]
    [InlineData("[", "yaml")]
    [InlineData("{a: ", "yaml")]
    public void WhatIsNestedWithoutEndIsRefused(string nest, string form)
    {
        var text = (form == "yaml" ? "openapi: 3.0.0\npaths: " : "") + string.Concat(Enumerable.Repeat(nest, 100_000));
        ContractReading.Of(text).Fault.ShouldNotBeNull();
        LaneJson.Read(text).Fault.ShouldNotBeNull();
        SystemDocument.Read(text).Fault.ShouldNotBeNull();
    }

    private static Gen<byte[]> Spoilt(byte[][] samples) =>
        from sample in Any.Of(samples)
        from edits in Gen.Select(Gen.Int[0, 4], Gen.Double[0, 1], Gen.Int[0, Spoilers.Length - 1], Gen.Int[1, 40]).Array[1, 6]
        select edits.Aggregate(sample, (b, e) => Edited(b, e.Item1, (int)(e.Item2 * b.Length), Spoilers[e.Item3], e.Item4));

    private static byte[] Edited(byte[] bytes, int kind, int at, string spoiler, int length)
    {
        var end = Math.Min(bytes.Length, at + length);
        return kind switch
        {
            0 => [.. bytes[..at], .. Encoding.UTF8.GetBytes(spoiler), .. bytes[at..]],
            1 => [.. bytes[..at], .. bytes[end..]],
            2 => [.. bytes[..end], .. bytes[at..]],
            3 => [.. bytes[..at], (byte)(length * 7), .. bytes[Math.Min(bytes.Length, at + 1)..]],
            _ => [.. bytes[..at], .. Encoding.UTF8.GetBytes(spoiler), .. bytes[end..]],
        };
    }

    // What a map refuses while it is edited is refused in words; what it takes is run on a value that fits and one that does not.
    private static void Step(string name, string parameter, string text)
    {
        var source = name == "expression" ? FieldType.Decimal : FieldType.Text;
        (string, string)[] with = name == "pattern" ? [(parameter, text), ("by", "$1")] : [(parameter, text)];
        var faults = new List<RuleFault>();
        var mapping = new FieldMapping
        {
            Target = "t",
            Source = new MapSource(["a"]),
            Steps = [Maps.Step(name, with)],
        };
        var chain = Chain.Make(mapping, "", Maps.Sides(source, FieldType.Text), new Dictionary<string, Crosswalk>(), faults);
        (chain is not null || faults.Count > 0).ShouldBeTrue();
        chain?.Run(Maps.Record(source == FieldType.Decimal ? "10" : new string('a', 40) + "!"));
        chain?.Run(Maps.Record(null));
    }

    private static Action<byte[]> Taken(string name) => b => _ = Table.All(Table.Read(new MemoryStream(b), name, Shape));

    private static string Text(byte[] bytes) => Encoding.UTF8.GetString(bytes);

    private static byte[][] Texts(params string[] texts) => [.. texts.Select(Encoding.UTF8.GetBytes)];

    private static byte[][] Demo(string folder) =>
        [.. Directory.GetFiles(Path.Combine("demo", folder), "*.json").Order().Select(File.ReadAllBytes)];

    private static byte[] Workbook()
    {
        using var stream = new MemoryStream();
        TableOut.Write(
            stream,
            ".xlsx",
            ["key", "part_number", "title"],
            [
                ["1", "P", "x"],
                ["2", null, "=1"],
            ]
        );
        return stream.ToArray();
    }

    private static byte[] Zip()
    {
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true))
            foreach (var file in Directory.GetFiles("demo", "*.json", SearchOption.AllDirectories).Order())
                zip.CreateEntryFromFile(file, Path.GetRelativePath("demo", file), CompressionLevel.NoCompression);
        return stream.ToArray();
    }
}
