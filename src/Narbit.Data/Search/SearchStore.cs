using System.Text.Json;
using Microsoft.Data.Sqlite;
using Narbit.Data.Sqlite;

namespace Narbit.Data.Search;

/// <summary>
/// The index by which records are found: SQLite's FTS5 with trigrams, so that any part of a word finds it. It holds no text of its own
/// and is brought up to date behind the readings, which therefore cost no more than before.
/// </summary>
public sealed class SearchStore(Database database)
{
    // A trigram that very many records have tells nothing, and costs much; so does a large sum of several.
    private const int CommonFrom = 8_000;
    private const int MostTogether = 16_000;

    private const string Columns = "Id, SystemId, Kind, Key, Reference, Caption, \"Values\"";

    /// <summary>The records that changed at or after an instant, those that changed first first.</summary>
    /// <param name="sinceTicks">The instant, in UTC ticks.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<IReadOnlyList<Stamp>> ChangedAsync(long sinceTicks, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        using var select = new Statement(
            connection,
            null,
            "SELECT Id, ChangedAt FROM Records WHERE ChangedAt >= $since ORDER BY ChangedAt, Id",
            "$since"
        );
        var stamps = new List<Stamp>();
        using var rows = select.Rows(sinceTicks);
        while (rows.Read())
            stamps.Add(new Stamp(rows.GetInt64(0), rows.GetInt64(1)));
        return stamps;
    }

    /// <summary>Records as they are now; one that is no longer there is left out.</summary>
    /// <param name="ids">Their numbers in the mirror.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<IReadOnlyList<ToIndex>> ReadAsync(IEnumerable<long> ids, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        using var select = new Statement(
            connection,
            null,
            $"SELECT {Columns} FROM Records WHERE Id IN (SELECT value FROM json_each($ids))",
            "$ids"
        );
        var records = new List<ToIndex>();
        using var rows = select.Rows(JsonSerializer.Serialize(ids));
        while (rows.Read())
            records.Add(
                new ToIndex(
                    rows.GetInt64(0),
                    rows.GetString(1),
                    rows.GetString(2),
                    rows.GetString(3),
                    rows.Text(4),
                    rows.Text(5),
                    rows.GetString(6)
                )
            );
        return records;
    }

    /// <summary>Up to when the index is complete, in UTC ticks.</summary>
    public async Task<long> UpToAsync(CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        using var select = new Statement(connection, null, "SELECT At FROM RecordWordsUpTo");
        return select.Number();
    }

    /// <summary>Says up to when the index is complete.</summary>
    public async Task CompleteAsync(long upToTicks, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        using var update = new Statement(connection, null, "UPDATE RecordWordsUpTo SET At = $at", "$at");
        update.Execute(upToTicks);
    }

    /// <summary>Takes records in; one that was there before is replaced.</summary>
    public async Task PutAsync(IReadOnlyList<FoundAs> records, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        using (
            var put = new Statement(
                connection,
                transaction,
                "INSERT OR REPLACE INTO RecordWords (rowid, Words) VALUES ($id, $words)",
                "$id",
                "$words"
            )
        )
            foreach (var record in records)
                put.Execute(record.RecordId, record.Words);
        await transaction.CommitAsync(cancel);
    }

    /// <summary>Records that have each of some texts in them, in the order in which they were first read.</summary>
    /// <param name="texts">Texts of three characters and more.</param>
    /// <param name="most">How many at most.</param>
    /// <param name="cancel">Gives up.</param>
    public Task<IReadOnlyList<long>> WithAllAsync(IReadOnlyList<string> texts, int most, CancellationToken cancel) =>
        MatchAsync(string.Join(" AND ", texts.Select(Quoted)), "rowid", most, cancel);

    /// <summary>The records that have some of a text's trigrams, so that slips do not matter; those with the most come first.</summary>
    /// <param name="text">A text of three characters and more.</param>
    /// <param name="most">How many at most.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<IReadOnlyList<long>> LikeAsync(string text, int most, CancellationToken cancel)
    {
        var trigrams = Enumerable.Range(0, Math.Max(0, text.Length - 2)).Select(i => text.Substring(i, 3)).Distinct(StringComparer.Ordinal);
        var telling = await TellingAsync([.. trigrams], cancel);
        return telling.Count == 0 ? [] : await MatchAsync(string.Join(" OR ", telling.Select(Quoted)), "rank", most, cancel);
    }

    // The rarest trigrams of a text that occur at all.
    private async Task<IReadOnlyList<string>> TellingAsync(string[] trigrams, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        using var count = new Statement(connection, null, "SELECT doc FROM RecordTrigrams WHERE term = $term", "$term");
        var known = new List<(string Trigram, long Records)>();
        foreach (var trigram in trigrams)
        {
            using var rows = count.Rows(trigram);
            if (rows.Read() && rows.GetInt64(0) is > 0 and < CommonFrom and var records)
                known.Add((trigram, records));
        }

        var sum = 0L;
        return [.. known.OrderBy(k => k.Records).TakeWhile(k => (sum += k.Records) <= MostTogether).Take(12).Select(k => k.Trigram)];
    }

    /// <summary>The records that are called just so: by their reference or by their system's key.</summary>
    /// <param name="text">The reference or key.</param>
    /// <param name="systems">The systems to look in.</param>
    /// <param name="kinds">The kinds to look for.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<IReadOnlyList<long>> NamedAsync(
        string text,
        IReadOnlyList<string> systems,
        IReadOnlyList<string> kinds,
        CancellationToken cancel
    )
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        using var select = new Statement(
            connection,
            null,
            """
            SELECT Id FROM Records WHERE SystemId = $system AND Kind = $kind AND Reference = $text
            UNION SELECT Id FROM Records WHERE SystemId = $system AND Kind = $kind AND Key = $text
            """,
            "$system",
            "$kind",
            "$text"
        );
        var named = new List<long>();
        foreach (var system in systems)
        foreach (var kind in kinds)
        {
            using var rows = select.Rows(system, kind, text);
            while (rows.Read())
                named.Add(rows.GetInt64(0));
        }

        return named;
    }

    // Ranking looks at every record that matches; where all have every word, the first ones are as good as any.
    private async Task<IReadOnlyList<long>> MatchAsync(string match, string order, int most, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        using var select = new Statement(
            connection,
            null,
            $"SELECT rowid FROM RecordWords WHERE RecordWords MATCH $match ORDER BY {order} LIMIT $most",
            "$match",
            "$most"
        );
        var found = new List<long>();
        using var rows = select.Rows(match, most);
        while (rows.Read())
            found.Add(rows.GetInt64(0));
        return found;
    }

    private static string Quoted(string text) => $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
}
