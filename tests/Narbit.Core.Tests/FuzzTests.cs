using System.Globalization;
using System.IO.Compression;
using System.Runtime.InteropServices;
using System.Text;
using System.Text.RegularExpressions;
using CsCheck;
using Narbit.Adapters;
using Narbit.Adapters.Describing;
using Narbit.Adapters.Files;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Core.Tests.Mapping;
using Narbit.Engine.Events;
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
    private const int Megabyte = 1 << 20;

    // For a megabyte; what is shorter has no longer either.
    private static readonly TimeSpan Silence = TimeSpan.FromSeconds(1);
    private const long MostTaken = 400L << 20;
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

    private static readonly HookDescription Hook = new()
    {
        SignatureHeader = "S",
        TimeHeader = "T",
        Kind = RecordKind.Order,
        Record = "of.order",
    };

    private static readonly Dictionary<string, (byte[][] Samples, Action<byte[]> Open)> Doors = new(StringComparer.Ordinal)
    {
        ["csv"] = (Texts("key,part_number,title\n1,P-1,\"a, \"\"b\"\"\"\n2,,x\n"), Taken("t.csv")),
        ["jsonl"] = (Texts("{\"key\":\"1\",\"title\":\"x\"}\n{\"key\":2,\"title\":[1,{}]}\n"), Taken("t.jsonl")),
        ["xlsx"] = ([Workbook()], Taken("t.xlsx")),
        ["proposed csv"] = (Texts("key;price;at\n1;2,50;02.01.2026\n2;3;03.01.2026\n"), Proposed("stock_20260102.csv")),
        ["proposed jsonl"] = (Texts("{\"key\":\"1\",\"price\":\"2.50\"}\n{\"key\":2,\"of\":{\"a\":true}}\n"), Proposed("t.jsonl")),
        ["proposed xlsx"] = ([Workbook()], Proposed("t.xlsx")),
        ["system"] = (Demo("systems"), b => _ = SystemDocument.Read(Text(b))),
        ["lane"] = (Demo("lanes"), b => _ = LaneJson.Read(Text(b))),
        ["rule"] = (Demo("lanes"), b => _ = LaneFiles.Read(Text(b), out _)),
        ["workspace"] = (
            [Zip()],
            b => _ = WorkspaceFiles.Read(new MemoryStream(b)).ValueOrDefault is { } files ? WorkspaceContent.Of(files) : null
        ),
        ["settings"] = ([File.ReadAllBytes("demo/workspace.json")], InWorkspace(WorkspaceText.Workspace)),
        ["lane of a workspace"] = (Demo("lanes"), InWorkspace("lanes/a.json")),
        ["job"] = (Texts(Job), InWorkspace("jobs/a.json")),
        ["pairs"] = (
            Texts("hub_key,other_key,what,quantity,reason\n1,A-1,pair,,\n2,B-1,part,2,\n3,,aside,,\"no \"\"partner\"\"\"\n4,,create,,\n"),
            InWorkspace("pairs/item-back-office-web-shop.csv")
        ),
        ["openapi"] = (Texts(Contract, WholeContract), b => _ = ContractReading.Of(Text(b))),
        ["yaml"] = (Texts(Yaml), b => _ = ContractReading.Of(Text(b))),
        ["reply"] = (
            Texts("{\"items\":[{\"id\":1,\"p\":\"2.50\",\"at\":\"2026-01-02T03:04:05Z\"}],\"next\":2}"),
            b => _ = ResourceReading.OfText("items", Text(b))
        ),
        ["xml"] = (
            Texts(
                "<r a='1'><i id='1'><p>2</p><q/></i><i id='2'><p>3</p>x</i></r>",
                "<a:r xmlns:a='urn:a'><a:i>&lt;1</a:i><!-- c --></a:r>"
            ),
            b => _ = ResourceReading.OfText("items", Text(b))
        ),
        ["csv reply"] = (Texts("id,price,title\n1,2.50,\"a, \"\"b\"\"\"\n2,,x\n"), b => _ = ResourceReading.OfText("items", Text(b))),
        ["webhook"] = (Texts("{\"id\":\"N-1\",\"of\":{\"order\":4711},\"more\":[1,null,\"x\"]}"), b => _ = HookBody.Read(Hook, b)),
        ["formula"] = (Texts("Round([value] * 1.2, 2)", "[value] ** 2 + Max(1, 2)"), b => Step("expression", "formula", Text(b))),
        ["pattern"] = (Texts("^(a+)+b$", @"(\d{2,4})[-./]\1"), b => Step("pattern", "find", Text(b))),
        ["time"] = (Texts("yyyy-MM-dd'T'HH:mm", "d. MMMM yyyy"), b => Step("date", "format", Text(b))),
    };

    private const string Job = """
        {"format":"narbit/workspace-job/1","job":{"name":"Night",
        "timetable":{"zone":"Europe/Dublin","on":[{"days":["mon"],"at":["03:10"]}]},
        "lanes":[{"lane":"prices-web-shop"},{"lane":"stock-web-shop"}],"whenFailed":"again","againAfterMinutes":5,"lookEverySeconds":30}}
        """;

    private const string Contract = """
        {"openapi":"3.1.0","info":{"title":"A","version":"1"},"paths":{"/items":{"get":{"responses":{"200":{"description":"ok","content":
        {"application/json":{"schema":{"type":"array","items":{"$ref":"#/components/schemas/I"}}}}}}}}},
        "components":{"schemas":{"I":{"type":"object","properties":{"id":{"type":"integer"},"of":{"$ref":"#/components/schemas/I"}}}}}}
        """;

    // Everything that is read of a contract.
    private const string WholeContract = """
        {"openapi":"3.0.3","info":{"title":"A"},"servers":[{"url":"https://a.example/v1"}],"paths":{"/items":{
        "parameters":[{"$ref":"#/components/parameters/P"}],
        "get":{"parameters":[{"name":"limit","in":"query","schema":{"maximum":50}},{"name":"since","in":"query"}],
        "responses":{"200":{"headers":{"Link":{}},"content":{"application/json":{"schema":{"properties":{
        "items":{"type":"array","items":{"$ref":"#/components/schemas/I"}},"total":{"type":"integer"}}}}}}}},
        "post":{"parameters":[{"name":"Idempotency-Key","in":"header"}],
        "requestBody":{"content":{"application/json":{"schema":{"$ref":"#/components/schemas/I"}}}},
        "responses":{"201":{"headers":{"Location":{}}}}}},
        "/items/{id}":{"get":{"responses":{"200":{"content":{"application/json":{"schema":{"$ref":"#/components/schemas/I"}}}}}},
        "put":{"requestBody":{"content":{"application/json":{"schema":{"$ref":"#/components/schemas/I"}}}},"responses":{}},"delete":{}}},
        "components":{"parameters":{"P":{"name":"page","in":"query","schema":{"default":0}}},
        "securitySchemes":{"o":{"type":"oauth2","flows":{"clientCredentials":{"tokenUrl":"/t","scopes":{"read":""}}}}},
        "schemas":{"I":{"required":["id"],"allOf":[{"$ref":"#/components/schemas/J"}],
        "properties":{"id":{"type":["null","integer"]},"sku":{"type":"string","maxLength":9},"price":{"type":"number","readOnly":true},
        "variants":{"type":"array","items":{"$ref":"#/components/schemas/J"}}}},
        "J":{"properties":{"sku":{},"barcode":{},"at":{"format":"date-time"}},"oneOf":[{"$ref":"#/components/schemas/I"}]}}}}
        """;

    private const string Yaml = """
        openapi: 3.0.0
        info: &i { title: A, version: "1" }
        servers: [{ url: "https://a.example" }]
        paths:
          /items:
            get:
              parameters:
                - { name: page, in: query, schema: { default: 0 } }
                - { name: per_page, in: query, schema: { maximum: 50 } }
              responses:
                "200": { description: ok, content: { application/json: { schema: { type: array, items: &r { type: object,
                  required: [id], properties: { id: { type: integer }, name: { type: string, maxLength: 9 } } } } } } }
          /items/{id}:
            get: { responses: { "200": { content: { application/json: { schema: *r } } } } }
            patch: { requestBody: { content: { application/json: { schema: *r } } }, responses: {} }
        components:
          securitySchemes:
            k: { type: apiKey, in: header, name: X-Key }
        """;

    /// <summary>The doors; <c>NARBIT_DOOR</c> names some of them, with commas between.</summary>
    public static TheoryData<string> Named =>
        Environment.GetEnvironmentVariable("NARBIT_DOOR") is { Length: > 0 } some ? [.. some.Split(',')] : [.. Doors.Keys];

    [Theory]
    [MemberData(nameof(Named))]
    public void WhateverComesInIsTakenOrRefusedInWords(string door)
    {
        var (samples, open) = Doors[door];
        Sample(door, Spoilt(samples), open, Many);
    }

    [Theory]
    [MemberData(nameof(Named))]
    public void AMegabyteIsTakenOrRefusedWithinASecond(string door)
    {
        var (samples, open) = Doors[door];
        Sample(door, Grown(samples), open, Math.Max(3, Many / 2000));
    }

    [Theory]
    [InlineData("proposed csv", "")]
    [InlineData("proposed csv", "key;price;at\n1;2,50;02.01.2026\n2;3;03.01.2026\n")]
    [InlineData("csv", "key,part_number,title\n1,P-1,a\n2,,x\n")]
    [InlineData("csv reply", "id,price\n1,2\n2,3\n")]
    public void AMillionLinesWithNothingOnThemAreLookedAtWithinASecond(string door, string above) =>
        Opened(Encoding.UTF8.GetBytes(above + new string('\r', Megabyte)), Doors[door].Open).Took.ShouldBeLessThan(Silence);

    [Theory]
    [InlineData("csv", "key,part_number,title\n", "1,")]
    [InlineData("proposed csv", "key;price;at\n", "2;")]
    [InlineData("proposed csv", "key;price;at\n", "\"\n\";")]
    [InlineData("proposed csv", "", "\"\"\"\";")]
    [InlineData("csv reply", "id,price\n1,2\n", "2,")]
    public void ALineOfAMillionCellsIsRefusedWithinASecond(string door, string above, string cell) =>
        Opened(Encoding.UTF8.GetBytes(above + string.Concat(Enumerable.Repeat(cell, Megabyte / cell.Length))), Doors[door].Open)
            .Took.ShouldBeLessThan(Silence);

    private static int Many =>
        int.TryParse(Environment.GetEnvironmentVariable("NARBIT_FUZZ"), NumberStyles.None, CultureInfo.InvariantCulture, out var asked)
            ? asked
            : Few;

    private static void Sample(string door, Gen<byte[]> inputs, Action<byte[]> open, int many)
    {
        var (slowest, largest) = (TimeSpan.Zero, 0L);
        inputs.Sample(
            bytes =>
            {
                var (took, memory) = Opened(bytes, open);
                (slowest, largest) = (took > slowest ? took : slowest, Math.Max(largest, memory));
                took.ShouldBeLessThan(Silence);
                memory.ShouldBeLessThan(MostTaken);
            },
            iter: many,
            threads: 1,
            print: b => Convert.ToBase64String(b.AsSpan(0, Math.Min(b.Length, 2000)))
        );
        TestContext.Current.SendDiagnosticMessage(
            $"{door}: {many} inputs, the slowest {slowest.TotalMilliseconds:0} ms, {largest >> 20} MiB"
        );
    }

    // By the processor's time of the thread, as the processor is not its own beside other tests; what takes long once is tried again, as
    // the first of its kind is compiled.
    private static (TimeSpan Took, long Memory) Opened(byte[] bytes, Action<byte[]> open)
    {
        var (took, memory) = (TimeSpan.MaxValue, 0L);
        for (var tries = 0; tries < 3 && took >= Silence; tries++)
        {
            var (begun, before) = (Worked(), GC.GetAllocatedBytesForCurrentThread());
            open(bytes);
            var now = Worked() - begun;
            (took, memory) = (now < took ? now : took, GC.GetAllocatedBytesForCurrentThread() - before);
        }

        return (took, memory);
    }

    // clock_gettime(CLOCK_THREAD_CPUTIME_ID) of POSIX.
    private static TimeSpan Worked()
    {
        ClockGetTime(3, out var time).ShouldBe(0);
        return TimeSpan.FromSeconds(time.Seconds) + TimeSpan.FromMicroseconds(time.Nanoseconds / 1000.0);
    }

    [DllImport("libc", EntryPoint = "clock_gettime")]
    private static extern int ClockGetTime(int clock, out Instant time);

    [StructLayout(LayoutKind.Sequential)]
    private readonly struct Instant
    {
        public readonly long Seconds;
        public readonly long Nanoseconds;
    }

    // What was found by it, one of each sort.
    [Theory]
    [InlineData("jsonl", """{"key":"1","t\ud800key":2}""")]
    [InlineData("jsonl", """{"key":"\udfff"}""")]
    [InlineData("reply", """{"\ud800":[{"id":1},{"id":2}]}""")]
    [InlineData("openapi", """{"openapi":"3.1.0","paths":{"/\ud800":{}}}""")]
    [InlineData("system", """{"format":"narbit/rest-system/1","resources":[null]}""")]
    [InlineData("system", """{"format":"\ud800"}""")]
    [InlineData("system", """{"format":"narbit/file-system/1","name":null,"resources":[{"kind":"item","file":null}]}""")]
    [InlineData("lane", """{"kind":"item","fields":[null]}""")]
    [InlineData("rule", """{"from":"a","from":"b"}""")]
    [InlineData("rule", """{"document":{"kind":"order","rule":{"cutOff":7}}}""")]
    [InlineData("rule", """{"document":{"kind":"nothing"}}""")]
    [InlineData("rule", """{"a\ud800b":1}""")]
    [InlineData("settings", """{"format":"narbit/workspace/1","people":[{}]}""")]
    [InlineData("settings", """{"format":"narbit/workspace/1","people":[null],"systems":[null]}""")]
    [InlineData("openapi", """{"openapi":"3.1.0","paths":{"/a":{"get":1,"get":2}},"paths":{"/b":{}}}""")]
    [InlineData("yaml", "openapi: 1e9990\npaths: {}")]
    [InlineData("yaml", "openapi: 3.0.0\ninfo: { version: -.inf }\npaths: { .nan: {} }")]
    [InlineData("yaml", "!![CDATA[ion: \"1\" }\npaths: {}")]
    [InlineData("yaml", "openapi: !<![CDATA[ 3\npaths: {}")]
    [InlineData("openapi", """{"openapi":"3.1.0","info":"A","servers":"B","components":1,"paths":{"/a":{"get":{"responses":{}}}}}""")]
    [InlineData("openapi", """{"openapi":"3.1.0","paths":{"/a":{"get":{"responses":{"200":{"content":{"json":[1]}}}}}}}""")]
    [InlineData(
        "openapi",
        """{"openapi":"3.1.0","paths":{"/a":{"get":{"parameters":[{"name":"page","in":"query","schema":1}],"responses":{}}}}}"""
    )]
    [InlineData(
        "openapi",
        """{"openapi":"3.1.0","components":{"securitySchemes":{"a":{"type":"oauth2","flows":"b"}}},"paths":{"/a":{"get":1}}}"""
    )]
    [InlineData("formula", "Pow()")]
    [InlineData("formula", "Pow(9, Pow(9, Pow(9, 9)))")]
    [InlineData("formula", "[value] ** [value] ** [value] ** [value]")]
    public void WhatOnceBrokeADoorBreaksItNoMore(string door, string text) =>
        Should.NotThrow(() => Doors[door].Open(Encoding.UTF8.GetBytes(text)));

    // Of one record nothing can be changed where no object says how.
    [Theory]
    [InlineData(WholeContract, "\"put\":{", "\"patch\":1,\"put\":{", "PUT")]
    [InlineData(WholeContract, "\"put\":{", "\"put\":1,\"x\":{", null)]
    public void WhatIsNoCallInAContractIsPassedOver(string contract, string what, string by, string? method) =>
        ContractReading.Of(contract.Replace(what, by, StringComparison.Ordinal)).Value.Resources[0].Resource.Write?.Method.ShouldBe(method);

    // A hundred kilobytes that stand for very much more: every name of a schema for all of another's.
    [Theory]
    [InlineData("properties", "{\"properties\":{\"list\":{\"type\":\"array\",\"items\":~A}}}")]
    [InlineData("properties", "~A")]
    [InlineData("allOf", "{\"type\":\"array\",\"items\":~A}")]
    public void ASchemaThatStandsForMoreThanAnyListHasIsRefusedWithinASecond(string part, string reply)
    {
        var contract =
            $"{{'openapi':'3.1.0','paths':{{'/items':{{'get':{{'responses':{{'200':{{'content':{{'json':{{'schema':{reply}".Replace(
                '\'',
                '"'
            );
        contract += $"}}}}}}}}}}}}}},\"components\":{{\"schemas\":{{{string.Join(',', "ABCD".Zip("BCDA", Schema))}}}}}}}";
        contract = Regex.Replace(contract, "~([A-D])", "{\"$$ref\":\"#/components/schemas/$1\"}");
        Opened(Encoding.UTF8.GetBytes(contract), Doors["openapi"].Open).Took.ShouldBeLessThan(Silence);
        ContractReading.Of(contract).Fault!.Code.ShouldBe("contract.tooMuch");

        string Schema(char name, char of) =>
            part == "allOf"
                ? $"\"{name}\":{{\"allOf\":[{string.Join(',', Enumerable.Repeat($"~{of}", 1000))}]}}"
                : $"\"{name}\":{{\"properties\":{{{string.Join(',', Enumerable.Range(0, 1000).Select(i => $"\"p{i}\":~{of}"))}}}}}";
    }

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

    // A piece of a sample very many times, so that it is a megabyte.
    private static Gen<byte[]> Grown(byte[][] samples) =>
        from sample in Any.Of(samples)
        from piece in Gen.Select(Gen.Double[0, 1], Gen.Double[0, 1])
        from spoiler in Gen.OneOf(Gen.Const(""), Gen.Int[0, Spoilers.Length - 1].Select(i => Spoilers[i]))
        select Repeated(sample, (int)(Math.Min(piece.Item1, piece.Item2) * sample.Length), (int)(piece.Item2 * sample.Length), spoiler);

    private static byte[] Repeated(byte[] sample, int from, int to, string spoiler)
    {
        byte[] piece = [.. sample[from..Math.Max(from, to)], .. Encoding.UTF8.GetBytes(spoiler)];
        var grown = new List<byte>(Megabyte + sample.Length);
        grown.AddRange(sample.AsSpan(0, from));
        while (piece.Length > 0 && grown.Count < Megabyte)
            grown.AddRange(piece);
        grown.AddRange(sample.AsSpan(Math.Max(from, to)));
        return [.. grown];
    }

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
        chain?.Run(Maps.Record(source == FieldType.Decimal ? "10" : new string('a', 12) + "!"));
        chain?.Run(Maps.Record(null));
    }

    // A workspace that has the one file beside what it cannot do without.
    private static Action<byte[]> InWorkspace(string path) =>
        bytes =>
            _ = WorkspaceContent.Of(
                WorkspaceFiles.Of(
                    new Dictionary<string, string>
                    {
                        [WorkspaceText.Workspace] = Bare,
                        [Path.ChangeExtension(path, ".json")] = Pairing,
                        [path] = Text(bytes),
                    }
                )
            );

    private const string Bare = """
        {"format":"narbit/workspace/1","name":"Lanternmoor","timeZone":"Europe/Dublin","currency":"EUR","country":"IE","numbers":"point",
        "dates":"dayFirst","firstDay":"monday","hub":null,"people":[{"name":"Ines O."}],"systems":[]}
        """;

    private static readonly string Pairing = File.ReadAllText("demo/pairs/item-back-office-web-shop.json");

    private static Action<byte[]> Proposed(string name) => b => _ = TableReading.Of(new MemoryStream(b), name);

    private static Action<byte[]> Taken(string name) => b => _ = Table.All(Table.Read(new MemoryStream(b), name, Shape));

    private static string Text(byte[] bytes) => Encoding.UTF8.GetString(bytes);

    private static byte[][] Texts(params string[] texts) => [.. texts.Select(Encoding.UTF8.GetBytes)];

    private static byte[][] Demo(string folder) =>
        [.. Directory.GetFiles(Path.Combine("demo", folder), folder == "pairs" ? "*.csv" : "*.json").Order().Select(File.ReadAllBytes)];

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

    // Little enough that what spoils it meets what matters.
    private static byte[] Zip()
    {
        const string Till = """[{"id":"quay-street-till","mayRead":true,"mayWrite":true,"readsWholeDaily":true,"paused":false}]""";
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true))
        {
            zip.CreateEntryFromFile("demo/systems/quay-street-till.json", "systems/quay-street-till.json", CompressionLevel.NoCompression);
            using var workspace = new StreamWriter(zip.CreateEntry(WorkspaceText.Workspace, CompressionLevel.NoCompression).Open());
            workspace.Write(Bare.Replace("[]}", $"{Till}}}", StringComparison.Ordinal));
        }

        return stream.ToArray();
    }
}
