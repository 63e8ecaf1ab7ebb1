using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Adapters.Files;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Systems;
using Narbit.Engine;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Systems;

internal sealed record ReadSummary
{
    public required RecordKind Kind { get; init; }

    public required string Label { get; init; }

    public required int Records { get; init; }

    public required int Troubled { get; init; }

    public required string State { get; init; }

    public required bool Full { get; init; }

    public required int Done { get; init; }

    public required int? Total { get; init; }

    public required int Changed { get; init; }

    public required int Gone { get; init; }

    /// <summary>How many entries could not be kept.</summary>
    public required int Unkept { get; init; }

    /// <summary>The first of them, with the other record of the same key beside it.</summary>
    public required IReadOnlyList<ShownUnkept> UnkeptFirst { get; init; }

    public required DateTimeOffset? StartedAt { get; init; }

    public required DateTimeOffset? EndedAt { get; init; }

    public required string? Message { get; init; }
}

internal sealed record SystemSummary
{
    public required string Id { get; init; }

    public required string Name { get; init; }

    public required string Mark { get; init; }

    public required SystemKind Kind { get; init; }

    public required bool IsHub { get; init; }

    public required string Currency { get; init; }

    public required string Address { get; init; }

    public required bool HasCredential { get; init; }

    public required DateTimeOffset? CredentialSetAt { get; init; }

    /// <summary>The last day on which the credential holds; null: no end is known.</summary>
    public string? CredentialEndsOn { get; init; }

    public required string SignsInWith { get; init; }

    /// <summary>Since when access is granted; null: it is not, or needs no grant.</summary>
    public required DateTimeOffset? GrantedAt { get; init; }

    /// <summary>Why the access that was granted counts no more; null: it counts.</summary>
    public required string? GrantLostWhy { get; init; }

    /// <summary>The key by which its server is known again (SHA-256, base64); null: it was not met, or has none.</summary>
    public required string? HostKey { get; init; }

    /// <summary>Whether it is reached by files.</summary>
    public required bool ByFiles { get; init; }

    /// <summary>Whether its description says how its webhooks are told.</summary>
    public required bool SendsWebhooks { get; init; }

    public required bool MayRead { get; init; }

    public required bool MayWrite { get; init; }

    /// <summary>Whether it is read as a whole at least once a day.</summary>
    public required bool ReadsWholeDaily { get; init; }

    /// <summary>Since when it is neither read nor written; null: it is at work.</summary>
    public required DateTimeOffset? PausedAt { get; init; }

    public required string? PausedBy { get; init; }

    public required double RequestsPerSecond { get; init; }

    public required int BatchSize { get; init; }

    public required DateTimeOffset? TestedAt { get; init; }

    public required bool? TestOk { get; init; }

    public required string? TestMessage { get; init; }

    public required int Revision { get; init; }

    public required IReadOnlyList<ReadSummary> Reads { get; init; }
}

internal sealed record CredentialEntry(string? User, string Secret)
{
    /// <summary>The request by which access was granted; null: nothing was granted.</summary>
    public string? Grant { get; init; }

    /// <summary>The credential itself, with what was granted.</summary>
    internal Credential Of(GrantDesk grants) => new(User, Secret) { Grant = Grant is null ? null : grants.Of(Grant) };

    public override string ToString() => "(credential)";
}

internal sealed record SystemToTest(string? Document, string? Address, CredentialEntry? Credential);

internal sealed record SystemToAdd(
    string Id,
    string Document,
    string? Address,
    CredentialEntry? Credential,
    bool MayRead = true,
    bool MayWrite = false,
    bool IsHub = false
);

internal sealed record SystemChange(
    int Revision,
    string Address,
    CredentialEntry? Credential,
    bool MayRead,
    bool MayWrite,
    string? Document = null
)
{
    /// <summary>The last day on which the credential holds, <c>yyyy-MM-dd</c>; empty: no end is known; null: it stays as it is.</summary>
    public string? CredentialEndsOn { get; init; }

    /// <summary>Whether it is read as a whole at least once a day; null: it stays as it is.</summary>
    public bool? ReadsWholeDaily { get; init; }
}

internal sealed record ReadRequest(bool Full);

internal sealed record SystemPause(bool Paused);

internal sealed record ReadingsStopped(int Kinds);

/// <summary>Systems: what they are, whether they answer, what was read of them.</summary>
internal static class SystemsApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var systems = api.MapGroup("/systems").WithTags("Systems");
        systems.MapGet("/", ListAsync).WithName("listSystems");
        systems.MapPost("/", AddAsync).WithName("addSystem");
        systems.MapPost("/test", TestNewAsync).WithName("testNewSystem").OnlyLooks();
        systems.MapPut("/{id}", ChangeAsync).WithName("changeSystem");
        systems.MapPost("/{id}/test", TestAsync).WithName("testSystem");
        systems.MapPost("/{id}/read", ReadAsync).WithName("readSystem");
        systems.MapPost("/{id}/read/stop", StopAsync).WithName("stopReading");
        systems.MapGet("/{id}/document", DocumentAsync).WithName("systemDocument");
        systems.MapDelete("/{id}/host-key", ForgetServerAsync).WithName("forgetHostKey");
        systems.MapPut("/{id}/paused", PauseAsync).WithName("pauseSystem");
    }

    private static async Task<Ok<IReadOnlyList<SystemSummary>>> ListAsync(
        Database database,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var hub = await db.Workspaces.Select(w => w.HubId).FirstOrDefaultAsync(cancel);
        var summaries = new List<SystemSummary>();
        foreach (var system in await db.Systems.AsNoTracking().ToListAsync(cancel))
            summaries.Add(await SummaryAsync(db, adapters, system, system.Id == hub, cancel));
        return TypedResults.Ok<IReadOnlyList<SystemSummary>>([
            .. summaries.OrderByDescending(s => s.IsHub).ThenBy(s => s.Name, StringComparer.Ordinal),
        ]);
    }

    private static async Task<SystemSummary> SummaryAsync(
        NarbitContext db,
        AdapterSource adapters,
        ConnectedSystem system,
        bool isHub,
        CancellationToken cancel
    )
    {
        var document = SystemDocument.Read(system.Document);
        var reads = new List<ReadSummary>();
        var batch = 0;
        if ((await adapters.ForAsync(system.Id, cancel)).ValueOrDefault is { } connection)
        {
            foreach (var kind in connection.Adapter.Kinds)
            {
                batch = Math.Max(batch, kind.BatchSize);
                var records = db.Records.Where(r => r.SystemId == system.Id && r.Kind == kind.Kind && r.GoneAt == null);
                var last = await db
                    .Reads.AsNoTracking()
                    .Where(r => r.SystemId == system.Id && r.Kind == kind.Kind)
                    .OrderByDescending(r => r.Id)
                    .FirstOrDefaultAsync(cancel);
                reads.Add(
                    new ReadSummary
                    {
                        Kind = kind.Kind,
                        Label = kind.Label,
                        Records = await records.CountAsync(cancel),
                        Troubled = await records.CountAsync(r => r.Problems != null, cancel),
                        State = last?.State.ToString().ToLowerInvariant() ?? "never",
                        Full = last is { Since: null },
                        Done = last?.Records ?? 0,
                        Total = last?.Total,
                        Changed = last?.Changed ?? 0,
                        Gone = last?.Gone ?? 0,
                        Unkept = last?.Unkept ?? 0,
                        UnkeptFirst = ShownUnkept.Read(last?.UnkeptFirst),
                        StartedAt = last?.StartedAt,
                        EndedAt = last?.EndedAt,
                        Message = last?.Message,
                    }
                );
            }
        }

        return new SystemSummary
        {
            Id = system.Id,
            Name = system.Name,
            Mark = system.Mark,
            Kind = system.Kind,
            IsHub = isHub,
            Currency = system.Currency,
            Address = system.Address,
            ByFiles = document.ValueOrDefault is FileDocument,
            SendsWebhooks = SystemDocument.Read(system.Document).ValueOrDefault?.Hook is not null,
            HasCredential = system.ProtectedCredential is not null,
            CredentialSetAt = system.CredentialSetAt,
            CredentialEndsOn = system.CredentialEndsOn,
            GrantedAt = system.GrantedAt,
            GrantLostWhy = system.GrantLostWhy,
            HostKey =
                OutboundPolicy.IsServer(system.Address) && Uri.TryCreate(system.Address, UriKind.Absolute, out var server)
                    ? (await db.MetServers.FindAsync([OutboundPolicy.ServerOf(server)], cancel))?.Fingerprint
                    : null,
            SignsInWith = OutboundPolicy.IsServer(system.Address) ? "sftp" : document.ValueOrDefault?.SignsInWith ?? "none",
            MayRead = system.MayRead,
            MayWrite = system.MayWrite,
            ReadsWholeDaily = system.ReadsWholeDaily,
            PausedAt = system.PausedAt,
            PausedBy = system.PausedBy,
            RequestsPerSecond = document.ValueOrDefault?.RequestsPerSecond ?? 0,
            BatchSize = batch,
            TestedAt = system.TestedAt,
            TestOk = system.TestOk,
            TestMessage = system.TestMessage,
            Revision = system.Revision,
            Reads = reads,
        };
    }

    private static async Task<Results<Ok<TestAnswer>, ProblemHttpResult>> TestNewAsync(
        SystemToTest request,
        AdapterSource adapters,
        GrantDesk grants,
        CancellationToken cancel
    )
    {
        var document = SystemDocument.Read(request.Document ?? "{}");
        if (document.Fault is { } unreadable)
            return Problems.Of(unreadable);
        var known = request.Credential is { } entry ? Outcome.Of(entry.Of(grants)) : (Outcome<Credential>?)null;
        var adapter = adapters.Make(request.Document!, request.Address ?? document.Value.Address, known);
        if (adapter.Fault is { } fault)
            return Problems.Of(fault);
        using var tried = adapter.Value;
        return TypedResults.Ok(await tried.TestAsync(cancel));
    }

    private static async Task<Results<Created<string>, ProblemHttpResult>> AddAsync(
        SystemToAdd request,
        Database database,
        ICredentialVault vault,
        AdapterSource adapters,
        GrantDesk grants,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var document = SystemDocument.Read(request.Document);
        if (document.Fault is { } unreadable)
            return Problems.Of(unreadable);
        if (!request.Id.All(c => c is >= 'a' and <= 'z' or >= '0' and <= '9' or '-') || request.Id.Length is 0 or > 40)
            return Problems.Of(new Reason("document.invalid", "The short name takes small letters, digits and hyphens, at most 40."));
        var address = request.Address is { Length: > 0 } given ? given : document.Value.Address;
        var credential = request.Credential?.Of(grants);
        if (await Task.Run(() => Unusable(adapters, request.Document, address, credential), cancel) is { } fault)
            return Problems.Of(fault);
        await using var db = database.CreateDbContext();
        if (await db.Systems.IgnoreQueryFilters().AnyAsync(s => s.Id == request.Id || s.Mark == document.Value.Mark, cancel))
            return Problems.Of(
                new Reason(
                    "system.exists",
                    $"There is a system with the short name “{request.Id}” or the mark {document.Value.Mark} already. Choose others."
                )
            );
        var added = db.Systems.Add(
            new ConnectedSystem
            {
                Id = request.Id,
                Name = document.Value.Name,
                Kind = document.Value.Kind,
                Mark = document.Value.Mark,
                Currency = document.Value.Currency,
                Decimals = document.Value.Decimals,
                Document = request.Document,
                Address = address,
                ProtectedCredential = credential is null ? null : vault.Protect(credential),
                CredentialSetAt = credential is null ? null : clock.GetUtcNow(),
                ProtectedGrant = credential?.Grant?.Kept is { } granted ? vault.Protect(new Credential(null, granted)) : null,
                GrantedAt = credential?.Grant is null ? null : clock.GetUtcNow(),
                MayRead = request.MayRead,
                MayWrite = request.MayWrite,
            }
        );
        var by = await People.AtWorkAsync(database, cancel);
        await DescriptionBook.WriteAsync(db, added.Entity, null, by, clock.GetUtcNow(), cancel);
        if (request.IsHub && await db.Workspaces.FirstOrDefaultAsync(cancel) is { HubId: null } workspace)
            workspace.HubId = request.Id;
        await db.SaveChangesAsync(cancel);
        live.Tell(new LiveEvent("system", request.Id));
        return TypedResults.Created($"/api/systems/{request.Id}", request.Id);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> ChangeAsync(
        string id,
        SystemChange request,
        Database database,
        ICredentialVault vault,
        AdapterSource adapters,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var system = await db.Systems.FirstOrDefaultAsync(s => s.Id == id, cancel);
        if (system is null)
            return Problems.NotFound($"There is no system “{id}”.");
        if (system.Revision != request.Revision)
            return Problems.Of(
                new Reason(
                    "system.changed",
                    $"{system.Name} was changed in another window meanwhile. Nothing of yours was saved; reload to see the change."
                )
            );
        var text = request.Document ?? system.Document;
        var document = SystemDocument.Read(text);
        if (document.Fault is { } unreadable)
            return Problems.Of(unreadable);
        if (request.CredentialEndsOn is { Length: > 0 } ends && !DateOnly.TryParseExact(ends, "O", out _))
            return Problems.Of(new Reason("credential.ends", $"“{ends}” is no day; say it like 2027-03-31."));
        // What a person may do must not wait for a server that does not answer.
        if (!OutboundPolicy.IsServer(request.Address) && Unusable(adapters, text, request.Address, null) is { } fault)
            return Problems.Of(fault);
        var elsewhere = SystemOrigin.LeadsElsewhere(system, document.Value, request.Address);
        if (request.Credential is null && system.ProtectedCredential is not null && elsewhere)
            return Problems.Of(
                new Reason(
                    "credential.needed",
                    $"{system.Name} would be called at another place, {document.Value.SignInAddress ?? request.Address}. Enter its "
                        + "credentials anew, so that the stored ones are not handed to somebody else."
                )
            );
        var before = (system.Document, system.Address);
        if (elsewhere)
            (system.ProtectedGrant, system.GrantedAt, system.GrantLostWhy) = (null, null, null);
        system.Document = text;
        system.Name = document.Value.Name;
        system.Kind = document.Value.Kind;
        system.Mark = document.Value.Mark;
        (system.Currency, system.Decimals) = (document.Value.Currency, document.Value.Decimals);
        system.Address = request.Address;
        system.MayRead = request.MayRead;
        system.MayWrite = request.MayWrite;
        system.ReadsWholeDaily = request.ReadsWholeDaily ?? system.ReadsWholeDaily;
        if (request.Credential is { } credential)
            (system.ProtectedCredential, system.CredentialSetAt) = (
                vault.Protect(new Credential(credential.User, credential.Secret)),
                clock.GetUtcNow()
            );
        if (request.CredentialEndsOn is { } last)
            system.CredentialEndsOn = last.Length == 0 ? null : last;
        system.Revision++;
        var by = await People.AtWorkAsync(database, cancel);
        await DescriptionBook.WriteAsync(db, system, before, by, clock.GetUtcNow(), cancel);
        await db.SaveChangesAsync(cancel);
        live.Tell(new LiveEvent("system", id));
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> ForgetServerAsync(
        string id,
        Database database,
        KeptHostKeys keys,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var address = await db.Systems.Where(s => s.Id == id).Select(s => s.Address).FirstOrDefaultAsync(cancel);
        if (address is null)
            return Problems.NotFound($"There is no system “{id}”.");
        if (!Uri.TryCreate(address, UriKind.Absolute, out var server) || !await keys.ForgetAsync(OutboundPolicy.ServerOf(server), cancel))
            return Problems.Of(new Reason("hostKey.none", "No host key is known of this system, so there is none to forget."));
        live.Tell(new LiveEvent("system", id));
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> PauseAsync(
        string id,
        SystemPause request,
        Database database,
        MirrorReader reader,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var by = await People.AtWorkAsync(database, cancel);
        await using var db = database.CreateDbContext();
        var since = request.Paused ? clock.GetUtcNow() : (DateTimeOffset?)null;
        var changed = await db
            .Systems.Where(s => s.Id == id)
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.PausedAt, since).SetProperty(x => x.PausedBy, by), cancel);
        if (changed == 0)
            return Problems.NotFound($"There is no system “{id}”.");
        if (request.Paused)
            reader.Stop(id, by);
        live.Tell(new LiveEvent("system", id));
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<TestAnswer>, ProblemHttpResult>> TestAsync(
        string id,
        Database database,
        AdapterSource adapters,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var system = await db.Systems.FirstOrDefaultAsync(s => s.Id == id, cancel);
        if (system is null)
            return Problems.NotFound($"There is no system “{id}”.");
        var connection = await adapters.ForAsync(id, cancel);
        var answer = connection.Fault is { } fault
            ? new TestAnswer(false, fault.Words, 0)
            : await connection.Value.Adapter.TestAsync(cancel);
        system.TestedAt = clock.GetUtcNow();
        system.TestOk = answer.Ok;
        system.TestMessage = answer.Message;
        await db.SaveChangesAsync(cancel);
        live.Tell(new LiveEvent("system", id));
        return TypedResults.Ok(answer);
    }

    private static async Task<Results<Accepted, ProblemHttpResult>> ReadAsync(
        string id,
        ReadRequest request,
        AdapterSource adapters,
        MirrorReader reader,
        LiveFeed live,
        ILogger<MirrorReader> log,
        IHostApplicationLifetime life,
        CancellationToken cancel
    )
    {
        var connection = await adapters.ForAsync(id, cancel);
        if (connection.Fault is { } fault)
            return Problems.Of(fault);
        if (connection.Value.System.PausedAt is not null)
            return Problems.Of(new Reason("system.paused", $"{connection.Value.System.Name} is paused; resume it first."));
        if (!connection.Value.System.MayRead)
            return Problems.Of(new Reason("system.mayNotRead", $"{connection.Value.System.Name} may not be read; allow it first."));
        // Reading goes on when the page is left; how far it is and how it ended is kept with the reading.
        _ = Task.Run(
            async () =>
            {
                try
                {
                    await reader.ReadSystemAsync(id, request.Full, life.ApplicationStopping);
                }
                catch (Exception error) when (error is not OperationCanceledException)
                {
                    // Nobody waits for it, so that it ended otherwise must be found in the log.
                    log.LogError(error, "Reading {System} ended by an error", id);
                }

                live.Tell(new LiveEvent("system", id));
            },
            CancellationToken.None
        );
        return TypedResults.Accepted((string?)null);
    }

    private static async Task<Results<Ok<ReadingsStopped>, ProblemHttpResult>> StopAsync(
        string id,
        Database database,
        MirrorReader reader,
        CancellationToken cancel
    )
    {
        var stopped = reader.Stop(id, await People.AtWorkAsync(database, cancel));
        return stopped == 0
            ? Problems.Of(new Reason("read.notReading", "Nothing of this system is being read right now."))
            : TypedResults.Ok(new ReadingsStopped(stopped));
    }

    // The folders of a system that is reached by files are made where they are missing.
    private static Reason? Unusable(AdapterSource adapters, string document, string address, Credential? credential)
    {
        var adapter = adapters.Make(document, address, credential is null ? (Outcome<Credential>?)null : Outcome.Of(credential));
        using var made = adapter.ValueOrDefault;
        return adapter.Fault ?? (made as FileAdapter)?.MakeFolders();
    }

    private static async Task<Results<ContentHttpResult, ProblemHttpResult>> DocumentAsync(
        string id,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var document = await db.Systems.Where(s => s.Id == id).Select(s => s.Document).FirstOrDefaultAsync(cancel);
        return document is null ? Problems.NotFound($"There is no system “{id}”.") : TypedResults.Content(document, "application/json");
    }
}
