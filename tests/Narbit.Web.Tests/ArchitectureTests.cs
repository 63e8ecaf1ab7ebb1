using Mono.Cecil;
using Mono.Cecil.Rocks;
using Narbit.Data;

namespace Narbit.Web.Tests;

/// <summary>What each project may refer to, read from what the compiler made of it.</summary>
public sealed class ArchitectureTests
{
    [Theory]
    [InlineData("Core", "")]
    [InlineData("Data", "Core")]
    [InlineData("Adapters", "Core")]
    [InlineData("Engine", "Core Data Adapters")]
    [InlineData("Web", "Core Data Adapters Engine")]
    [InlineData("Cli", "Core Data Adapters Engine")]
    [InlineData("Sandbox", "")]
    public void Projects_reference_downwards_only(string project, string allowed) =>
        Module(project)
            .AssemblyReferences.Select(a => a.Name)
            .Where(n => n.StartsWith("Narbit.", StringComparison.Ordinal))
            .ShouldBeSubsetOf(allowed.Split(' ').Select(a => $"Narbit.{a}"));

    [Theory]
    // System.Net.Primitives has addresses as values; what goes out to them stands in the others.
    [InlineData("System.Net.Http")]
    [InlineData("System.Net.Sockets")]
    [InlineData("System.Net.Requests")]
    [InlineData("System.Net.NameResolution")]
    [InlineData("Microsoft.EntityFrameworkCore")]
    [InlineData("Microsoft.AspNetCore")]
    [InlineData("Microsoft.Data")]
    public void The_core_knows_no_interface_and_no_input(string assembly)
    {
        var references = Module("Core").AssemblyReferences;
        references.Count.ShouldBeGreaterThan(3);
        references.ShouldNotContain(a => a.Name.StartsWith(assembly, StringComparison.Ordinal));
    }

    [Fact]
    public void The_core_looks_at_no_clock_no_file_and_nothing_else_outside() =>
        Calls(
                "Core",
                "System.IO.File",
                "System.IO.FileInfo",
                "System.IO.FileStream",
                "System.IO.Directory",
                "System.IO.DirectoryInfo",
                "System.IO.StreamReader",
                "System.Console",
                "System.Environment::GetEnvironmentVariable",
                "System.Environment::get_TickCount",
                "System.Environment::get_TickCount64",
                "System.TimeProvider",
                "System.Diagnostics.Stopwatch",
                "System.DateTime::get_Now",
                "System.DateTime::get_UtcNow",
                "System.DateTime::get_Today",
                "System.DateTimeOffset::get_Now",
                "System.DateTimeOffset::get_UtcNow",
                "System.Threading.Thread::Sleep",
                "System.Random::get_Shared",
                "System.Guid::NewGuid"
            )
            .ShouldBeEmpty();

    [Theory]
    [InlineData("Data")]
    [InlineData("Adapters")]
    [InlineData("Engine")]
    [InlineData("Web")]
    [InlineData("Cli")]
    public void The_time_comes_from_a_time_provider(string project) =>
        Calls(
                project,
                "System.DateTime::get_Now",
                "System.DateTime::get_UtcNow",
                "System.DateTime::get_Today",
                "System.DateTimeOffset::get_Now",
                "System.DateTimeOffset::get_UtcNow"
            )
            .ShouldBeEmpty();

    [Theory]
    [InlineData("Core")]
    [InlineData("Adapters")]
    [InlineData("Engine")]
    [InlineData("Web")]
    [InlineData("Cli")]
    public void Raw_SQL_stands_in_the_data_project_alone(string project) =>
        Calls(
                project,
                "Microsoft.Data.Sqlite.SqliteCommand",
                "System.Data.Common.DbCommand",
                "Microsoft.EntityFrameworkCore.RelationalDatabaseFacadeExtensions::ExecuteSql",
                "Microsoft.EntityFrameworkCore.RelationalDatabaseFacadeExtensions::ExecuteSqlRaw",
                "Microsoft.EntityFrameworkCore.RelationalDatabaseFacadeExtensions::ExecuteSqlRawAsync",
                "Microsoft.EntityFrameworkCore.RelationalDatabaseFacadeExtensions::SqlQueryRaw",
                "Microsoft.EntityFrameworkCore.RelationalQueryableExtensions::FromSqlRaw"
            )
            .ShouldBeEmpty();

    [Fact]
    public void What_is_forbidden_would_be_found()
    {
        // The tests above are worth something only while these find what is there.
        Calls("Web", "System.IO.Directory").ShouldNotBeEmpty();
        Calls("Web", "System.TimeProvider").ShouldNotBeEmpty();
        Calls("Data", "Microsoft.Data.Sqlite.SqliteCommand").ShouldNotBeEmpty();
        Calls("Engine", "System.Guid::NewGuid").ShouldNotBeEmpty();
    }

    [Fact]
    public async Task The_migrations_are_up_to_date_with_the_model()
    {
        var folder = Directory.CreateTempSubdirectory("narbit-model");
        var database = new Database(Path.Combine(folder.FullName, "narbit.db"));
        await database.MigrateAsync();
        await using (var db = database.CreateDbContext())
        {
            Microsoft.EntityFrameworkCore.RelationalDatabaseFacadeExtensions.HasPendingModelChanges(db.Database).ShouldBeFalse();
            (await Microsoft.EntityFrameworkCore.RelationalDatabaseFacadeExtensions.GetPendingMigrationsAsync(db.Database)).ShouldBeEmpty();
        }

        Database.ForgetConnections();
        folder.Delete(recursive: true);
    }

    private static ModuleDefinition Module(string project) =>
        ModuleDefinition.ReadModule(Path.Combine(AppContext.BaseDirectory, $"Narbit.{project}.dll"));

    // Every place in a project that uses a type (or one member of it, after ::), as “where: what”.
    private static List<string> Calls(string project, params string[] forbidden) =>
        [
            .. from type in Module(project).GetAllTypes()
            from method in type.Methods
            where method.HasBody
            from instruction in method.Body.Instructions
            let used = instruction.Operand as MemberReference
            where used is MethodReference or FieldReference
            let name = $"{used.DeclaringType?.GetElementType().FullName}::{used.Name}"
            where
                forbidden.Any(f =>
                    f.Contains("::", StringComparison.Ordinal) ? name == f : name.StartsWith($"{f}::", StringComparison.Ordinal)
                )
            select $"{type.FullName}.{method.Name}: {name}",
        ];
}
