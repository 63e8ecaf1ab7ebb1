using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging.Abstractions;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Pricing;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Data.Systems;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Corrections;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Lanes.Maps;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Lanes.Stock;
using Narbit.Engine.Pairing;
using Narbit.Engine.Reading;
using Narbit.Engine.Runs;
using Narbit.Engine.Systems;
using Narbit.Sandbox;
using Narbit.Sandbox.Faults;
using Narbit.Sandbox.WebShop;

namespace Narbit.Engine.Tests;

/// <summary>A whole Narbit without its web server: real SQLite, the real engine, and the stand-ins over real HTTP.</summary>
public sealed class Workbench : IAsyncDisposable
{
    public const string Prices = "prices-web-shop";
    public const string Stock = "stock-web-shop";

    // All migrations take longer than most tests, so they are applied once, and each begins with a copy.
    private static readonly Lazy<Task<byte[]>> Empty = new(MigratedAsync);
    private readonly DirectoryInfo _folder;

    private Workbench(DirectoryInfo folder, SandboxHost sandbox)
    {
        (_folder, Sandbox) = (folder, sandbox);
        Database = new Database(Path.Combine(folder.FullName, "narbit.db"));
        Adapters = new AdapterSource(
            Database,
            new OpenVault(),
            new OutboundPolicy(AllowLoopback: true, Files: sandbox.Folder),
            TimeProvider.System
        );
        Reader = new MirrorReader(Database, Adapters, Live, TimeProvider.System);
        Pairing = new PairingStep(Database, new LimitedTitles(Database), TimeProvider.System);
        Desk = new PairDesk(Database, Adapters, Reader, Pairing, TimeProvider.System);
        Engine = new RunEngine(Database, Reader, Desk, Live, TimeProvider.System, NullLogger<RunEngine>.Instance);
        Runs = new RunDesk(Database, Engine, Live, TimeProvider.System);
        Trial = new LaneTrial(Database, Adapters, TimeProvider.System);
        Decisions = new DecisionDesk(Database, TimeProvider.System);
    }

    public SandboxHost Sandbox { get; }

    public Database Database { get; }

    public AdapterSource Adapters { get; }

    public LiveFeed Live { get; } = new();

    public MirrorReader Reader { get; }

    public RunEngine Engine { get; }

    public RunDesk Runs { get; }

    public LaneTrial Trial { get; }

    public PairingStep Pairing { get; }

    public PairDesk Desk { get; }

    public CorrectionDesk Corrections => new(Database, Adapters, TimeProvider.System);

    public DecisionDesk Decisions { get; }

    public WebShopState Shop => Sandbox.Shop;

    public FaultDial ShopDial => Sandbox.Dials["web-shop"];

    public FaultDial OfficeDial => Sandbox.Dials["back-office"];

    /// <param name="items">How many items the back office has.</param>
    /// <param name="edit">Changes a system's description before it is stored.</param>
    /// <param name="orders">How many orders the stores have between them.</param>
    public static async Task<Workbench> OpenAsync(int items = 240, Action<string, JsonObject>? edit = null, int orders = 400)
    {
        var folder = Directory.CreateTempSubdirectory("narbit-engine");
        var bench = new Workbench(
            folder,
            await SandboxHost.StartAsync(new SandboxOptions(Items: items, ShopRequestsPerSecond: 2000, Orders: orders))
        );
        await File.WriteAllBytesAsync(bench.Database.Path, await Empty.Value);
        await using var db = bench.Database.CreateDbContext();
        db.Workspaces.Add(
            new Workspace
            {
                Name = "Lanternmoor",
                TimeZone = "UTC",
                HubId = "back-office",
                Person = "Tester",
            }
        );
        foreach (var (id, secret) in new[] { ("back-office", "kilnyard-demo-key"), ("web-shop", "narbit:shopfront-demo") })
            db.Systems.Add(bench.System(id, secret, edit));
        // The web shop is in step already; its certain pairs are linked by themselves.
        db.Couples.Add(
            new Couple
            {
                HubId = "back-office",
                OtherId = "web-shop",
                Kind = Core.Records.RecordKind.Item,
                AcceptsCertain = true,
                Way = StockTakingWay.TakeOver,
            }
        );
        foreach (
            var (id, kind, rule) in new[]
            {
                (Prices, "price", LaneJson.Write(new PriceDocument(PlainPrice))),
                (Stock, "stock", LaneJson.Write(new StockDocument(new StockRule()))),
            }
        )
        {
            db.Lanes.Add(
                new Lane
                {
                    Id = id,
                    Kind = kind,
                    SourceId = "back-office",
                    TargetId = "web-shop",
                    RuleNumber = 1,
                }
            );
            db.RuleVersions.Add(
                new RuleVersion
                {
                    LaneId = id,
                    Number = 1,
                    Document = rule,
                    Author = "Tester",
                    At = DateTimeOffset.UtcNow,
                    Guards = RuleJson.Write(GuardLimits.None),
                }
            );
        }

        await db.SaveChangesAsync();
        return bench;
    }

    /// <summary>A database with nothing in it.</summary>
    public static Task<byte[]> EmptyDatabaseAsync() => Empty.Value;

    private static async Task<byte[]> MigratedAsync()
    {
        var folder = Directory.CreateTempSubdirectory("narbit-migrated");
        var database = new Database(Path.Combine(folder.FullName, "narbit.db"));
        await database.MigrateAsync();
        Database.ForgetConnections();
        var migrated = await File.ReadAllBytesAsync(database.Path);
        folder.Delete(recursive: true);
        return migrated;
    }

    /// <summary>
    /// Adds a further store with a lane for prices and one for stock, reads it with the hub, and pairs; nothing is decided.
    /// </summary>
    /// <returns>The couple.</returns>
    public async Task<Couple> AddStoreAsync(string id, ConnectedSystem? described = null)
    {
        await using (var db = Database.CreateDbContext())
        {
            db.Systems.Add(
                described
                    ?? System(
                        id,
                        id switch
                        {
                            "trade-portal" => "studio-trade-demo-token",
                            "clay-lane" => "clay-lane-demo-key",
                            _ => null,
                        }
                    )
            );
            foreach (var kind in new[] { "price", "stock" })
            {
                var lane = $"{(kind == "price" ? "prices" : "stock")}-{id}";
                db.Lanes.Add(
                    new Lane
                    {
                        Id = lane,
                        Kind = kind,
                        SourceId = "back-office",
                        TargetId = id,
                        RuleNumber = 1,
                    }
                );
                db.RuleVersions.Add(
                    new RuleVersion
                    {
                        LaneId = lane,
                        Number = 1,
                        Document = LaneJson.Write(
                            kind == "price" ? new PriceDocument(PlainPrice) : new StockDocument(new StockRule { Cap = 20 })
                        ),
                        Author = "Tester",
                        At = DateTimeOffset.UtcNow,
                        Guards = RuleJson.Write(GuardLimits.None),
                    }
                );
            }

            await db.SaveChangesAsync();
        }

        foreach (var system in new[] { "back-office", id })
            (await Reader.ReadSystemAsync(system, full: true, default)).Fault.ShouldBeNull();
        var couple = (await Desk.EnsureAllAsync(default)).First(c => c.OtherId == id && c.Kind == Core.Records.RecordKind.Item);
        (await Desk.PairAsync(couple.Id, read: false, default)).Fault.ShouldBeNull();
        return couple;
    }

    /// <summary>Adds an item lane to a store, and pairs what is certain.</summary>
    /// <returns>The lane's id.</returns>
    public async Task<string> AddItemLaneAsync(string target, FieldMap map, GuardLimits? guards = null)
    {
        var id = $"items-{target}";
        await using var db = Database.CreateDbContext();
        db.Lanes.Add(
            new Lane
            {
                Id = id,
                Kind = "item",
                SourceId = "back-office",
                TargetId = target,
                RuleNumber = 0,
            }
        );
        await db.SaveChangesAsync();
        await SetRuleAsync(id, new ItemDocument(map), guards);
        return id;
    }

    /// <summary>What somebody would get by accepting every suggestion.</summary>
    public async Task<FieldMap> SuggestedAsync(string lane)
    {
        var suggestions = await new MapLook(Database, Adapters).SuggestAsync(lane, new FieldMap(), default);
        suggestions.Fault.ShouldBeNull();
        return new FieldMap
        {
            Fields = [.. suggestions.Value.Select(s => s.Mapping)],
            Crosswalks = [.. suggestions.Value.Select(s => s.Crosswalk).OfType<Crosswalk>()],
        };
    }

    /// <summary>What a field map would do.</summary>
    public async Task<MapTrial> TryMapAsync(string lane, FieldMap map, string? focus = null)
    {
        var trial = await Trial.TryAsync(lane, new ItemDocument(map), null, focus, default);
        trial.Fault.ShouldBeNull();
        return (MapTrial)trial.Value;
    }

    /// <summary>The proposals of a couple.</summary>
    public async Task<List<PairProposal>> ProposalsAsync(long coupleId)
    {
        await using var db = Database.CreateDbContext();
        return await db.Proposals.AsNoTracking().Where(p => p.CoupleId == coupleId).OrderBy(p => p.Id).ToListAsync();
    }

    /// <summary>The links of a couple.</summary>
    public async Task<List<PairLink>> LinksAsync(long coupleId)
    {
        await using var db = Database.CreateDbContext();
        return await db.Links.AsNoTracking().Where(l => l.CoupleId == coupleId).OrderBy(l => l.Id).ToListAsync();
    }

    public static PriceRule PlainPrice { get; } =
        new()
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

    /// <summary>+18 %, tax added, ending .99: nearly every price moves.</summary>
    public static PriceRule Markup { get; } =
        PlainPrice with
        {
            Bands = [new PriceBand { Multiply = 1.18m }],
            Ending = new PriceEnding { Kind = EndingKind.Charm, Endings = [0.99m] },
        };

    public static JsonObject Description(string id) =>
        JsonNode.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "systems", $"{id}.json")))!.AsObject();

    public ConnectedSystem System(string id, string? secret, Action<string, JsonObject>? edit = null)
    {
        var description = Description(id);
        // Waiting is for people; tests want to know quickly.
        if (id == "quay-street-till")
            description["settleSeconds"] = 0.05;
        else
            description["limits"] = new JsonObject
            {
                ["requestsPerSecond"] = 1000,
                ["timeoutSeconds"] = 0.8,
                ["attempts"] = 6,
            };
        edit?.Invoke(id, description);
        var document = SystemDocument.Read(description.ToJsonString());
        document.Fault.ShouldBeNull();
        return new ConnectedSystem
        {
            Id = id,
            Name = document.Value.Name,
            Kind = document.Value.Kind,
            Mark = document.Value.Mark,
            Currency = "EUR",
            Document = description.ToJsonString(),
            Address = id == "quay-street-till" ? id : new Uri(Sandbox.Address, $"{id}/").ToString(),
            ProtectedCredential = secret,
        };
    }

    public async Task<IAdapter> AdapterAsync(string id)
    {
        var connection = await Adapters.ForAsync(id, default);
        connection.Fault.ShouldBeNull();
        return connection.Value.Adapter;
    }

    /// <summary>An adapter for a changed system, e.g. with another address or secret.</summary>
    public IAdapter Adapter(string id, string secret, string? address = null, Action<string, JsonObject>? edit = null)
    {
        var system = System(id, secret, edit);
        var adapter = Adapters.Make(system.Document, address ?? system.Address, new OpenVault().Open(secret));
        adapter.Fault.ShouldBeNull();
        return adapter.Value;
    }

    public async Task<Run> RunAsync(string lane, bool preview)
    {
        var id = await Runs.StartAsync(lane, preview, RunTrigger.Person, "Tester", default);
        id.Fault.ShouldBeNull();
        return await EndedAsync(id.Value);
    }

    /// <summary>Every write of the run that was not left out is confirmed.</summary>
    public async Task ShouldBeConfirmedAsync(long runId, Func<PlannedWrite, bool>? which = null) =>
        (await WritesAsync(runId))
            .Where(w => which?.Invoke(w) != false && w.State is not (WriteState.Confirmed or WriteState.Skipped))
            .Select(w => $"{w.Act} {w.Reference} {w.TargetKey}: {w.State}, {(w.Hold ?? w.Fate)?.Words}")
            .ShouldBeEmpty();

    /// <summary>What a run said of its records, for whoever wonders why it did not do more.</summary>
    public async Task<string> SaidAsync(Run run)
    {
        await using var db = Database.CreateDbContext();
        var remarks = await db.Remarks.AsNoTracking().Where(r => r.RunId == run.Id).ToListAsync();
        var words = remarks
            .Select(r => r.Why.Words)
            .Concat((await WritesAsync(run.Id)).Select(w => $"{w.Act} {w.State}: {(w.Hold ?? w.Fate)?.Words}"))
            .GroupBy(w => w, StringComparer.Ordinal)
            .OrderByDescending(g => g.Count())
            .Select(g => $"{g.Count()} × {g.Key}");
        return $"run {run.Id}: {run.Paired} compared, {run.InStep} in step; {string.Join("; ", words.Take(8))}";
    }

    public async Task<Run> EndedAsync(long runId)
    {
        await Engine.WhenIdleAsync();
        await using var db = Database.CreateDbContext();
        return await db.Runs.AsNoTracking().FirstAsync(r => r.Id == runId);
    }

    public async Task<IReadOnlyList<PlannedWrite>> WritesAsync(long runId)
    {
        await using var db = Database.CreateDbContext();
        return await db.Writes.AsNoTracking().Include(w => w.Fields).Where(w => w.RunId == runId).OrderBy(w => w.Id).ToListAsync();
    }

    /// <summary>Saves a version; without limits its guards watch nothing.</summary>
    public async Task SetRuleAsync(string lane, LaneDocument document, GuardLimits? guards = null)
    {
        await using var db = Database.CreateDbContext();
        var row = await db.Lanes.FirstAsync(l => l.Id == lane);
        db.RuleVersions.Add(
            new RuleVersion
            {
                LaneId = lane,
                Number = ++row.RuleNumber,
                Document = LaneJson.Write(document),
                Author = "Tester",
                At = DateTimeOffset.UtcNow,
                Guards = RuleJson.Write(guards ?? GuardLimits.None),
            }
        );
        await db.SaveChangesAsync();
    }

    /// <summary>The shop's price in cents, as the shop itself has it.</summary>
    public int PriceCents(string variantId) => Variant(variantId).PriceCents;

    /// <summary>A variant's number in the shop.</summary>
    public static long Id(string variantId) => long.Parse(variantId, global::System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>The product that a variant hangs under, as the shop itself has it.</summary>
    public Product Product(string variantId) =>
        Shop.Page(1, 100_000, null, (all, _) => all.Single(p => p.Variants.Any(v => v.Id == Id(variantId))));

    public Variant Variant(string variantId) => Shop.Lookup([Id(variantId)], found => found.Single().Variant);

    /// <summary>Every write of the run is confirmed, the shop holds each value, and no key took effect twice.</summary>
    public async Task ShouldBeCompleteAsync(long runId)
    {
        var writes = await WritesAsync(runId);
        foreach (var write in writes.Where(w => w.State is not (WriteState.Held or WriteState.Skipped)))
        {
            write.State.ShouldBe(WriteState.Confirmed, $"{write.Reference}: {write.Fate?.Words}");
            var leading = write.Fields.MinBy(f => f.Position)!;
            var held = leading.Field == "price" ? Variant(write.TargetKey).PriceCents / 100m : Variant(write.TargetKey).Quantity;
            held.ShouldBe(decimal.Parse(leading.New!, global::System.Globalization.CultureInfo.InvariantCulture), write.Reference);
        }

        Shop.Applied.GroupBy(a => a.Key).ShouldAllBe(g => g.Count() == 1);
    }

    public async ValueTask DisposeAsync()
    {
        ShopDial.Shares = OfficeDial.Shares = new FaultShares();
        await Engine.DisposeAsync();
        await Sandbox.DisposeAsync();
        Database.ForgetConnections();
        _folder.Delete(recursive: true);
    }

    /// <summary>Keeps secrets as they are; for tests only.</summary>
    public sealed class OpenVault : ICredentialVault
    {
        public string Protect(Credential credential) =>
            credential.User is null ? credential.Secret : $"{credential.User}:{credential.Secret}";

        public Outcome<Credential> Open(string protectedCredential) =>
            protectedCredential.Split(':', 2) is [var user, var secret]
                ? new Credential(user, secret)
                : new Credential(null, protectedCredential);
    }
}
