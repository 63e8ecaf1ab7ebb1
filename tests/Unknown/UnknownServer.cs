using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.Logging;

namespace Narbit.Unknown;

/// <summary>A system that Narbit has never seen, on this machine.</summary>
public abstract class UnknownServer : IAsyncDisposable
{
    private WebApplication? _app;

    /// <summary>Where it answers.</summary>
    public string Address { get; private set; } = "";

    /// <summary>How many requests it has served.</summary>
    public int Served { get; private set; }

    /// <summary>Starts it on a free port.</summary>
    public async Task StartAsync()
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.UseUrls("http://127.0.0.1:0");
        _app = builder.Build();
        _app.Use(
            (http, next) =>
            {
                lock (this)
                    Served++;
                return next(http);
            }
        );
        Map(_app);
        await _app.StartAsync();
        Address = _app.Urls.First();
    }

    public async ValueTask DisposeAsync()
    {
        GC.SuppressFinalize(this);
        if (_app is not null)
            await _app.DisposeAsync();
    }

    /// <summary>Its paths.</summary>
    protected abstract void Map(WebApplication app);

    protected static IResult Json(JsonNode node, int status = 200) =>
        Results.Content(node.ToJsonString(), "application/json", statusCode: status);

    /// <summary>A GTIN-13 with its check digit.</summary>
    protected static string Gtin(int number)
    {
        var digits = $"2{number:D11}";
        var sum = digits.Select((c, i) => (c - '0') * (i % 2 == 0 ? 1 : 3)).Sum();
        return digits + ((10 - (sum % 10)) % 10);
    }

    protected static readonly string[] Wares =
    [
        "Salt glaze mug",
        "Kiln shelf",
        "Trimming tool",
        "Porcelain clay",
        "Banding wheel",
        "Celadon glaze",
        "Bisque bowl",
        "Slip trailer",
        "Cone pack",
        "Throwing bat",
    ];
}
