using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Runs;
using Narbit.Engine.Pairing;
using Narbit.Engine.Reading;
using Narbit.Engine.Runs;
using Narbit.Engine.Systems;
using Narbit.Engine.Workspaces.Files;

namespace Narbit.Web.Setup;

/// <summary>
/// Sets the Lanternmoor workspace up from the files in <c>demo</c>: five systems, and lanes for items, prices, stock and orders of each
/// store, the web shop taken over; then looks at everything once.
/// </summary>
internal sealed class DemoWorkspace(
    Database database,
    ICredentialVault vault,
    WorkspaceImport import,
    RunDesk runs,
    PairDesk desk,
    MirrorReader reader,
    TimeProvider clock
)
{
    private const string Hub = "back-office";
    private const string Till = "quay-street-till";

    // Where the files say that the stand-ins are.
    private const string UsualSandbox = "http://127.0.0.1:5181";

    // The stand-ins' own demo credentials; they open nothing else.
    private static readonly (string Id, Credential? Credential)[] Systems =
    [
        (Hub, new Credential(null, "kilnyard-demo-key")),
        ("web-shop", new Credential("narbit", "shopfront-demo")),
        (Till, null),
        ("trade-portal", new Credential(null, "studio-trade-demo-token")),
        ("clay-lane", new Credential(null, "clay-lane-demo-key")),
    ];

    public async Task PrepareAsync(string sandbox, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.Workspaces.AnyAsync(cancel))
            await MoveAsync(db, sandbox, cancel);
        else
            await BeginAsync(db, sandbox, cancel);
        _ = Task.Run(() => LookAsync(cancel), CancellationToken.None);
    }

    // The workspace is a folder of files, taken in as any other; credentials stand in no file.
    private async Task BeginAsync(NarbitContext db, string sandbox, CancellationToken cancel)
    {
        var files = WorkspaceFiles.Read(new DirectoryInfo(Path.Combine(AppContext.BaseDirectory, "demo")));
        var taken = files.Fault is null ? await import.TakeAsync(At(files.Value, sandbox), null, cancel) : files.Fault;
        if (taken.Fault is { } fault)
            throw new InvalidOperationException(fault.Words);
        foreach (var (id, credential) in Systems.Where(s => s.Credential is not null))
        {
            var system = await db.Systems.FirstAsync(s => s.Id == id, cancel);
            (system.ProtectedCredential, system.CredentialSetAt) = (vault.Protect(credential!), clock.GetUtcNow());
        }

        await db.SaveChangesAsync(cancel);
        foreach (var lane in new[] { "prices-web-shop", "stock-web-shop", "orders-web-shop" })
            await runs.StartAsync(lane, preview: true, RunTrigger.Setup, "Setting up", cancel);
    }

    private static WorkspaceFiles At(WorkspaceFiles files, string sandbox) =>
        WorkspaceFiles.Of(
            files.All.Select(f => KeyValuePair.Create(f.Key, f.Value.Replace(UsualSandbox, sandbox, StringComparison.Ordinal)))
        );

    // The other systems are read and compared, so that the pair desk has something to show; nothing of them is decided.
    private async Task LookAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var read = await db
            .Reads.Where(r => r.State == ReadState.Done)
            .Select(r => new { r.SystemId, r.Kind })
            .Distinct()
            .ToListAsync(cancel);
        foreach (
            var (id, _) in Systems.Where(s =>
                s.Id != "web-shop" && !read.Exists(r => r.SystemId == s.Id && (s.Id != Hub || r.Kind == RecordKind.Customer))
            )
        )
            await reader.ReadSystemAsync(id, full: false, cancel);
        foreach (var couple in (await desk.EnsureAllAsync(cancel)).Where(c => c.PairedAt is null))
            await desk.PairAsync(couple.Id, read: false, cancel);
    }

    // The sandbox may listen on another port than last time.
    private static async Task MoveAsync(NarbitContext db, string sandbox, CancellationToken cancel)
    {
        foreach (var (id, _) in Systems.Where(s => s.Id != Till))
        {
            var address = $"{sandbox}/{id}/";
            var system = await db.Systems.FirstOrDefaultAsync(s => s.Id == id, cancel);
            if (system is null || system.Address == address || !system.Address.StartsWith("http://127.0.0.1", StringComparison.Ordinal))
                continue;
            system.Address = address;
            system.Revision++;
        }

        await db.SaveChangesAsync(cancel);
    }
}
