using System.Text.Json;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Narbit.Data.Mirror;
using Narbit.Data.Runs;
using Narbit.Data.Sqlite;
using Narbit.Data.Systems;

namespace Narbit.Data.People;

/// <summary>
/// What is left of a person in texts that are no fields of a record: in keys, traces, remarks, notices, requests and acts, wherever the
/// database keeps text.
/// </summary>
/// <param name="database">Where.</param>
public sealed class PersonTraces(Database database)
{
    private const int AtOnce = 500;

    // What people set up, and the records themselves, whose fields say what they are about.
    private static readonly HashSet<Type> Others =
    [
        typeof(Workspace),
        typeof(Colleague),
        typeof(ConnectedSystem),
        typeof(DescriptionVersion),
        typeof(MetServer),
        typeof(MirrorRecord),
        typeof(Run),
        typeof(Lanes.Lane),
        typeof(Lanes.RuleVersion),
        typeof(Lanes.LaneDraft),
        typeof(Jobs.Job),
        typeof(Jobs.JobLane),
        typeof(Telling.MailServer),
        typeof(Telling.Listener),
        typeof(Telling.Wish),
        typeof(Telling.Told),
    ];

    /// <summary>Of some texts those that no other record of the mirror has, so that they tell of nobody else.</summary>
    /// <param name="texts">The texts.</param>
    /// <param name="except">The records that are the person's own.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<IReadOnlyList<string>> OnlyTheirsAsync(IEnumerable<string> texts, IEnumerable<long> except, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        var own = JsonSerializer.Serialize(except);
        var theirs = new List<string>();
        using var other = new Statement(
            connection,
            null,
            """
            SELECT EXISTS (SELECT 1 FROM Records WHERE (instr("Values", $text) > 0 OR instr(Children, $text) > 0 OR Key = $text)
                AND Id NOT IN (SELECT value FROM json_each($own)))
            """,
            "$text",
            "$own"
        );
        foreach (var text in texts)
            if (other.Number(text, own) == 0)
                theirs.Add(text);
        return theirs;
    }

    /// <summary>Puts something else in the place of some texts. What is overwritten is wiped from the file too.</summary>
    /// <returns>How many rows had one of them.</returns>
    public async Task<int> ReplaceAsync(IReadOnlyList<string> texts, string by, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: false, cancel);
        var rows = 0;
        await using (var db = database.CreateDbContext())
            foreach (var (table, columns) in TextColumns(db.Model))
            foreach (var text in texts)
                rows += await ReplaceAsync(connection, table, columns, text, by, cancel);
        Run(connection, "PRAGMA wal_checkpoint(TRUNCATE)");
        return rows;
    }

    // Looking costs nobody else their turn; what is found is written in small steps.
    private static async Task<int> ReplaceAsync(
        SqliteConnection connection,
        string table,
        IReadOnlyList<string> columns,
        string text,
        string by,
        CancellationToken cancel
    )
    {
        var has = string.Join(" OR ", columns.Select(c => $"instr(\"{c}\", $text) > 0"));
        var ids = new List<long>();
        using (var find = new Statement(connection, null, $"SELECT rowid FROM \"{table}\" WHERE {has}", "$text"))
        {
            using var rows = find.Rows(text);
            while (rows.Read())
                ids.Add(rows.GetInt64(0));
        }

        var set = string.Join(", ", columns.Select(c => $"\"{c}\" = replace(\"{c}\", $text, $by)"));
        foreach (var some in ids.Chunk(AtOnce))
        {
            await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
            using var replace = new Statement(
                connection,
                transaction,
                $"UPDATE OR REPLACE \"{table}\" SET {set} WHERE rowid IN (SELECT value FROM json_each($ids))",
                "$text",
                "$by",
                "$ids"
            );
            replace.Execute(text, by, JsonSerializer.Serialize(some));
            await transaction.CommitAsync(cancel);
        }

        return ids.Count;
    }

    private static IEnumerable<(string Table, IReadOnlyList<string> Columns)> TextColumns(IModel model) =>
        model
            .GetEntityTypes()
            .Where(e => !Others.Contains(e.ClrType) && !Others.Contains(e.FindOwnership()?.PrincipalEntityType.ClrType ?? e.ClrType))
            .GroupBy(e => e.GetTableName()!)
            .Select(g => (g.Key, (IReadOnlyList<string>)[.. g.SelectMany(Texts).Distinct(StringComparer.Ordinal)]))
            .Where(t => t.Item2.Count > 0);

    private static IEnumerable<string> Texts(IEntityType entity) =>
        entity
            .GetProperties()
            .Where(p => p.ClrType == typeof(string))
            .Select(p => p.GetColumnName(StoreObjectIdentifier.Table(entity.GetTableName()!)))
            .OfType<string>();

    private static void Run(SqliteConnection connection, string pragma)
    {
        using var command = connection.CreateCommand();
        command.CommandText = pragma;
        command.ExecuteNonQuery();
    }
}
