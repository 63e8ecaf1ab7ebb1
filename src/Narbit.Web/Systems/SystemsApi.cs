using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Systems;
using Narbit.Engine;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Systems;

public sealed record ReadSummary(
    RecordKind Kind,
    string Label,
    int Records,
    int Troubled,
    string State,
    bool Full,
    int Done,
    int? Total,
    int Changed,
    int Gone,
    DateTimeOffset? StartedAt,
    DateTimeOffset? EndedAt,
    string? Message
);

public sealed record SystemSummary(
    string Id,
    string Name,
    string Mark,
    SystemKind Kind,
    bool IsHub,
    string Currency,
    string Address,
    bool HasCredential,
    DateTimeOffset? CredentialSetAt,
    string SignsInWith,
    bool MayRead,
    bool MayWrite,
    double RequestsPerSecond,
    int BatchSize,
    DateTimeOffset? TestedAt,
    bool? TestOk,
    string? TestMessage,
    int Revision,
    IReadOnlyList<ReadSummary> Reads
);

public sealed record KindFields(RecordKind Kind, string Label, IReadOnlyList<FieldDescription> Fields);

public sealed record CredentialEntry(string? User, string Secret)
{
    public override string ToString() => "(credential)";
}

public sealed record SystemToTest(string? Document, string? Address, CredentialEntry? Credential);

public sealed record SystemToAdd(
    string Id,
    string Document,
    string? Address,
    CredentialEntry? Credential,
    bool MayRead = true,
    bool MayWrite = false
);

public sealed record SystemChange(
    int Revision,
    string Address,
    CredentialEntry? Credential,
    bool MayRead,
    bool MayWrite,
    string? Document = null
);

public sealed record ReadRequest(bool Full);

public sealed record RecordRow(
    string Key,
    string? Sku,
    string? Title,
    IReadOnlyDictionary<string, string> Values,
    IReadOnlyList<FieldProblem> Problems,
    DateTimeOffset ChangedAt,
    bool Gone
);

public sealed record RecordDetail(RecordRow Record, string Raw);

/// <summary>Systems: what they are, whether they answer, what was read of them.</summary>
public static class SystemsApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var systems = api.MapGroup("/systems").WithTags("Systems");
        systems.MapGet("/", ListAsync).WithName("listSystems");
        systems.MapPost("/", AddAsync).WithName("addSystem");
        systems.MapPost("/test", TestNewAsync).WithName("testNewSystem");
        systems.MapPut("/{id}", ChangeAsync).WithName("changeSystem");
        systems.MapPost("/{id}/test", TestAsync).WithName("testSystem");
        systems.MapPost("/{id}/read", ReadAsync).WithName("readSystem");
        systems.MapGet("/{id}/document", DocumentAsync).WithName("systemDocument");
        systems.MapGet("/{id}/fields", FieldsAsync).WithName("systemFields");
        systems.MapGet("/{id}/records/{kind}", RecordsAsync).WithName("listRecords");
        systems.MapGet("/{id}/records/{kind}/{key}", RecordAsync).WithName("getRecord");
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
                    new ReadSummary(
                        kind.Kind,
                        kind.Label,
                        await records.CountAsync(cancel),
                        await records.CountAsync(r => r.Problems != null, cancel),
                        last?.State.ToString().ToLowerInvariant() ?? "never",
                        last is { Since: null },
                        last?.Records ?? 0,
                        last?.Total,
                        last?.Changed ?? 0,
                        last?.Gone ?? 0,
                        last?.StartedAt,
                        last?.EndedAt,
                        last?.Message
                    )
                );
            }
        }

        return new SystemSummary(
            system.Id,
            system.Name,
            system.Mark,
            system.Kind,
            isHub,
            system.Currency,
            system.Address,
            system.ProtectedCredential is not null,
            system.CredentialSetAt,
            document.ValueOrDefault?.SignsInWith ?? "none",
            system.MayRead,
            system.MayWrite,
            document.ValueOrDefault?.RequestsPerSecond ?? 0,
            batch,
            system.TestedAt,
            system.TestOk,
            system.TestMessage,
            system.Revision,
            reads
        );
    }

    private static async Task<Results<Ok<TestAnswer>, ProblemHttpResult>> TestNewAsync(
        SystemToTest request,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        var document = SystemDocument.Read(request.Document ?? "{}");
        if (document.Fault is { } unreadable)
            return Problems.Of(unreadable);
        var adapter = adapters.Make(request.Document!, request.Address ?? document.Value.Address, Credential(request.Credential));
        return adapter.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(await adapter.Value.TestAsync(cancel));
    }

    private static async Task<Results<Created<string>, ProblemHttpResult>> AddAsync(
        SystemToAdd request,
        Database database,
        ICredentialVault vault,
        AdapterSource adapters,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var document = SystemDocument.Read(request.Document);
        if (document.Fault is { } unreadable)
            return Problems.Of(unreadable);
        if (!request.Id.All(c => c is >= 'a' and <= 'z' or >= '0' and <= '9' or '-') || request.Id.Length is 0 or > 40)
            return Problems.Of(new Fault("document.invalid", "The short name takes small letters, digits and hyphens, at most 40."));
        var address = request.Address is { Length: > 0 } given ? given : document.Value.Address;
        if (adapters.Make(request.Document, address, Credential(request.Credential)).Fault is { } fault)
            return Problems.Of(fault);
        await using var db = database.CreateDbContext();
        if (await db.Systems.AnyAsync(s => s.Id == request.Id || s.Mark == document.Value.Mark, cancel))
            return Problems.Of(
                new Fault(
                    "system.exists",
                    $"There is a system with the short name “{request.Id}” or the mark {document.Value.Mark} already. Choose others."
                )
            );
        db.Systems.Add(
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
                ProtectedCredential = request.Credential is { } c ? vault.Protect(new Credential(c.User, c.Secret)) : null,
                CredentialSetAt = request.Credential is null ? null : clock.GetUtcNow(),
                MayRead = request.MayRead,
                MayWrite = request.MayWrite,
            }
        );
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
                new Fault(
                    "system.changed",
                    $"{system.Name} was changed in another window meanwhile. Nothing of yours was saved; reload to see the change."
                )
            );
        var text = request.Document ?? system.Document;
        var document = SystemDocument.Read(text);
        if (document.Fault is { } unreadable)
            return Problems.Of(unreadable);
        if (adapters.Make(text, request.Address, null).Fault is { } fault)
            return Problems.Of(fault);
        (system.Document, system.Name, system.Kind, system.Mark) = (text, document.Value.Name, document.Value.Kind, document.Value.Mark);
        (system.Currency, system.Decimals) = (document.Value.Currency, document.Value.Decimals);
        (system.Address, system.MayRead, system.MayWrite) = (request.Address, request.MayRead, request.MayWrite);
        if (request.Credential is { } credential)
            (system.ProtectedCredential, system.CredentialSetAt) = (
                vault.Protect(new Credential(credential.User, credential.Secret)),
                clock.GetUtcNow()
            );
        system.Revision++;
        await db.SaveChangesAsync(cancel);
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
            ? new TestAnswer(false, fault.Message, 0)
            : await connection.Value.Adapter.TestAsync(cancel);
        (system.TestedAt, system.TestOk, system.TestMessage) = (clock.GetUtcNow(), answer.Ok, answer.Message);
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
        IHostApplicationLifetime life,
        CancellationToken cancel
    )
    {
        var connection = await adapters.ForAsync(id, cancel);
        if (connection.Fault is { } fault)
            return Problems.Of(fault);
        if (!connection.Value.System.MayRead)
            return Problems.Of(new Fault("system.changed", $"{connection.Value.System.Name} may not be read; allow it first."));
        // Reading goes on when the page is left; how far it is and how it ended is kept with the reading.
        _ = Task.Run(
            async () =>
            {
                await reader.ReadSystemAsync(id, request.Full, life.ApplicationStopping);
                live.Tell(new LiveEvent("system", id));
            },
            CancellationToken.None
        );
        return TypedResults.Accepted((string?)null);
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

    private static async Task<Results<Ok<IReadOnlyList<KindFields>>, ProblemHttpResult>> FieldsAsync(
        string id,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        var connection = await adapters.ForAsync(id, cancel);
        if (connection.Fault is { } fault)
            return Problems.Of(fault);
        return TypedResults.Ok<IReadOnlyList<KindFields>>([
            .. connection.Value.Adapter.Kinds.Select(k => new KindFields(k.Kind, k.Label, k.Fields.Fields)),
        ]);
    }

    private static async Task<Results<Ok<Slice<RecordRow>>, ProblemHttpResult>> RecordsAsync(
        string id,
        string kind,
        string? search,
        bool? troubled,
        int? offset,
        int? limit,
        Database database,
        CancellationToken cancel
    )
    {
        if (KindOf(kind) is not { } which)
            return NoKind(kind);
        var window = new Window(offset, limit);
        await using var db = database.CreateDbContext();
        var records = db.Records.AsNoTracking().Where(r => r.SystemId == id && r.Kind == which && r.GoneAt == null);
        if (troubled == true)
            records = records.Where(r => r.Problems != null);
        if (!string.IsNullOrWhiteSpace(search))
        {
            var like = Window.Like(search);
            records = records.Where(r =>
                EF.Functions.Like(r.Sku!, like, "\\") || EF.Functions.Like(r.Title!, like, "\\") || EF.Functions.Like(r.Key, like, "\\")
            );
        }

        var total = await records.CountAsync(cancel);
        var rows = await records.OrderBy(r => r.Id).Skip(window.From).Take(window.Size).ToListAsync(cancel);
        return TypedResults.Ok(new Slice<RecordRow>(total, window.From, [.. rows.Select(Row)]));
    }

    private static async Task<Results<Ok<RecordDetail>, ProblemHttpResult>> RecordAsync(
        string id,
        string kind,
        string key,
        Database database,
        CancellationToken cancel
    )
    {
        if (KindOf(kind) is not { } which)
            return NoKind(kind);
        await using var db = database.CreateDbContext();
        var record = await db.Records.AsNoTracking().FirstOrDefaultAsync(r => r.SystemId == id && r.Kind == which && r.Key == key, cancel);
        return record is null
            ? Problems.NotFound($"The mirror has no record {key} of this kind.")
            : TypedResults.Ok(new RecordDetail(Row(record), record.Raw));
    }

    private static RecordKind? KindOf(string word) =>
        Enum.TryParse<RecordKind>(word, ignoreCase: true, out var kind) && Enum.IsDefined(kind) ? kind : null;

    private static ProblemHttpResult NoKind(string word) => Problems.NotFound($"There is no record kind “{word}”.");

    private static RecordRow Row(MirrorRecord r) =>
        new(r.Key, r.Sku, r.Title, StoredRecord.Values(r.Values), StoredRecord.Problems(r.Problems), r.ChangedAt, r.GoneAt is not null);

    private static Outcome<Credential>? Credential(CredentialEntry? entry) =>
        entry is null ? (Outcome<Credential>?)null : new Credential(entry.User, entry.Secret);
}
