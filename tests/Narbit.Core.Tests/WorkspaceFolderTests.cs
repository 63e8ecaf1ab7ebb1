using Narbit.Cli;
using Narbit.Engine.Workspaces;

namespace Narbit.Core.Tests;

/// <summary>A workspace as a folder, from the command line.</summary>
public sealed class WorkspaceFolderTests : IDisposable
{
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("narbit-folder");

    [Fact]
    public async Task It_is_looked_at_first_then_taken_in_and_given_out_the_same()
    {
        var (demo, data, given) = (Path.Combine(AppContext.BaseDirectory, "demo"), In("data"), In("given"));
        (await WorkspaceFolder.RunAsync(["export", "--data", data, "--out", given])).ShouldBe(1, "there is no such folder");
        (await WorkspaceFolder.RunAsync(["import", "--data", data, "--in", demo])).ShouldBe(0);
        (await WorkspaceFolder.RunAsync(["export", "--data", data, "--out", given])).ShouldBe(1, "nothing was taken in by looking");
        (await WorkspaceFolder.RunAsync(["import", "--data", data, "--in", demo, "--apply"])).ShouldBe(0);
        (await WorkspaceFolder.RunAsync(["export", "--data", data, "--out", given])).ShouldBe(0);
        foreach (var file in Directory.EnumerateFiles(demo, "*", SearchOption.AllDirectories))
            (await File.ReadAllTextAsync(Path.Combine(given, Path.GetRelativePath(demo, file)))).ShouldBe(
                await File.ReadAllTextAsync(file),
                file
            );

        File.Delete(Path.Combine(given, "systems", "clay-lane.json"));
        (await WorkspaceFolder.RunAsync(["import", "--data", data, "--in", given, "--apply"])).ShouldBe(1, "a file is missing");
        (await WorkspaceFolder.RunAsync(["import", "--data", data, "--in", In("nowhere")])).ShouldBe(1);
        (await WorkspaceFolder.RunAsync(["import", "--data", data])).ShouldBe(2);
        using var taken = DataFolder.Take(data).Value;
        (await WorkspaceFolder.RunAsync(["export", "--data", data, "--out", given])).ShouldBe(1, "a server works with it");
    }

    public void Dispose() => _folder.Delete(recursive: true);

    private string In(string name) => Path.Combine(_folder.FullName, name);
}
