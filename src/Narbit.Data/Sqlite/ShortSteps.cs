using System.Diagnostics;
using Microsoft.Data.Sqlite;

namespace Narbit.Data.Sqlite;

/// <summary>Writes rows within a transaction.</summary>
internal interface IRowWriter<in T> : IDisposable
{
    /// <summary>Writes one.</summary>
    void Put(T row);
}

/// <summary>
/// Writes very many rows in steps of some milliseconds, each a transaction of its own, so that nobody else waits long for the one lock
/// that there is. What is written is for nobody's eyes before the last step.
/// </summary>
/// <param name="connection">Where.</param>
internal sealed class ShortSteps(SqliteConnection connection)
{
    private static readonly TimeSpan Longest = TimeSpan.FromMilliseconds(30);

    // Whoever waits looks again after 25 ms at most, as long as it has not waited longer than an eighth of a second (SQLite's busy
    // handler). A shorter pause falls between two looks, again and again.
    private static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(26);

    /// <summary>Writes all rows.</summary>
    public async Task ForEachAsync<T>(IReadOnlyList<T> rows, Func<SqliteTransaction, IRowWriter<T>> writer, CancellationToken cancel)
    {
        for (var at = 0; at < rows.Count; )
        {
            await using (var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel))
            {
                using (var write = writer(transaction))
                    for (var begun = Stopwatch.GetTimestamp(); at < rows.Count && Stopwatch.GetElapsedTime(begun) < Longest; at++)
                        write.Put(rows[at]);
                await transaction.CommitAsync(cancel);
            }

            if (at < rows.Count)
                await Task.Delay(Pause, cancel);
        }
    }

    /// <summary>Does a step again as long as it finds something to do.</summary>
    /// <param name="step">The step; how many rows it changed.</param>
    /// <param name="cancel">Gives up between two steps.</param>
    public async Task WhileAnyAsync(Func<SqliteTransaction, int> step, CancellationToken cancel)
    {
        int done;
        do
        {
            await using (var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel))
            {
                done = step(transaction);
                await transaction.CommitAsync(cancel);
            }

            if (done > 0)
                await Task.Delay(Pause, cancel);
        } while (done > 0);
    }
}
