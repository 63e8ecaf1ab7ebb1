using Microsoft.AspNetCore.Http.HttpResults;
using Narbit.Core;
using Narbit.Engine;
using Narbit.Engine.Jobs;
using Narbit.Engine.Workspaces.Files;
using Narbit.Web.Api;

namespace Narbit.Web.Setup;

/// <summary>The workspace as files: given out as an archive, looked at and taken in.</summary>
internal static class WorkspaceFilesApi
{
    private const long MostUpload = Uploads.Most;

    public static void Map(RouteGroupBuilder api)
    {
        var files = api.MapGroup("/workspace/files").WithTags("Settings");
        files.MapGet("/", ExportAsync).WithName("exportWorkspace");
        files.MapPost("/look", LookAsync).WithName("lookAtWorkspace").OnlyLooks().TakesFiles();
        files.MapPost("/", TakeAsync).WithName("importWorkspace").TakesFiles();
        foreach (var (name, schema) in WorkspaceText.Schemas)
            api.MapGet($"/schemas/{name}.json", () => TypedResults.Text(schema(), "application/schema+json")).WithTags("Settings");
    }

    private static async Task<FileContentHttpResult> ExportAsync(WorkspaceExport export, CancellationToken cancel) =>
        TypedResults.File((await export.FilesAsync(cancel)).Zip(), "application/zip", "workspace.zip");

    private static async Task<Results<Ok<WorkspaceReport>, ProblemHttpResult>> LookAsync(
        IFormFile file,
        WorkspaceImport import,
        CancellationToken cancel
    )
    {
        var files = Read(file);
        return files.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(await import.LookAsync(files.Value, cancel));
    }

    private static async Task<Results<Ok<WorkspaceReport>, ProblemHttpResult>> TakeAsync(
        IFormFile file,
        string basis,
        WorkspaceImport import,
        JobClock jobs,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var files = Read(file);
        if (files.Fault is { } unreadable)
            return Problems.Of(unreadable);
        var taken = await import.TakeAsync(files.Value, basis, cancel);
        if (taken.Fault is { } fault)
            return Problems.Of(fault);
        jobs.Wake();
        live.Tell(new LiveEvent("workspace", ""));
        return TypedResults.Ok(taken.Value);
    }

    private static Outcome<WorkspaceFiles> Read(IFormFile file)
    {
        if (file.Length > MostUpload)
            return new Reason("workspace.tooLarge", $"The archive has {file.Length >> 20:N0} MiB; at most {MostUpload >> 20} are read.");
        using var content = file.OpenReadStream();
        return WorkspaceFiles.Read(content);
    }
}
