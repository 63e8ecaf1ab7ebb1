using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Adapters.Rest;
using Narbit.Core;
using Narbit.Core.Pricing;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Data.Systems;
using Narbit.Engine.Runs;
using Narbit.Engine.Systems;

namespace Narbit.Web.Setup;

/// <summary>Sets the Lanternmoor workspace up: two systems, two lanes, and a first look at both sides.</summary>
public sealed class DemoWorkspace(Database database, ICredentialVault vault, RunEngine engine, TimeProvider clock)
{
    // The stand-ins' own demo credentials; they open nothing else.
    private static readonly (string Id, Credential Credential)[] Systems =
        [("back-office", new Credential(null, "kilnyard-demo-key")), ("web-shop", new Credential("narbit", "shopfront-demo"))];

    public async Task PrepareAsync(string sandbox, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.Workspaces.AnyAsync(cancel))
        {
            await MoveAsync(db, sandbox, cancel);
            return;
        }

        db.Workspaces.Add(new Workspace { Name = "Lanternmoor Ceramics Supply", TimeZone = "Europe/Dublin", HubId = "back-office", Person = "Ines O." });
        foreach (var (id, credential) in Systems)
        {
            var text = await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "demo", "systems", $"{id}.json"), cancel);
            var document = RestDocument.Read(text);
            if (document.Fault is { } fault) throw new InvalidOperationException(fault.Message);
            db.Systems.Add(new ConnectedSystem
            {
                Id = id,
                Name = document.Value.Name,
                Kind = document.Value.Kind,
                Mark = document.Value.Mark,
                Currency = document.Value.Currency,
                Decimals = document.Value.Decimals,
                Document = text,
                Address = $"{sandbox}/{id}/",
                ProtectedCredential = vault.Protect(credential),
                CredentialSetAt = clock.GetUtcNow(),
            });
        }

        // As the shop was priced by hand until now.
        var price = new PriceRule
        {
            PriceList = "Studio",
            Tax = new TaxSides(TaxBasis.Net, TaxBasis.Gross),
            Ending = new PriceEnding { Kind = EndingKind.Step, Step = 0.05m, Direction = Direction.Up },
        };
        AddLane("prices-web-shop", LaneKind.Price, RuleJson.Write(price), "as the shop was priced by hand");
        AddLane("stock-web-shop", LaneKind.Stock, RuleJson.Write(new StockRule()), "everything that is available");
        await db.SaveChangesAsync(cancel);

        foreach (var lane in new[] { "prices-web-shop", "stock-web-shop" })
            await engine.StartAsync(lane, preview: true, RunTrigger.Setup, "Setting up", cancel);

        void AddLane(string id, LaneKind kind, string rule, string note)
        {
            db.Lanes.Add(new Lane { Id = id, Kind = kind, SourceId = "back-office", TargetId = "web-shop", RuleNumber = 1 });
            db.RuleVersions.Add(new RuleVersion { LaneId = id, Number = 1, Document = rule, Author = "Ines O.", At = clock.GetUtcNow(), Note = note });
        }
    }

    // The sandbox may listen on another port than last time.
    private static async Task MoveAsync(NarbitContext db, string sandbox, CancellationToken cancel)
    {
        foreach (var (id, _) in Systems)
        {
            var address = $"{sandbox}/{id}/";
            var system = await db.Systems.FirstOrDefaultAsync(s => s.Id == id, cancel);
            if (system is null || system.Address == address || !system.Address.StartsWith("http://127.0.0.1", StringComparison.Ordinal)) continue;
            system.Address = address;
            system.Revision++;
        }

        await db.SaveChangesAsync(cancel);
    }
}
