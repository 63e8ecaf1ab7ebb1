using System.Data.Common;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Metadata;
using Narbit.Data.Upgrading;

namespace Narbit.Data;

/// <summary>The SQLite file: where it is, how it is opened, how it is brought up to date.</summary>
public sealed class Database : IDbContextFactory<NarbitContext>
{
    // SQLite's pool of connections, when it is empty, looks for connections that were forgotten, and takes one that another thread
    // is just opening for one of them: it would be given to two. So only one is opened at a time; it takes microseconds.
    private static readonly Lock OneAtATime = new();

    // Whoever waits for another's commit is let in within milliseconds; Microsoft.Data.Sqlite's own waiting sleeps 150 ms a time.
    // What is deleted or written over is wiped, so that nothing of somebody is left in the file once it is gone from the tables.
    private const string Waiting = "PRAGMA busy_timeout = 20000; PRAGMA secure_delete = ON;";

    private readonly DbContextOptions<NarbitContext> _options;
    private long _mostPages;

    public Database(string path)
    {
        Path = path;
        _options = new DbContextOptionsBuilder<NarbitContext>()
            .UseSqlite(ConnectionString(path))
            .AddInterceptors(new Opening(this))
            .Options;
    }

    public string Path { get; }

    // Pooled connections keep their pragmas, so a bound that is gone is set to SQLite's own.
    private string Bounded => $"PRAGMA max_page_count = {(_mostPages > 0 ? _mostPages : 1_073_741_823)}";

    public NarbitContext CreateDbContext() => new(_options);

    /// <summary>What is kept, and in which tables.</summary>
    internal IModel Model
    {
        get
        {
            if (field is not null)
                return field;
            using var db = CreateDbContext();
            return field = db.Model;
        }
    }

    /// <summary>Applies the migrations.</summary>
    public async Task MigrateAsync(CancellationToken cancel = default)
    {
        await using var db = CreateDbContext();
        var applied = (await db.Database.GetAppliedMigrationsAsync(cancel)).ToList();
        if (EarlierVersions.Holds(applied))
        {
            await using var connection = await OpenAsync(bulk: false, cancel);
            await EarlierVersions.BringUpAsync(connection, applied, db.Database.GetMigrations().First(), cancel);
        }

        // To migrate compares the whole model first, which a start with nothing new need not wait for.
        if ((await db.Database.GetPendingMigrationsAsync(cancel)).Any())
            await db.Database.MigrateAsync(cancel);
        await db.Database.ExecuteSqlRawAsync("PRAGMA journal_mode = WAL", cancel);
    }

    /// <summary>
    /// Brings the file up to date: a copy of it is made first, and a lock that a killed process has left behind is taken away, since
    /// whoever calls this has the folder to itself.
    /// </summary>
    /// <param name="copies">Where the copy is kept.</param>
    /// <param name="say">Is told of every step that may take a while.</param>
    /// <param name="cancel">Gives up between two steps.</param>
    public async Task UpgradeAsync(DirectoryInfo copies, Action<string> say, CancellationToken cancel = default)
    {
        await using var db = CreateDbContext();
        var pending = (await db.Database.GetPendingMigrationsAsync(cancel)).ToList();
        var applied = (await db.Database.GetAppliedMigrationsAsync(cancel)).ToList();
        var steps =
            applied.Count == 0 ? 0
            : EarlierVersions.Holds(applied) ? EarlierVersions.Missing(applied).Count()
            : pending.Count;
        // EF Core's own lock is a row of a table, which outlives the process that was killed while it held it.
        if (pending.Count > 0)
            await db.Database.ExecuteSqlRawAsync("DROP TABLE IF EXISTS \"__EFMigrationsLock\"", cancel);
        if (steps > 0)
        {
            say($"The data is of an earlier version; a copy of it is made in {copies.FullName}");
            CopyTo(copies);
            say($"The data is brought up to date: {steps} steps; with a million records this takes some minutes");
        }

        await MigrateAsync(cancel);
        if (steps > 0)
            say("The data is up to date");
        await OptimizeAsync(cancel);
    }

    /// <summary>Lets the file's statistics follow what is in it, by which its indexes are chosen.</summary>
    public async Task OptimizeAsync(CancellationToken cancel)
    {
        await using var connection = await OpenAsync(bulk: true, cancel);
        await using var optimize = connection.CreateCommand();
        // Bounded, so that nobody waits for it (SQLite, PRAGMA optimize).
        optimize.CommandText = "PRAGMA analysis_limit = 400; PRAGMA optimize = 0x10002;";
        await optimize.ExecuteNonQueryAsync(cancel);
    }

    // The newest of earlier versions is enough; the file has its own name until the copy is whole.
    private void CopyTo(DirectoryInfo copies)
    {
        copies.Create();
        var copy = System.IO.Path.Combine(copies.FullName, "narbit-before-upgrade.db");
        File.Delete(copy + ".part");
        using (var from = new SqliteConnection(ConnectionString(Path)))
        using (var to = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = copy + ".part", Pooling = false }.ToString()))
        {
            Open(from);
            to.Open();
            from.BackupDatabase(to);
        }

        File.Move(copy + ".part", copy, overwrite: true);
    }

    /// <summary>A connection for statements that EF Core has no words for.</summary>
    /// <param name="bulk">Whether the work can be done again after a power cut, so that a commit need not wait for the disk.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<SqliteConnection> OpenAsync(bool bulk, CancellationToken cancel)
    {
        var connection = new SqliteConnection(ConnectionString(Path));
        Open(connection);
        await using var pragma = connection.CreateCommand();
        pragma.CommandText =
            Waiting
            + (
                bulk
                    ? "PRAGMA synchronous = NORMAL; PRAGMA temp_store = MEMORY; PRAGMA cache_size = -65536; PRAGMA "
                        + "wal_autocheckpoint = 8000;"
                    : "PRAGMA synchronous = FULL;"
            )
            + Bounded;
        await pragma.ExecuteNonQueryAsync(cancel);
        return connection;
    }

    /// <summary>Bounds how far the file may grow, as a full disk would, until the bound is disposed.</summary>
    /// <param name="extraPages">Pages of 4 KiB beyond what the file has now.</param>
    public IDisposable Limit(int extraPages)
    {
        using var connection = new SqliteConnection(ConnectionString(Path));
        Open(connection);
        using var count = connection.CreateCommand();
        count.CommandText = "PRAGMA page_count";
        _mostPages = (long)count.ExecuteScalar()! + extraPages;
        ForgetConnections();
        return new Bound(this);
    }

    /// <summary>Closes the connections that are kept for later, as their pragmas are no longer right.</summary>
    public static void ForgetConnections()
    {
        lock (OneAtATime)
            SqliteConnection.ClearAllPools();
    }

    /// <summary>Whether an error says that the disk, or the room given to the file, is full.</summary>
    public static bool IsFull(Exception error) => Sqlite(error) is { SqliteErrorCode: 13 };

    /// <summary>Whether an error says that a row like this is there already.</summary>
    public static bool IsDuplicate(Exception error) => Sqlite(error) is { SqliteErrorCode: 19, SqliteExtendedErrorCode: 2067 or 1555 };

    private static SqliteException? Sqlite(Exception error) => error as SqliteException ?? error.InnerException as SqliteException;

    private static string ConnectionString(string path) =>
        new SqliteConnectionStringBuilder
        {
            DataSource = path,
            DefaultTimeout = 60,
            Pooling = true,
        }.ToString();

    private static void Open(DbConnection connection)
    {
        lock (OneAtATime)
            connection.Open();
    }

    /// <summary>Opens EF Core's connections the way ours are opened, and sets their pragmas.</summary>
    private sealed class Opening(Database database) : DbConnectionInterceptor
    {
        public override InterceptionResult ConnectionOpening(
            DbConnection connection,
            ConnectionEventData eventData,
            InterceptionResult result
        )
        {
            Open(connection);
            return InterceptionResult.Suppress();
        }

        public override ValueTask<InterceptionResult> ConnectionOpeningAsync(
            DbConnection connection,
            ConnectionEventData eventData,
            InterceptionResult result,
            CancellationToken cancellationToken = default
        )
        {
            // SQLite's opening is no wait for anything: its asynchronous form is the same call.
            cancellationToken.ThrowIfCancellationRequested();
            Open(connection);
            return ValueTask.FromResult(InterceptionResult.Suppress());
        }

        public override void ConnectionOpened(DbConnection connection, ConnectionEndEventData eventData)
        {
            using var command = connection.CreateCommand();
            command.CommandText = Waiting + "PRAGMA synchronous = FULL;" + database.Bounded;
            command.ExecuteNonQuery();
        }

        public override async Task ConnectionOpenedAsync(
            DbConnection connection,
            ConnectionEndEventData eventData,
            CancellationToken cancellationToken = default
        )
        {
            await using var command = connection.CreateCommand();
            command.CommandText = Waiting + "PRAGMA synchronous = FULL;" + database.Bounded;
            await command.ExecuteNonQueryAsync(cancellationToken);
        }
    }

    private sealed class Bound(Database database) : IDisposable
    {
        public void Dispose()
        {
            database._mostPages = 0;
            ForgetConnections();
        }
    }
}
