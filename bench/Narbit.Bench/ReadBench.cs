using System.Diagnostics;
using System.Net;
using System.Text;
using Narbit.Adapters;
using Narbit.Core.Records;

namespace Narbit.Bench;

/// <summary>
/// What reading costs by how replies are written, and whether the stated rate is kept whatever the paging and sign-in. The pages are made
/// beforehand, so that little but reading is measured.
/// </summary>
internal static class ReadBench
{
    private const int Records = 20_000;
    private const int PageSize = 500;
    private const int Rate = 50;
    private const int Pages = 200;

    private static readonly string[] Forms = ["json", "xml", "csv"];

    private static readonly string[] SignIns =
    [
        "\"scheme\": \"none\"",
        "\"scheme\": \"basic\"",
        "\"scheme\": \"bearer\"",
        "\"scheme\": \"header\", \"header\": \"X-Key\"",
        "\"scheme\": \"query\", \"parameter\": \"key\"",
        "\"scheme\": \"clientCredentials\", \"token\": \"token\"",
    ];

    private static readonly string[] Pagings =
    [
        "\"paging\": \"page\", \"pageParameter\": \"at\"",
        "\"paging\": \"offset\", \"pageParameter\": \"at\"",
        "\"paging\": \"cursor\", \"pageParameter\": \"at\", \"nextPath\": \"next\"",
        "\"paging\": \"link\"",
        "\"paging\": \"lastKey\", \"pageParameter\": \"at\"",
    ];

    public static async Task<int> RunAsync()
    {
        using var server = new Server();
        Console.WriteLine($"== {Records:N0} records of 8 fields in pages of {PageSize}, by how replies are written");
        var best = Forms.ToDictionary(f => f, _ => double.MaxValue);
        // The first rounds are those in which the code is compiled for good.
        for (var round = 0; round < 15; round++)
            foreach (var form in Forms)
                best[form] = Math.Min(best[form], await ReadAsync(server.Address, form));
        foreach (var form in Forms)
            Console.WriteLine($"{form}: {best[form] / Records * 1e6:0.0} µs a record, {best[form] / best["json"]:0.00} times JSON");

        Console.WriteLine($"== {Pages} requests at a stated rate of {Rate} a second");
        var shares = new List<double>();
        foreach (var (paging, signIn) in Pagings.Select(p => (p, SignIns[0])).Concat(SignIns[1..].Select(s => (Pagings[0], s))))
        {
            var share = await RateAsync(server.Address, paging, signIn);
            shares.Add(share);
            Console.WriteLine($"{paging.Replace("\"", "")}; {signIn.Replace("\"", "")}: {share:P1} of the rate");
        }

        return best["xml"] <= 2 * best["json"] && best["csv"] <= 2 * best["json"] && shares.Min() >= 0.95 ? 0 : 1;
    }

    private static async Task<double> ReadAsync(string address, string form)
    {
        var records =
            form == "xml" ? "all.ware"
            : form == "csv" ? ""
            : "wares";
        var list =
            $"\"path\": \"{form}\", \"records\": \"{records}\", \"paging\": \"offset\", \"pageParameter\": \"at\", \"size\": {PageSize}";
        using var adapter = Adapter(address, form, list, SignIns[0], 1000);
        var watch = Stopwatch.StartNew();
        var read = await AllAsync(adapter);
        return read == Records ? watch.Elapsed.TotalSeconds : throw new InvalidOperationException($"{form}: {read} records came.");
    }

    private static async Task<double> RateAsync(string address, string paging, string signIn)
    {
        using var adapter = Adapter(address, "json", $"\"path\": \"some\", \"records\": \"wares\", {paging}, \"size\": 10", signIn, Rate);
        var watch = Stopwatch.StartNew();
        var read = await AllAsync(adapter);
        return read == Pages * 10 - 1
            ? Pages / watch.Elapsed.TotalSeconds / Rate
            : throw new InvalidOperationException($"{paging}: {read} records came.");
    }

    private static async Task<int> AllAsync(IAdapter adapter)
    {
        var (read, cursor) = (0, (string?)null);
        do
        {
            var page = await adapter.ReadPageAsync(RecordKind.Item, cursor, null, default);
            if (page.Fault is { } fault)
                throw new InvalidOperationException(fault.Words);
            (read, cursor) = (read + page.Value.Records.Count, page.Value.Next);
        } while (cursor is not null);
        return read;
    }

    private static IAdapter Adapter(string address, string form, string list, string signIn, int rate)
    {
        var fields = string.Join(", ", Enumerable.Range(1, 7).Select(n => $"{{ \"name\": \"f{n}\", \"path\": \"f{n}\" }}"));
        var document = $$"""
            { "format": "narbit/rest-system/1", "name": "Bench", "kind": "webStore", "mark": "BE", "currency": "EUR",
              "address": "{{address}}",
              "replies": "{{form}}", "authentication": { {{signIn}} }, "limits": { "requestsPerSecond": {{rate}} },
              "resources": [ { "kind": "item", "label": "wares", "key": "id", "list": { {{list}} },
                "fields": [ { "name": "price", "path": "price", "type": "money" }, {{fields}} ] } ] }
            """;
        var read = SystemDocument.Read(document);
        if (read.Fault is { } fault)
            throw new InvalidOperationException(fault.Words);
        return read.Value.Adapter(address, new Credential("user", "secret"), new OutboundPolicy(true), TimeProvider.System).Value;
    }

    // A server whose pages lie ready.
    private sealed class Server : IDisposable
    {
        private readonly HttpListener _listener = new();
        private readonly Dictionary<string, byte[]> _pages = new(StringComparer.Ordinal);
        private int _asked;

        public Server()
        {
            for (var port = 5394; ; port++)
                try
                {
                    Address = $"http://127.0.0.1:{port}/";
                    _listener.Prefixes.Clear();
                    _listener.Prefixes.Add(Address);
                    _listener.Start();
                    break;
                }
                catch (HttpListenerException) when (port < 5494)
                {
                    // Somebody else has it.
                }

            foreach (var form in Forms)
                for (var at = 0; at < Records; at += PageSize)
                    _pages[$"{form} {at}"] = Page(form, at, PageSize, null);
            _ = Task.Run(ServeAsync);
        }

        public string Address { get; }

        public void Dispose() => _listener.Close();

        private async Task ServeAsync()
        {
            while (_listener.IsListening)
            {
                try
                {
                    await AnswerAsync(await _listener.GetContextAsync());
                }
                catch (Exception error) when (error is HttpListenerException or ObjectDisposedException)
                {
                    return;
                }
            }
        }

        private async Task AnswerAsync(HttpListenerContext context)
        {
            var path = context.Request.Url!.AbsolutePath[1..];
            var at = context.Request.QueryString["at"] ?? "0";
            var content = path switch
            {
                "token" => "{\"access_token\":\"t\",\"expires_in\":3600}"u8.ToArray(),
                "some" => Some(context),
                _ => _pages.GetValueOrDefault($"{path} {at}") ?? Page(path, Records, 0, null),
            };
            context.Response.ContentType =
                path == "xml" ? "application/xml"
                : path == "csv" ? "text/csv"
                : "application/json";
            // In one piece: a reply in two waits for the first to be acknowledged.
            context.Response.ContentLength64 = content.Length;
            await context.Response.OutputStream.WriteAsync(content);
            context.Response.Close();
        }

        // Ten records, whatever the way in which the page was asked for; the last page has one less, and leads nowhere.
        private byte[] Some(HttpListenerContext context)
        {
            var last = ++_asked % Pages == 0;
            if (!last)
                context.Response.AddHeader("Link", $"<{Address}some?at={_asked}>; rel=\"next\"");
            return Page("json", _asked * 10, last ? 9 : 10, last ? null : $"c{_asked}");
        }

        private static byte[] Page(string form, int from, int count, string? next)
        {
            var numbers = Enumerable.Range(from, count);
            return Encoding.UTF8.GetBytes(
                form switch
                {
                    "xml" => $"<all>{string.Concat(numbers.Select(Xml))}</all>",
                    "csv" =>
                        $"id,price,{string.Join(',', Enumerable.Range(1, 7).Select(f => $"f{f}"))}\r\n{string.Concat(numbers.Select(Csv))}",
                    _ => $"{{\"next\":{(next is null ? "null" : $"\"{next}\"")},\"wares\":[{string.Join(',', numbers.Select(Json))}]}}",
                }
            );
        }

        private static IEnumerable<(string Name, string Value)> Fields(int n) =>
            Enumerable.Range(1, 7).Select(f => ($"f{f}", $"value {f} of ware {n}"));

        private static string Json(int n) =>
            $"{{\"id\":\"W{n}\",\"price\":{n}.5,{string.Join(',', Fields(n).Select(f => $"\"{f.Name}\":\"{f.Value}\""))}}}";

        private static string Xml(int n) =>
            $"<ware><id>W{n}</id><price>{n}.5</price>{string.Concat(Fields(n).Select(f => $"<{f.Name}>{f.Value}</{f.Name}>"))}</ware>";

        private static string Csv(int n) => $"W{n},{n}.5,{string.Join(',', Fields(n).Select(f => f.Value))}\r\n";
    }
}
