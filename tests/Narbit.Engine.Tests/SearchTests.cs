using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Engine.Searching;

namespace Narbit.Engine.Tests;

/// <summary>Records are found by anything that they are called, in all systems at once.</summary>
public sealed class SearchTests
{
    [Fact]
    public async Task A_record_is_found_by_sku_barcode_key_part_of_its_name_and_with_slips()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.Reader.ReadAsync("back-office", RecordKind.Item, full: true, default);
        await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default);
        var index = new SearchIndex(bench.Database, bench.Adapters, TimeProvider.System);
        (await index.CatchUpAsync(default)).ShouldBeGreaterThan(400);
        var search = new RecordSearch(bench.Database);
        async Task<string[]> FoundAsync(string text) =>
            [.. (await search.FindAsync(text, 20, default)).Records.Select(r => $"{r.SystemId}/{r.Reference}")];

        var both = new[] { "back-office/GLZ-CEL-250", "web-shop/GLZ-CEL-250" };
        (await FoundAsync("GLZ-CEL-250")).Take(2).ShouldBe(both, ignoreOrder: true);
        (await FoundAsync("10001"))[0].ShouldBe("back-office/GLZ-CEL-250");
        (await FoundAsync("celadon 250")).ShouldContain("back-office/GLZ-CEL-250");
        (await FoundAsync("eladon glaze")).ShouldContain("web-shop/GLZ-CEL-250");
        (await FoundAsync("celdaon glaze")).ShouldContain("back-office/GLZ-CEL-250");
        await using var db = bench.Database.CreateDbContext();
        var barcode = Reading.StoredRecord.Values((await db.Records.FirstAsync(r => r.Key == "10001")).Values)["barcode"];
        (await FoundAsync(barcode)).ShouldContain("back-office/GLZ-CEL-250");
        (await FoundAsync("nothing is called so")).ShouldBeEmpty();
        (await FoundAsync("\"' OR 1=1 --")).ShouldBeEmpty();

        // What changes is found by its new name once the index has caught up, and only what changed is taken in again.
        bench.Shop.Update([
            new Sandbox.WebShop.ShopEdit
            {
                VariantId = 90_010,
                Content = new Sandbox.WebShop.ShopContent("Quincunx vase", null, null, null, null, null, null, null),
            },
        ]);
        await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default);
        (await index.CatchUpAsync(default)).ShouldBe(3);
        (await index.CatchUpAsync(default)).ShouldBe(0);
        (await search.FindAsync("quincunx", 20, default)).IsLike.ShouldBeFalse();
        (await search.FindAsync("quincunx", 20, default)).Records.ShouldAllBe(r =>
            r.Caption!.Contains("Quincunx", StringComparison.Ordinal)
        );
    }
}
