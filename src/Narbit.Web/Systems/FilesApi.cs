using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using Narbit.Adapters.Describing;
using Narbit.Adapters.Files;
using Narbit.Core;
using Narbit.Engine;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Systems;

internal sealed record FileBrought(string Name);

/// <summary>How a person says that a table is laid out, where what was found out is wrong.</summary>
internal sealed record TableLaidOut
{
    /// <summary>The line that names the columns; 0: none does.</summary>
    public int? Header { get; init; }

    public char? Delimiter { get; init; }

    public string? Encoding { get; init; }

    public string? Kind { get; init; }

    internal TableForm? Form =>
        Header is { } header
            ? new TableForm
            {
                Header = header,
                Delimiter = Delimiter,
                Encoding = Encoding,
            }
            : null;
}

/// <summary>Files of systems that are reached by files: what one is taken for, and bringing one.</summary>
internal static class FilesApi
{
    private const long MostUpload = Uploads.Most;

    public static void Map(RouteGroupBuilder api)
    {
        var systems = api.MapGroup("/systems").WithTags("Systems");
        systems.MapPost("/propose/file", ProposeAsync).WithName("proposeFile").OnlyLooks().TakesFiles();
        systems.MapPost("/peek/file", PeekAsync).WithName("peekFile").OnlyLooks().TakesFiles();
        systems.MapPost("/{id}/files", BringAsync).WithName("bringFile").TakesFiles();
    }

    private static async Task<Results<Ok<FileProposal>, ProblemHttpResult>> ProposeAsync(
        IFormFile file,
        [AsParameters] TableLaidOut laidOut,
        CancellationToken cancel
    )
    {
        if (TooLarge(file) is { } fault)
            return Problems.Of(fault);
        if (laidOut.Encoding is { } encoding && !TextEncoding.IsKnown(encoding))
            return Problems.Of(new Reason("table.encoding", $"There is no encoding called “{encoding}”; give its IANA name."));
        var content = new MemoryStream();
        await file.CopyToAsync(content, cancel);
        content.Position = 0;
        return ProposalsApi.Answer(TableReading.Of(content, file.FileName, laidOut.Form, RecordsApi.KindOf(laidOut.Kind ?? "")));
    }

    // The file is read by the adapter itself, from a folder that is there for it alone.
    private static async Task<Results<Ok<PeekedList>, ProblemHttpResult>> PeekAsync(
        IFormFile file,
        [FromForm] string document,
        string kind,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        if (RecordsApi.KindOf(kind) is not { } which)
            return RecordsApi.NoKind(kind);
        var described = FileDocument.Read(document);
        if ((TooLarge(file) ?? described.Fault) is { } fault)
            return Problems.Of(fault);
        var folder = Directory.CreateTempSubdirectory("narbit-peek");
        try
        {
            using var adapter = new FileAdapter(described.Value with { SettleSeconds = 0 }, folder.FullName, clock);
            await using var content = file.OpenReadStream();
            var brought = await adapter.BringAsync(which, file.FileName, content, cancel);
            return ProposalsApi.Answer(brought.Fault is { } untaken ? untaken : await ProposalsApi.PeekedAsync(adapter, which, cancel));
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private static async Task<Results<Ok<FileBrought>, ProblemHttpResult>> BringAsync(
        string id,
        string kind,
        IFormFile file,
        AdapterSource adapters,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        if (RecordsApi.KindOf(kind) is not { } which)
            return RecordsApi.NoKind(kind);
        if (TooLarge(file) is { } fault)
            return Problems.Of(fault);
        var connection = await adapters.ForAsync(id, cancel);
        if (connection.Fault is { } unknown)
            return Problems.Of(unknown);
        if (connection.Value.Adapter is not FileAdapter files)
            return Problems.Of(new Reason("files.called", $"{connection.Value.System.Name} is called, and takes no files."));
        await using var content = file.OpenReadStream();
        var brought = await files.BringAsync(which, file.FileName, content, cancel);
        if (brought.Fault is { } untaken)
            return Problems.Of(untaken);
        live.Tell(new LiveEvent("system", id));
        return TypedResults.Ok(new FileBrought(brought.Value));
    }

    private static Reason? TooLarge(IFormFile file) =>
        file.Length > MostUpload
            ? new Reason("table.tooLarge", $"{file.FileName} has more than {MostUpload >> 20} MiB. Split it, or put it into the folder.")
            : null;
}
