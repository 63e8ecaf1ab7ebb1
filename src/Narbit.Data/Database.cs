using System.Data.Common;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace Narbit.Data;

/// <summary>The SQLite file: where it is, how it is opened, how it is brought up to date.</summary>
public sealed class Database : IDbContextFactory<NarbitContext>
{
    private readonly DbContextOptions<NarbitContext> _options;
    private long _mostPages;

    public Database(string path)
    {
        Path = path;
        _options = new DbContextOptionsBuilder<NarbitContext>()
            .UseSqlite(ConnectionString(path))
            .AddInterceptors(new Pragmas(this))
            .Options;
    }

    public string Path { get; }

    // Pooled connections keep their pragmas, so a bound that is gone is set to SQLite's own.
    private string Bounded => $"PRAGMA max_page_count = {(_mostPages > 0 ? _mostPages : 1_073_741_823)}";

    public NarbitContext CreateDbContext() => new(_options);

    /// <summary>Applies the migrations.</summary>
    public async Task MigrateAsync(CancellationToken cancel = default)
    {
        await using var db = CreateDbContext();
        await db.Database.MigrateAsync(cancel);
        await db.Database.ExecuteSqlRawAsync("PRAGMA journal_mode = WAL", cancel);
    }

    /// <summary>A connection for statements that EF Core has no words for.</summary>
    /// <param name="bulk">Whether the work can be done again after a power cut, so that a commit need not wait for the disk.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<SqliteConnection> OpenAsync(bool bulk, CancellationToken cancel)
    {
        var connection = new SqliteConnection(ConnectionString(Path));
        await connection.OpenAsync(cancel);
        await using var pragma = connection.CreateCommand();
        pragma.CommandText =
            (
                bulk
                    ? "PRAGMA synchronous = NORMAL; PRAGMA temp_store = MEMORY; PRAGMA cache_size = -65536; PRAGMA "
                        + "wal_autocheckpoint = 8000;"
                    : "PRAGMA synchronous = FULL;"
            ) + Bounded;
        await pragma.ExecuteNonQueryAsync(cancel);
        return connection;
    }

    /// <summary>Bounds how far the file may grow, as a full disk would, until the bound is disposed.</summary>
    /// <param name="extraPages">Pages of 4 KiB beyond what the file has now.</param>
    public IDisposable Limit(int extraPages)
    {
        using var connection = new SqliteConnection(ConnectionString(Path));
        connection.Open();
        using var count = connection.CreateCommand();
        count.CommandText = "PRAGMA page_count";
        _mostPages = (long)count.ExecuteScalar()! + extraPages;
        SqliteConnection.ClearAllPools();
        return new Bound(this);
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

    private sealed class Pragmas(Database database) : DbConnectionInterceptor
    {
        public override void ConnectionOpened(DbConnection connection, ConnectionEndEventData eventData)
        {
            using var command = connection.CreateCommand();
            command.CommandText = "PRAGMA synchronous = FULL;" + database.Bounded;
            command.ExecuteNonQuery();
        }

        public override async Task ConnectionOpenedAsync(
            DbConnection connection,
            ConnectionEndEventData eventData,
            CancellationToken cancellationToken = default
        )
        {
            await using var command = connection.CreateCommand();
            command.CommandText = "PRAGMA synchronous = FULL;" + database.Bounded;
            await command.ExecuteNonQueryAsync(cancellationToken);
        }
    }

    private sealed class Bound(Database database) : IDisposable
    {
        public void Dispose()
        {
            database._mostPages = 0;
            SqliteConnection.ClearAllPools();
        }
    }
}
