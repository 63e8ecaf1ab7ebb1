using System.Text.Json;
using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.Demo;
using Narbit.Sandbox.Faults;
using Narbit.Sandbox.Orders;
using Narbit.Sandbox.Pages;
using Narbit.Sandbox.Stores;
using Narbit.Sandbox.Till;
using Narbit.Sandbox.WebShop;

namespace Narbit.Sandbox;

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
        StoreState market,
        StoreAccounts accounts,
        OrderDrawers orders
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
        Accounts = accounts;
        Orders = orders;
        Notices = new MarketNotices(orders.Market, TimeProvider.System);
        TillFolders = new TillFolders(till, orders.Till, Path.Combine(folder, TillFolder), TimeProvider.System);
    }

    public string Folder { get; }

    public BackOfficeState Office { get; }

    public WebShopState Shop { get; }

    public StoreState Till { get; }

    public TillFolders TillFolders { get; }

    public StoreState Portal { get; }

    public StoreState Market { get; }

    public Catalogue Catalogue { get; }

    /// <summary>What the market tells of its purchases.</summary>
    public MarketNotices Notices { get; }

    /// <summary>The accounts of the trade portal.</summary>
    public StoreAccounts Accounts { get; }

    /// <summary>What was ordered, and the back office's book of it.</summary>
    public OrderDrawers Orders { get; }

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
        var builder = WebApplication.CreateSlimBuilder(
            new WebApplicationOptions { Args = ["--hostBuilder:reloadConfigOnChange=false"], ContentRootPath = AppContext.BaseDirectory }
        );
        builder.Logging.ClearProviders();
        builder.WebHost.UseUrls($"http://127.0.0.1:{options.Port}");
        var app = builder.Build();

        var folder = options.DataFolder ?? Directory.CreateTempSubdirectory("narbit-sandbox").FullName;
        Directory.CreateDirectory(folder);
        string? Journal(string name) => options.DataFolder is null ? null : Path.Combine(folder, $"{name}.jsonl");
        var catalogue = Catalogue.Generate(options.Items);
        var ordered = OrderBooks.Generate(catalogue, options.Orders, 20_261_128);
        await File.WriteAllTextAsync(
            Path.Combine(folder, "troubles.json"),
            JsonSerializer.Serialize(catalogue.Troubles.Concat(ordered.Troubles), Indented)
        );
        var further = catalogue.Further;
        var office = new BackOfficeState(catalogue.Articles, Journal("back-office"), TimeProvider.System);
        var sandbox = new SandboxHost(
            app,
            folder,
            options.DataFolder is null,
            catalogue,
            office,
            new WebShopState(catalogue.Products, Journal("web-shop"), TimeProvider.System),
            new StoreState(further.Till, Journal("till"), TimeProvider.System, TillFolders.Ways),
            new StoreState(
                further.Portal,
                Journal("trade-portal"),
                TimeProvider.System,
                TradePortalApi.Ways(
                    catalogue
                        .Articles.Select(a => FurtherStores.ClassCode(a.Category))
                        .Concat(further.Portal.Select(l => l.Category))
                        .ToHashSet(StringComparer.Ordinal)
                )
            ),
            new StoreState(further.Market, Journal("clay-lane"), TimeProvider.System, MarketApi.Ways),
            new StoreAccounts(further.Accounts, TradePortalApi.Groups, Journal("trade-portal-accounts")),
            new OrderDrawers(
                new SalesBook(further.Customers, office, Journal("back-office-sales"), TimeProvider.System),
                new StoreOrders(ordered.Shop, Journal("web-shop-orders"), TimeProvider.System),
                new StoreOrders(ordered.Portal, Journal("trade-portal-orders"), TimeProvider.System),
                new StoreOrders(ordered.Market, Journal("clay-lane-orders"), TimeProvider.System),
                new StoreOrders(ordered.Till, Journal("till-sales"), TimeProvider.System)
            )
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
        BackOfficeApi.Map(app, sandbox.Office, sandbox.Orders.Book);
        WebShopApi.Map(app, sandbox.Shop, sandbox.Orders.Shop, options.ShopRequestsPerSecond);
        TradePortalApi.Map(app, sandbox.Portal, sandbox.Accounts, sandbox.Orders.Portal);
        MarketApi.Map(app, sandbox.Market, sandbox.Orders.Market);
        StandInPages.Map(app, sandbox.Office, sandbox.Shop, sandbox.Dials);
        OrderPages.MapOffice(app, sandbox.Orders.Book);
        OrderPages.MapBasket(app, sandbox.Shop, sandbox.Orders.Shop);
        OrderPages.MapStore(app, "/web-shop", "Lanternmoor Web Shop", "shop", sandbox.Orders.Shop, gross: true);
        OrderPages.MapStore(app, "/trade-portal", "Studio Trade Portal", "office", sandbox.Orders.Portal, gross: false);
        OrderPages.MapStore(app, "/clay-lane", "Clay Lane Market", "shop", sandbox.Orders.Market, gross: true, Counters.Paid);
        OrderPages.MapStore(app, "/quay-street-till", "Quay Street Till", "shop", sandbox.Orders.Till, gross: true, TillSales.Closed);
        StorePages.Map(
            app,
            "/quay-street-till",
            "Quay Street Till",
            "shop",
            "what the till sells",
            sandbox.Till,
            Counters.Till(sandbox.Orders.Till)
        );
        StorePages.Map(
            app,
            "/trade-portal",
            "Studio Trade Portal",
            "office",
            "for account customers, net prices",
            sandbox.Portal,
            Counters.Portal(sandbox.Orders.Portal, sandbox.Accounts)
        );
        StorePages.Map(
            app,
            "/clay-lane",
            "Clay Lane Market",
            "shop",
            "from many hands",
            sandbox.Market,
            Counters.Market(sandbox.Orders.Market)
        );
        NoticePages.Map(app, sandbox.Notices);
        StorePages.MapKits(app, "/clay-lane/kits.csv", sandbox.Market);
        await app.StartAsync();
        return sandbox;
    }

    public Task WaitForShutdownAsync() => _app.WaitForShutdownAsync();

    public async ValueTask DisposeAsync()
    {
        await _app.DisposeAsync();
        TillFolders.Dispose();
        Notices.Dispose();
        foreach (var state in new IDisposable[] { Office, Shop, Till, Portal, Market, Accounts, Orders })
            state.Dispose();
        if (_ownsFolder)
            Directory.Delete(Folder, recursive: true);
    }
}
