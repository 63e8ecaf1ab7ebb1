using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Mapping;
using Narbit.Core.Orders;
using Narbit.Core.Pricing;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mirror;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Data.Systems;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Lanes.Stock;
using Narbit.Engine.Pairing;
using Narbit.Engine.Reading;
using Narbit.Engine.Runs;
using Narbit.Engine.Systems;

namespace Narbit.Web.Setup;

/// <summary>
/// Sets the Lanternmoor workspace up: five systems, and a lane for items, one for prices and one for stock to each store, the web shop
/// taken over, and a first look at everything.
/// </summary>
public sealed class DemoWorkspace(
    Database database,
    ICredentialVault vault,
    RunDesk runs,
    PairDesk desk,
    MirrorReader reader,
    TimeProvider clock
)
{
    private const string Hub = "back-office";
    private const string Till = "quay-street-till";

    // The stand-ins' own demo credentials; they open nothing else.
    private static readonly (string Id, Credential? Credential)[] Systems =
    [
        (Hub, new Credential(null, "kilnyard-demo-key")),
        ("web-shop", new Credential("narbit", "shopfront-demo")),
        (Till, null),
        ("trade-portal", new Credential(null, "studio-trade-demo-token")),
        ("clay-lane", new Credential(null, "clay-lane-demo-key")),
    ];

    public async Task PrepareAsync(string sandbox, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var fresh = !await db.Workspaces.AnyAsync(cancel);
        if (fresh)
            db.Workspaces.Add(
                new Workspace
                {
                    Name = "Lanternmoor Ceramics Supply",
                    TimeZone = "Europe/Dublin",
                    Country = "IE",
                    Currency = "EUR",
                    HubId = Hub,
                    Person = "Ines O.",
                }
            );
        else
            await MoveAsync(db, sandbox, cancel);
        foreach (var (id, credential) in Systems)
            if (fresh || !await db.Systems.AnyAsync(s => s.Id == id, cancel))
                await AddAsync(db, sandbox, id, credential, cancel);
        await db.SaveChangesAsync(cancel);

        // The web shop was in step before the others came; what it has is taken over.
        if (fresh)
            db.Couples.Add(
                new Couple
                {
                    HubId = Hub,
                    OtherId = "web-shop",
                    Kind = RecordKind.Item,
                    AcceptsCertain = true,
                    Way = StockTakingWay.TakeOver,
                }
            );
        await db.SaveChangesAsync(cancel);
        foreach (var lane in Lanes())
            if (await db.Lanes.AllAsync(l => l.Id != lane.Id, cancel))
                Add(db, lane);
        await db.SaveChangesAsync(cancel);
        foreach (var lane in new[] { "prices-web-shop", "stock-web-shop", "orders-web-shop" }.Where(_ => fresh))
            await runs.StartAsync(lane, preview: true, RunTrigger.Setup, "Setting up", cancel);
        _ = Task.Run(() => LookAsync(cancel), CancellationToken.None);
    }

    // The other systems are read and compared, so that the pair desk has something to show; nothing of them is decided.
    private async Task LookAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var read = await db
            .Reads.Where(r => r.State == ReadState.Done)
            .Select(r => new { r.SystemId, r.Kind })
            .Distinct()
            .ToListAsync(cancel);
        foreach (
            var (id, _) in Systems.Where(s =>
                s.Id != "web-shop" && !read.Exists(r => r.SystemId == s.Id && (s.Id != Hub || r.Kind == RecordKind.Customer))
            )
        )
            await reader.ReadSystemAsync(id, full: false, cancel);
        foreach (var couple in (await desk.EnsureAllAsync(cancel)).Where(c => c.PairedAt is null))
            await desk.PairAsync(couple.Id, read: false, cancel);
    }

    private async Task AddAsync(NarbitContext db, string sandbox, string id, Credential? credential, CancellationToken cancel)
    {
        var text = await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "demo", "systems", $"{id}.json"), cancel);
        var document = SystemDocument.Read(text);
        if (document.Fault is { } fault)
            throw new InvalidOperationException(fault.Words);
        db.Systems.Add(
            new ConnectedSystem
            {
                Id = id,
                Name = document.Value.Name,
                Kind = document.Value.Kind,
                Mark = document.Value.Mark,
                Currency = document.Value.Currency,
                Decimals = document.Value.Decimals,
                Document = text,
                Address = id == Till ? Till : $"{sandbox}/{id}/",
                ProtectedCredential = credential is null ? null : vault.Protect(credential),
                CredentialSetAt = credential is null ? null : clock.GetUtcNow(),
            }
        );
    }

    private static IEnumerable<DemoLane> Lanes()
    {
        // As the shop was priced by hand until now.
        var price = new PriceRule
        {
            PriceList = "Studio",
            Tax = new TaxSides(TaxBasis.Net, TaxBasis.Gross),
            Ending = new PriceEnding
            {
                Kind = EndingKind.Step,
                Step = 0.05m,
                Direction = Direction.Up,
            },
        };
        var shelves = new StockRule { Locations = ["Quay Street"], Basis = StockBasis.OnHand };
        foreach (var target in new[] { "web-shop", Till, "trade-portal", "clay-lane" })
            yield return new("items", target, new ItemDocument(new FieldMap()), "nothing is mapped yet");
        yield return new("prices", "web-shop", new PriceDocument(price), "as the shop was priced by hand");
        yield return new("stock", "web-shop", new StockDocument(new StockRule()), "everything that is available");
        yield return new("prices", Till, new PriceDocument(price), "the same as in the web shop");
        yield return new("stock", Till, new StockDocument(shelves), "what is on the shelves of the shop");
        var portal = new PriceDocument(new PriceRule { PriceList = "Studio" });
        yield return new("prices", "trade-portal", portal, "net, as the back office has it");
        yield return new("stock", "trade-portal", new StockDocument(new StockRule()), "everything that is available");
        var market = new PriceDocument(price with { Bands = [new PriceBand { Add = 1 }] });
        yield return new("prices", "clay-lane", market, "one euro more for the market's fee");
        yield return new("stock", "clay-lane", new StockDocument(new StockRule { Cap = 20 }), "no more than the market shows");
        foreach (var (store, policy) in DemoOrders.All)
            yield return new("orders", store, policy, "as orders were typed in by hand") { ToHub = true };
    }

    private void Add(NarbitContext db, DemoLane lane)
    {
        db.Lanes.Add(
            new Lane
            {
                Id = lane.Id,
                Kind = LaneWorks.Of(lane.Document).Kind,
                SourceId = lane.ToHub ? lane.Other : Hub,
                TargetId = lane.ToHub ? Hub : lane.Other,
                RuleNumber = 1,
            }
        );
        db.RuleVersions.Add(
            new RuleVersion
            {
                LaneId = lane.Id,
                Number = 1,
                Document = LaneJson.Write(lane.Document),
                Author = "Ines O.",
                At = clock.GetUtcNow(),
                Note = lane.Note,
            }
        );
    }

    // The sandbox may listen on another port than last time.
    private static async Task MoveAsync(NarbitContext db, string sandbox, CancellationToken cancel)
    {
        foreach (var (id, _) in Systems.Where(s => s.Id != Till))
        {
            var address = $"{sandbox}/{id}/";
            var system = await db.Systems.FirstOrDefaultAsync(s => s.Id == id, cancel);
            if (system is null || system.Address == address || !system.Address.StartsWith("http://127.0.0.1", StringComparison.Ordinal))
                continue;
            system.Address = address;
            system.Revision++;
        }

        await db.SaveChangesAsync(cancel);
    }

    // A lane between the back office and one of the stores, with its first document.
    private sealed record DemoLane(string What, string Other, LaneDocument Document, string Note)
    {
        public bool ToHub { get; init; }

        public string Id => $"{What}-{Other}";
    }
}
