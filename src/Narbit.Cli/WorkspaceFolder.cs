using Narbit.Core;
using Narbit.Data;
using Narbit.Engine.Workspaces;
using Narbit.Engine.Workspaces.Files;

namespace Narbit.Cli;

/// <summary>A workspace as a folder of files: given out, looked at and taken in, while no server works with its data.</summary>
public static class WorkspaceFolder
{
    /// <summary>How it is used.</summary>
    public const string Usage =
        "narbit workspace export --data DIR --out FOLDER\n       narbit workspace import --data DIR --in FOLDER [--apply]   shows "
        + "what would change; --apply changes it";

    /// <summary>Runs a command line: 0 when it went well, 1 when it did not, 2 on wrong usage.</summary>
    public static async Task<int> RunAsync(string[] args)
    {
        Func<Database, Task<Reason?>>? act = args switch
        {
            ["export", "--data", _, "--out", var folder] => db => ExportAsync(db, folder),
            ["import", "--data", _, "--in", var folder] => db => ImportAsync(db, folder, apply: false),
            ["import", "--data", _, "--in", var folder, "--apply"] => db => ImportAsync(db, folder, apply: true),
            _ => null,
        };
        if (act is null)
        {
            await Console.Error.WriteLineAsync($"usage: {Usage}");
            return 2;
        }

        if (await InDataAsync(args[2], make: args[0] == "import", act) is not { } fault)
            return 0;
        await Console.Error.WriteLineAsync($"narbit workspace: {fault.Words}");
        return 1;
    }

    // Two at once would not see each other's changes.
    private static async Task<Reason?> InDataAsync(string path, bool make, Func<Database, Task<Reason?>> act)
    {
        if (!make && !Directory.Exists(path))
            return new Reason("data.none", $"There is no folder {path}.");
        var taken = DataFolder.Take(Path.GetFullPath(path));
        if (taken.Fault is { } inUse)
            return inUse;
        using var folder = taken.Value;
        var database = new Database(folder.Database);
        await database.MigrateAsync();
        try
        {
            return await act(database);
        }
        finally
        {
            Database.ForgetConnections();
        }
    }

    private static async Task<Reason?> ExportAsync(Database database, string folder)
    {
        var files = await new WorkspaceExport(database).FilesAsync(CancellationToken.None);
        if (files.All.Count == 0)
            return new Reason("workspace.none", "Nothing is set up in this data folder yet, so there is nothing to give out.");
        if (files.Write(new DirectoryInfo(folder)) is { } fault)
            return fault;
        Console.WriteLine($"{files.All.Count} files in {folder}");
        return null;
    }

    private static async Task<Reason?> ImportAsync(Database database, string folder, bool apply)
    {
        var files = WorkspaceFiles.Read(new DirectoryInfo(folder));
        if (files.Fault is { } unreadable)
            return unreadable;
        var import = new WorkspaceImport(database, TimeProvider.System);
        var report = await import.LookAsync(files.Value, CancellationToken.None);
        Show(report);
        if (report.Faults.Count > 0)
            return new Reason("workspace.faulty", $"{report.Faults.Count} faults; nothing was taken in.");
        if (!apply)
        {
            Console.WriteLine(report.Changes.Count == 0 ? "Nothing would change." : "Nothing was changed yet; --apply takes it in.");
            return null;
        }

        var taken = await import.TakeAsync(files.Value, report.Basis, CancellationToken.None);
        if (taken.Fault is null)
            Console.WriteLine($"{report.Changes.Count} changes taken in.");
        return taken.Fault;
    }

    private static void Show(WorkspaceReport report)
    {
        foreach (var fault in report.Faults)
            Console.WriteLine($"{Place(fault.File, fault.Line)}: wrong: {fault.Words}");
        foreach (var change in report.Changes)
            Console.WriteLine($"{Place(change.File, change.Line)}: {change.Words}");
        foreach (var words in report.Means.Concat(report.Stays))
            Console.WriteLine(words);
    }

    private static string Place(string file, int? line) => line is null ? file : $"{file}:{line}";
}
