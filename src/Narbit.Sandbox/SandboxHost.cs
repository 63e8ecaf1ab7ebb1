using System.Text.Json;
using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.Demo;
using Narbit.Sandbox.Faults;
using Narbit.Sandbox.Pages;
using Narbit.Sandbox.Stores;
using Narbit.Sandbox.Till;
using Narbit.Sandbox.WebShop;

namespace Narbit.Sandbox;

/// <summary>How to start the sandbox.</summary>
/// <param name="Port">The loopback port; 0 takes a free one.</param>
/// <param name="DataFolder">Where edits, the till's folders and the list of troubles are kept; null: a folder that goes with the
/// sandbox.</param>
/// <param name="Items">How many items the back office has.</param>
/// <param name="ShopRequestsPerSecond">The web shop's limit.</param>
public sealed record SandboxOptions(
    int Port = 0,
    string? DataFolder = null,
    int Items = Catalogue.DefaultItems,
    int ShopRequestsPerSecond = 20
);

/// <summary>The program that runs all stand-ins. Narbit knows nothing of it but its addresses and the till's folders.</summary>
public sealed class SandboxHost : IAsyncDisposable
{
    /// <summary>The till's folder within the sandbox's.</summary>
    public const string TillFolder = "quay-street-till";

    private static readonly JsonSerializerOptions Indented = new(JsonSerializerDefaults.Web) { WriteIndented = true };
    private readonly WebApplication _app;
    private readonly bool _ownsFolder;

    private SandboxHost(
        WebApplication app,
        string folder,
        bool ownsFolder,
        Catalogue catalogue,
        BackOfficeState office,
        WebShopState shop,
        StoreState till,
        StoreState portal,
        StoreState market
    )
    {
        _app = app;
        Folder = folder;
        _ownsFolder = ownsFolder;
        Catalogue = catalogue;
        Office = office;
        Shop = shop;
        Till = till;
        Portal = portal;
        Market = market;
        TillFolders = new TillFolders(till, Path.Combine(folder, TillFolder), TimeProvider.System);
    }

    public string Folder { get; }

    public BackOfficeState Office { get; }

    public WebShopState Shop { get; }

    public StoreState Till { get; }

    public TillFolders TillFolders { get; }

    public StoreState Portal { get; }

    public StoreState Market { get; }

    public Catalogue Catalogue { get; }

    /// <summary>The fault dials by the stand-in's path.</summary>
    public IReadOnlyDictionary<string, FaultDial> Dials { get; } =
        new Dictionary<string, FaultDial>(StringComparer.Ordinal)
        {
            ["back-office"] = new(),
            ["web-shop"] = new(),
            ["trade-portal"] = new(),
            ["clay-lane"] = new(),
        };

    public Uri Address => new(_app.Urls.First());

    public static async Task<SandboxHost> StartAsync(SandboxOptions options)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.UseUrls($"http://127.0.0.1:{options.Port}");
        var app = builder.Build();

        var folder = options.DataFolder ?? Directory.CreateTempSubdirectory("narbit-sandbox").FullName;
        Directory.CreateDirectory(folder);
        string? Journal(string name) => options.DataFolder is null ? null : Path.Combine(folder, $"{name}.jsonl");
        var catalogue = Catalogue.Generate(options.Items);
        await File.WriteAllTextAsync(Path.Combine(folder, "troubles.json"), JsonSerializer.Serialize(catalogue.Troubles, Indented));
        var further = catalogue.Further;
        var sandbox = new SandboxHost(
            app,
            folder,
            options.DataFolder is null,
            catalogue,
            new BackOfficeState(catalogue.Articles, Journal("back-office"), TimeProvider.System),
            new WebShopState(catalogue.Products, Journal("web-shop"), TimeProvider.System),
            new StoreState(further.Till, [], Journal("till"), TimeProvider.System, TillFolders.Ways),
            new StoreState(
                further.Portal,
                further.Accounts,
                Journal("trade-portal"),
                TimeProvider.System,
                TradePortalApi.Ways(
                    catalogue
                        .Articles.Select(a => FurtherStores.ClassCode(a.Category))
                        .Concat(further.Portal.Select(l => l.Category))
                        .ToHashSet(StringComparer.Ordinal)
                )
            ),
            new StoreState(further.Market, [], Journal("clay-lane"), TimeProvider.System, MarketApi.Ways)
        );

        // Only the interfaces for programs misbehave; the pages are for people who want to see what is true.
        app.Use(
            async (HttpContext http, RequestDelegate next) =>
            {
                var dial = new[]
                {
                    ("/back-office/v1", "back-office"),
                    ("/web-shop/api", "web-shop"),
                    ("/trade-portal/gate", "trade-portal"),
                    ("/clay-lane/seller", "clay-lane"),
                }
                    .Where(d => http.Request.Path.StartsWithSegments(d.Item1))
                    .Select(d => sandbox.Dials[d.Item2])
                    .FirstOrDefault();
                await (dial is null ? next(http) : dial.ServeAsync(http, next));
            }
        );
        app.UseRouting();
        BackOfficeApi.Map(app, sandbox.Office, further.Customers);
        WebShopApi.Map(app, sandbox.Shop, options.ShopRequestsPerSecond);
        TradePortalApi.Map(app, sandbox.Portal);
        MarketApi.Map(app, sandbox.Market);
        StandInPages.Map(app, sandbox.Office, sandbox.Shop, sandbox.Dials);
        StorePages.Map(app, "/quay-street-till", "Quay Street Till", "shop", "what the till sells", sandbox.Till);
        StorePages.Map(app, "/trade-portal", "Studio Trade Portal", "office", "for account customers, net prices", sandbox.Portal);
        StorePages.Map(app, "/clay-lane", "Clay Lane Market", "shop", "from many hands", sandbox.Market);
        StorePages.MapKits(app, "/clay-lane/kits.csv", sandbox.Market);
        await app.StartAsync();
        return sandbox;
    }

    public Task WaitForShutdownAsync() => _app.WaitForShutdownAsync();

    public async ValueTask DisposeAsync()
    {
        await _app.DisposeAsync();
        TillFolders.Dispose();
        foreach (var state in new IDisposable[] { Office, Shop, Till, Portal, Market })
            state.Dispose();
        if (_ownsFolder)
            Directory.Delete(Folder, recursive: true);
    }
}
