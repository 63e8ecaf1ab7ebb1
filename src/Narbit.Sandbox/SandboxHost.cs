using System.Text.Json;
using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.Demo;
using Narbit.Sandbox.Faults;
using Narbit.Sandbox.Pages;
using Narbit.Sandbox.WebShop;

namespace Narbit.Sandbox;

/// <summary>How to start the sandbox.</summary>
/// <param name="Port">The loopback port; 0 takes a free one.</param>
/// <param name="DataFolder">Where edits and the list of troubles are kept, or null to keep nothing.</param>
/// <param name="Items">How many items the back office has.</param>
/// <param name="ShopRequestsPerSecond">The web shop's limit.</param>
public sealed record SandboxOptions(int Port = 0, string? DataFolder = null, int Items = Catalogue.DefaultItems, int ShopRequestsPerSecond = 20);

/// <summary>The program that runs all stand-ins. Narbit knows nothing of it but its addresses.</summary>
public sealed class SandboxHost : IAsyncDisposable
{
    private static readonly JsonSerializerOptions Indented = new(JsonSerializerDefaults.Web) { WriteIndented = true };
    private readonly WebApplication _app;

    private SandboxHost(WebApplication app, BackOfficeState office, WebShopState shop, Catalogue catalogue, IReadOnlyDictionary<string, FaultDial> dials) =>
        (_app, Office, Shop, Catalogue, Dials) = (app, office, shop, catalogue, dials);

    public BackOfficeState Office { get; }

    public WebShopState Shop { get; }

    public Catalogue Catalogue { get; }

    /// <summary>The fault dials by the stand-in's path.</summary>
    public IReadOnlyDictionary<string, FaultDial> Dials { get; }

    public Uri Address => new(_app.Urls.First());

    public static async Task<SandboxHost> StartAsync(SandboxOptions options)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.UseUrls($"http://127.0.0.1:{options.Port}");
        var app = builder.Build();

        if (options.DataFolder is { } folder) Directory.CreateDirectory(folder);
        string? InFolder(string name) => options.DataFolder is { } f ? Path.Combine(f, name) : null;
        var catalogue = Catalogue.Generate(options.Items);
        if (InFolder("troubles.json") is { } troubles) await File.WriteAllTextAsync(troubles, JsonSerializer.Serialize(catalogue.Troubles, Indented));
        var office = new BackOfficeState(catalogue.Articles, InFolder("back-office.jsonl"), TimeProvider.System);
        var shop = new WebShopState(catalogue.Products, InFolder("web-shop.jsonl"), TimeProvider.System);
        var dials = new Dictionary<string, FaultDial>(StringComparer.Ordinal) { ["back-office"] = new(), ["web-shop"] = new() };

        // Only the interfaces for programs misbehave; the pages are for people who want to see what is true.
        app.Use(async (HttpContext http, RequestDelegate next) =>
        {
            var dial = http.Request.Path.StartsWithSegments("/back-office/v1") ? dials["back-office"]
                : http.Request.Path.StartsWithSegments("/web-shop/api") ? dials["web-shop"]
                : null;
            await (dial is null ? next(http) : dial.ServeAsync(http, next));
        });
        app.UseRouting();
        BackOfficeApi.Map(app, office);
        WebShopApi.Map(app, shop, options.ShopRequestsPerSecond);
        StandInPages.Map(app, office, shop, dials);
        await app.StartAsync();
        return new SandboxHost(app, office, shop, catalogue, dials);
    }

    public Task WaitForShutdownAsync() => _app.WaitForShutdownAsync();

    public async ValueTask DisposeAsync()
    {
        await _app.DisposeAsync();
        Office.Dispose();
        Shop.Dispose();
    }
}
