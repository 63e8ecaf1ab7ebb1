using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Narbit.Data;
using Narbit.Data.Growth;

namespace Narbit.Engine.Tests;

/// <summary>What grows as long as Narbit works can be found by its age and by what it belongs to, without being read.</summary>
public sealed class GrowingTableTests
{
    private static readonly IModel Model = new NarbitContext.DesignTime().CreateDbContext([]).Model;

    [Fact]
    public void Each_table_grows_with_an_instant_and_an_owner_or_is_kept_for_good_or_is_a_setting()
    {
        var said = GrowingTable.All.Select(g => g.Entity).Concat(GrowingTable.KeptForGood).Concat(GrowingTable.Settings).ToList();
        said.ShouldBeUnique();
        Model.GetEntityTypes().Where(e => !e.IsOwned()).Select(e => e.ClrType).ShouldBe(said, ignoreOrder: true);
    }

    [Fact]
    public void What_is_old_is_found_by_an_index_of_its_own_or_by_that_of_its_owner()
    {
        foreach (var table in GrowingTable.All)
        {
            First(table.Entity).ShouldContain(table.Instant ?? table.Owner, table.Entity.Name);
            Model.FindEntityType(table.Entity)!.FindProperty(table.Owner).ShouldNotBeNull();
        }
    }

    [Fact]
    public void What_goes_with_its_owner_is_found_by_it()
    {
        foreach (var table in GrowingTable.All)
            First(table.Entity).ShouldContain(table.Owner, table.Entity.Name);
    }

    // The first columns of what a table is found by; an index of some rows counts where it is of those that have the column.
    private static IEnumerable<string> First(Type entity)
    {
        var type = Model.FindEntityType(entity)!;
        var indices = type.GetIndexes().Where(i => i.GetFilter() is null || i.GetFilter() == $"\"{i.Properties[0].Name}\" IS NOT NULL");
        return indices.Select(i => i.Properties[0].Name).Concat(type.GetKeys().Select(k => k.Properties[0].Name));
    }
}
