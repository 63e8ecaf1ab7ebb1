using System.Collections.Concurrent;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Narbit.Data;

namespace Narbit.Engine.Tests;

/// <summary>Many who open the database at the same moment.</summary>
public sealed class ConnectionTests
{
    private const int Threads = 8;
    private const int Rounds = 250;

    /// <summary>
    /// The pool of connections looks for those that were forgotten whenever it is empty; one that is just being opened must not be
    /// taken for one of them and given to somebody else too.
    /// </summary>
    [Fact]
    public async Task No_connection_is_given_to_two_at_once()
    {
        var folder = Directory.CreateTempSubdirectory("narbit-connections");
        var database = new Database(Path.Combine(folder.FullName, "narbit.db"));
        await database.MigrateAsync(TestContext.Current.CancellationToken);
        var taken = new ConcurrentDictionary<object, bool>();
        var twice = 0;

        void OpenAndClose()
        {
            for (var round = 0; round < Rounds; round++)
            {
                using var db = database.CreateDbContext();
                db.Database.OpenConnection();
                var handle = ((SqliteConnection)db.Database.GetDbConnection()).Handle!;
                if (!taken.TryAdd(handle, true))
                    Interlocked.Increment(ref twice);
                Thread.Yield();
                taken.TryRemove(handle, out _);
            }
        }

        var threads = Enumerable.Range(0, Threads).Select(_ => new Thread(OpenAndClose)).ToList();
        threads.ForEach(t => t.Start());
        while (threads.Exists(t => t.IsAlive))
        {
            // Empties the pool, so that it looks for what was forgotten all the time.
            database.Limit(10_000).Dispose();
            Thread.Yield();
        }
        threads.ForEach(t => t.Join());
        folder.Delete(recursive: true);

        Assert.Equal(0, twice);
    }
}
