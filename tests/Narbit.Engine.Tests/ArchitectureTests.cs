using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;

namespace Narbit.Engine.Tests;

public sealed class ArchitectureTests
{
    [Theory]
    [InlineData(typeof(Fault), "")]
    [InlineData(typeof(Database), "Narbit.Core")]
    [InlineData(typeof(Adapters.IAdapter), "Narbit.Core")]
    [InlineData(typeof(LiveFeed), "Narbit.Core Narbit.Data Narbit.Adapters")]
    [InlineData(typeof(Sandbox.SandboxHost), "")]
    public void Projects_reference_downwards_only(Type inside, string allowed) =>
        inside
            .Assembly.GetReferencedAssemblies()
            .Select(a => a.Name!)
            .Where(n => n.StartsWith("Narbit", StringComparison.Ordinal))
            .ShouldBeSubsetOf(allowed.Split(' '));

    [Theory]
    // System.Net.Primitives has addresses as values; what goes out to them stands in the others.
    [InlineData("System.Net.Http")]
    [InlineData("System.Net.Sockets")]
    [InlineData("System.Net.Requests")]
    [InlineData("System.Net.NameResolution")]
    [InlineData("System.IO.FileSystem")]
    [InlineData("Microsoft.EntityFrameworkCore")]
    [InlineData("Microsoft.AspNetCore")]
    [InlineData("Microsoft.Data")]
    public void The_core_knows_no_interface_and_no_input(string assembly) =>
        typeof(Fault).Assembly.GetReferencedAssemblies().ShouldNotContain(a => a.Name!.StartsWith(assembly, StringComparison.Ordinal));

    [Fact]
    public void The_core_does_not_look_at_the_clock_or_at_files()
    {
        var result = NetArchTest
            .Rules.Types.InAssembly(typeof(Fault).Assembly)
            .ShouldNot()
            .HaveDependencyOnAny("System.IO.File", "System.TimeProvider", "System.Diagnostics.Stopwatch")
            .GetResult();
        result.IsSuccessful.ShouldBeTrue(string.Join(", ", result.FailingTypeNames ?? []));
    }

    [Fact]
    public async Task The_migrations_are_up_to_date_with_the_model()
    {
        var folder = Directory.CreateTempSubdirectory("narbit-model");
        var database = new Database(Path.Combine(folder.FullName, "narbit.db"));
        await database.MigrateAsync();
        await using (var db = database.CreateDbContext())
        {
            db.Database.HasPendingModelChanges().ShouldBeFalse();
            (await db.Database.GetPendingMigrationsAsync()).ShouldBeEmpty();
        }

        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        folder.Delete(recursive: true);
    }
}
