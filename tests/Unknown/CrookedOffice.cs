using System.Globalization;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;

namespace Narbit.Unknown;

/// <summary>
/// A back office as it should not be, between Narbit and one as it should be: its clock is slow, one of its articles stands there twice,
/// one has no number, one has half a character in its name, and what is posted is made and then answered by a 502.
/// </summary>
/// <param name="behind">Where the sound one answers, without a slash at the end.</param>
public sealed class CrookedOffice(string behind) : UnknownServer
{
    /// <summary>How far its clock is behind.</summary>
    public static readonly TimeSpan Slow = TimeSpan.FromMinutes(7);

    private readonly HttpClient _http = new();
    private int _posted;

    /// <summary>Every how manyth post is carried out and answered by a 502; 0: none is.</summary>
    public int FailsEvery { get; set; }

    protected override void Map(WebApplication app) => app.Map("{**path}", ServeAsync);

    private async Task ServeAsync(HttpContext http)
    {
        using var asked = new HttpRequestMessage(new HttpMethod(http.Request.Method), $"{behind}{http.Request.Path}{Query(http.Request)}");
        if (http.Request.ContentLength > 0)
        {
            using var body = new MemoryStream();
            await http.Request.Body.CopyToAsync(body);
            asked.Content = new ByteArrayContent(body.ToArray());
            asked.Content.Headers.ContentType = MediaTypeHeaderValue.Parse(http.Request.ContentType!);
        }

        foreach (var header in http.Request.Headers.Where(h => h.Key is not ("Host" or "Content-Length" or "Content-Type")))
            asked.Headers.TryAddWithoutValidation(header.Key, [.. header.Value]);
        using var answer = await _http.SendAsync(asked);
        http.Response.Headers.Date = (DateTimeOffset.UtcNow - Slow).ToString("r", CultureInfo.InvariantCulture);
        if (HttpMethods.IsPost(http.Request.Method) && FailsEvery > 0 && Interlocked.Increment(ref _posted) % FailsEvery == 0)
        {
            http.Response.StatusCode = 502;
            await http.Response.WriteAsync("<html><h1>Bad gateway</h1></html>");
            return;
        }

        http.Response.StatusCode = (int)answer.StatusCode;
        http.Response.ContentType = answer.Content.Headers.ContentType?.ToString();
        var text = await answer.Content.ReadAsStringAsync();
        var isFirst = http.Request.Path.Value!.EndsWith("/articles", StringComparison.Ordinal) && !http.Request.Query.ContainsKey("after");
        await http.Response.Body.WriteAsync(Encoding.UTF8.GetBytes(isFirst && answer.IsSuccessStatusCode ? Crooked(text) : text));
    }

    // What is asked by its clock is asked of the sound one by the true time.
    private static string Query(HttpRequest request) =>
        string.Concat(
            request
                .Query.SelectMany(q => q.Value.Select(v => (q.Key, Value: v ?? "")))
                .Select(
                    (q, i) => $"{(i == 0 ? '?' : '&')}{q.Key}={Uri.EscapeDataString(q.Key == "modifiedSince" ? True(q.Value) : q.Value)}"
                )
        );

    private static string True(string instant) =>
        (DateTimeOffset.Parse(instant, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal) + Slow).ToString(
            "O",
            CultureInfo.InvariantCulture
        );

    private static string Crooked(string page)
    {
        var reply = JsonNode.Parse(page)!;
        var articles = reply["data"]!.AsArray();
        if (articles.Count < 10)
            return page;
        var (twice, nameless) = (articles[5]!.DeepClone(), articles[6]!.DeepClone());
        twice["name"] = "the same number once more";
        nameless["articleNo"] = null;
        articles.Add(twice);
        articles.Add(nameless);
        articles[7]!["name"] = "half of it ~";
        return reply.ToJsonString().Replace("half of it ~", "half of it \\ud83c", StringComparison.Ordinal);
    }
}
