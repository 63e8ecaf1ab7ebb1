using Microsoft.Data.Sqlite;
using Narbit.Data.Sqlite;

namespace Narbit.Data.Mismatches;

/// <summary>
/// Keeps what was found as mismatches by the hundred thousand: those that are new are added, those that are known are seen once more,
/// and those of the same origin that were not found are gone. What people did with them stays. The statements are SQLite's own.
/// </summary>
/// <param name="database">Where they are.</param>
/// <param name="clock">The time; null: the machine's.</param>
public sealed class MismatchStore(Database database, TimeProvider? clock = null)
{
    /// <summary>Ten-thousandths of a currency's unit to one.</summary>
    public const decimal Fine = 10_000;

    private const string Columns =
        "Cause SystemId Kind Key Scope OtherSystemId OtherKey LaneId CoupleId RunId Reference Caption Words Subject Hint Proposal Because "
        + "Pieces Worth Currency Since";

    private const string Open = "State IN ('Open', 'PutOff')";

    private const string Same =
        "m.Cause = f.Cause AND m.SystemId = f.SystemId AND m.Kind = f.Kind AND m.\"Key\" = f.\"Key\" AND m.Scope = f.Scope";

    // What was settled is found again until what was done about it has been looked at.
    private const string IsBack = "(m.State = 'Gone' OR (m.State = 'Settled' AND m.EndedAt < $at))";

    private static readonly string Quoted = string.Join(", ", Columns.Split(' ').Select(c => $"\"{c}\""));

    /// <summary>Takes in all that an origin shows.</summary>
    /// <param name="origin">What was looked at.</param>
    /// <param name="at">As of when it shows it: a run of ten minutes ago says nothing against what was settled since.</param>
    /// <param name="found">What was found.</param>
    /// <param name="cancel">Gives up; nothing is kept.</param>
    public async Task<Looked> TakeInAsync(string origin, DateTimeOffset at, IEnumerable<FoundMismatch> found, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        Gather(connection, found, at);
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        var back = Return(connection, transaction, origin, at);
        var known = Count(connection, transaction);
        Upsert(connection, transaction, origin, at);
        var looked = new Looked(Count(connection, transaction) - known, back, End(connection, transaction, origin, at));
        await transaction.CommitAsync(cancel);
        return looked;
    }

    /// <summary>Ends what comes from origins of a family that are no longer there, e.g. of lanes that were removed.</summary>
    /// <param name="family">What the origins' names begin with, e.g. <c>lane:</c>.</param>
    /// <param name="kept">The origins that are there.</param>
    /// <param name="at">The time.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task EndOthersAsync(string family, IEnumerable<string> kept, DateTimeOffset at, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        using var end = new Statement(
            connection,
            null,
            """
            UPDATE Mismatches SET State = 'Gone', EndedAt = $at WHERE State IN ('Open', 'PutOff')
            AND Origin >= $family AND Origin < $family || x'ff' AND Origin NOT IN (SELECT value FROM json_each($kept))
            """,
            "$at",
            "$family",
            "$kept"
        );
        end.Execute(at.UtcTicks, family, System.Text.Json.JsonSerializer.Serialize(kept));
    }

    /// <summary>
    /// Notes an act on mismatches and changes them by it, in one transaction; those that are no longer open are left alone, whoever settled
    /// them meanwhile.
    /// </summary>
    /// <param name="act">What is done; it gets its number and the count of what it was done to.</param>
    /// <param name="ids">The mismatches.</param>
    /// <param name="change">What becomes of them.</param>
    /// <param name="cancel">Gives up; nothing is done then.</param>
    /// <returns>How many it was done to.</returns>
    public async Task<int> ActAsync(MismatchAct act, IEnumerable<long> ids, MismatchChange change, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: false, cancel);
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        Insert(connection, transaction, act);
        if (On(connection, transaction, act, ids, change) == 0)
            return 0;
        await transaction.CommitAsync(cancel);
        return act.Count;
    }

    /// <summary>Writes an act that is about to be done; its parts follow, see <see cref="AddPartAsync"/>.</summary>
    public async Task BeginAsync(MismatchAct act, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: false, cancel);
        Insert(connection, null, act);
    }

    /// <summary>Adds a part to what an act has done, by which it is taken back.</summary>
    /// <param name="act">The act.</param>
    /// <param name="way">The way out that knows its parts.</param>
    /// <param name="part">The part, as JSON.</param>
    public async Task AddPartAsync(long act, string way, string part)
    {
        await using var connection = await database.OpenAsync(bulk: false, CancellationToken.None);
        using var add = new Statement(
            connection,
            null,
            """
            UPDATE MismatchActs
            SET Undo = json_insert(coalesce(Undo, json_object('way', $way, 'parts', json('[]'))), '$.parts[#]', json($part))
            WHERE Id = $act
            """,
            "$act",
            "$way",
            "$part"
        );
        add.Execute(act, way, part);
    }

    /// <summary>Keeps of an act's parts those that are still to be taken back.</summary>
    public async Task KeepPartsAsync(long act, ActParts parts)
    {
        await using var connection = await database.OpenAsync(bulk: false, CancellationToken.None);
        using var keep = new Statement(connection, null, "UPDATE MismatchActs SET Undo = $undo WHERE Id = $act", "$act", "$undo");
        keep.Execute(act, parts.Write());
    }

    /// <summary>Finishes an act that was begun: says what was done, and changes what it was done to.</summary>
    /// <returns>How many it was done to.</returns>
    public async Task<int> FinishAsync(MismatchAct act, IEnumerable<long> ids, MismatchChange change)
    {
        await using var connection = await database.OpenAsync(bulk: false, CancellationToken.None);
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync();
        using (
            var words = new Statement(connection, transaction, "UPDATE MismatchActs SET Words = $words WHERE Id = $act", "$act", "$words")
        )
            words.Execute(act.Id, act.Words);
        On(connection, transaction, act, ids, change);
        await transaction.CommitAsync();
        return act.Count;
    }

    /// <summary>Forgets an act that was begun and did nothing.</summary>
    public async Task ForgetAsync(long act)
    {
        await using var connection = await database.OpenAsync(bulk: false, CancellationToken.None);
        using var forget = new Statement(connection, null, "DELETE FROM MismatchActs WHERE Id = $act AND Undo IS NULL", "$act");
        forget.Execute(act);
    }

    private static void Insert(SqliteConnection connection, SqliteTransaction? transaction, MismatchAct act)
    {
        using var insert = Statement.Insert(connection, transaction, "MismatchActs", "Kind By At Words Undo Learned Count", "RETURNING Id");
        act.Id = insert.Number(act.Kind.ToString(), act.By, act.At.UtcTicks, act.Words, act.Undo, act.Learned ? 1 : 0, 0);
    }

    private static int On(
        SqliteConnection connection,
        SqliteTransaction transaction,
        MismatchAct act,
        IEnumerable<long> ids,
        MismatchChange change
    )
    {
        using var on = new Statement(
            connection,
            transaction,
            $"""
            INSERT INTO ActsOn (ActId, MismatchId, StateBefore, UntilBefore, OwnerBefore)
            SELECT $act, Id, State, Until, Owner FROM Mismatches WHERE Id IN (SELECT value FROM json_each($ids)) AND {Open}
            """,
            "$act",
            "$ids"
        );
        on.Execute(act.Id, System.Text.Json.JsonSerializer.Serialize(ids));
        using var count = new Statement(
            connection,
            transaction,
            "UPDATE MismatchActs SET Count = (SELECT count(*) FROM ActsOn WHERE ActId = $act) WHERE Id = $act RETURNING Count",
            "$act"
        );
        act.Count = (int)count.Number(act.Id);
        if (act.Count > 0)
            Change(connection, transaction, act, change);
        return act.Count;
    }

    /// <summary>Puts mismatches back to how they stood before an act, but for those with which something else was done since.</summary>
    /// <returns>How many stand as before.</returns>
    public async Task<int> UndoAsync(long act, string by, DateTimeOffset at, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: false, cancel);
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        using var undone = new Statement(
            connection,
            transaction,
            "UPDATE MismatchActs SET UndoneAt = $at, UndoneBy = $by WHERE Id = $act AND UndoneAt IS NULL RETURNING Count",
            "$at",
            "$by",
            "$act"
        );
        using (var rows = undone.Rows(at.UtcTicks, by, act))
            if (!rows.Read())
                return 0;
        using var back = new Statement(
            connection,
            transaction,
            """
            UPDATE Mismatches AS m SET State = a.StateBefore, Until = a.UntilBefore, Owner = a.OwnerBefore, SettledBy = NULL,
            EndedAt = NULL, ActId = NULL FROM ActsOn a WHERE a.ActId = $act AND a.MismatchId = m.Id AND m.State <> 'Gone'
            AND NOT EXISTS (SELECT 1 FROM ActsOn later JOIN MismatchActs l ON l.Id = later.ActId
            WHERE later.MismatchId = m.Id AND later.ActId > $act AND l.UndoneAt IS NULL AND l.Kind NOT IN ('Remark', 'CameBack'))
            RETURNING Id
            """,
            "$act"
        );
        var count = 0;
        using (var rows = back.Rows(act))
            while (rows.Read())
                count++;
        await transaction.CommitAsync(cancel);
        return count;
    }

    private static void Change(SqliteConnection connection, SqliteTransaction transaction, MismatchAct act, MismatchChange change)
    {
        using var update = new Statement(
            connection,
            transaction,
            """
            UPDATE Mismatches SET State = coalesce($state, State), Until = CASE WHEN $state IS NULL THEN Until ELSE $until END,
            Owner = CASE WHEN $gives THEN $owner ELSE Owner END, SettledBy = $settledBy, EndedAt = $endedAt,
            ActId = CASE WHEN $settledBy IS NULL THEN ActId ELSE $act END
            WHERE Id IN (SELECT MismatchId FROM ActsOn WHERE ActId = $act)
            """,
            "$state",
            "$until",
            "$gives",
            "$owner",
            "$settledBy",
            "$endedAt",
            "$act"
        );
        var settles = change.State == MismatchState.Settled;
        update.Execute(
            change.State?.ToString(),
            change.Until?.UtcTicks,
            change.Gives ? 1 : 0,
            change.Owner,
            settles ? act.By : null,
            settles ? act.At.UtcTicks : null,
            act.Id
        );
    }

    /// <summary>Opens what was put off until now or earlier.</summary>
    public async Task WakeAsync(DateTimeOffset now, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        using var wake = new Statement(
            connection,
            null,
            "UPDATE Mismatches SET State = 'Open', Until = NULL WHERE State = 'PutOff' AND Until <= $now",
            "$now"
        );
        wake.Execute(now.UtcTicks);
    }

    /// <summary>Notes how many of each cause are open on a day, so far.</summary>
    public async Task CountDayAsync(string day, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        using var forget = new Statement(connection, transaction, "UPDATE MismatchDays SET \"Open\" = 0 WHERE Day = $day", "$day");
        forget.Execute(day);
        using var count = new Statement(
            connection,
            transaction,
            """
            INSERT INTO MismatchDays (Day, Cause, "Open") SELECT $day, Cause, count(*) FROM Mismatches WHERE State = 'Open' GROUP BY Cause
            ON CONFLICT (Day, Cause) DO UPDATE SET "Open" = excluded."Open"
            """,
            "$day"
        );
        count.Execute(day);
        await transaction.CommitAsync(cancel);
    }

    // When it is found, whenever that was so which is found.
    private long Now => (clock ?? TimeProvider.System).GetUtcNow().UtcTicks;

    private static void Gather(SqliteConnection connection, IEnumerable<FoundMismatch> found, DateTimeOffset at)
    {
        // The same record and cause may be found twice in one look; the first is as good as the second.
        Execute(
            connection,
            null,
            $"CREATE TEMP TABLE IF NOT EXISTS Found ({Quoted}, PRIMARY KEY (Cause, SystemId, Kind, \"Key\", Scope) ON CONFLICT IGNORE)"
        );
        Execute(connection, null, "DELETE FROM temp.Found");
        Execute(connection, null, "BEGIN");
        using (var insert = Statement.Insert(connection, null, "Found", Columns))
            foreach (var f in found)
                insert.Execute(
                    f.Cause,
                    f.SystemId,
                    f.Kind.ToString(),
                    f.Key,
                    f.Scope,
                    f.OtherSystemId,
                    f.OtherKey,
                    f.LaneId,
                    f.CoupleId,
                    f.RunId,
                    f.Reference,
                    f.Caption,
                    f.Words,
                    f.Subject,
                    f.Hint,
                    f.Proposal,
                    f.Because,
                    (double?)f.Pieces,
                    f.Worth is { } worth ? (long)Math.Round(worth * Fine) : null,
                    f.Currency,
                    (f.Since ?? at).UtcTicks
                );
        Execute(connection, null, "COMMIT");
    }

    // Those that were gone or settled and are there again: their history says so.
    private int Return(SqliteConnection connection, SqliteTransaction transaction, string origin, DateTimeOffset at)
    {
        using var count = new Statement(
            connection,
            transaction,
            $"SELECT count(*) FROM temp.Found f JOIN Mismatches m ON {Same} WHERE {IsBack}",
            "$at"
        );
        var back = (int)count.Number(at.UtcTicks);
        if (back == 0)
            return 0;
        using var act = new Statement(
            connection,
            transaction,
            "INSERT INTO MismatchActs (Kind, \"By\", At, Learned, Count) VALUES ('CameBack', 'Narbit', $at, 0, $count) RETURNING Id",
            "$at",
            "$count"
        );
        var id = act.Number(at.UtcTicks, back);
        using var on = new Statement(
            connection,
            transaction,
            $"""
            INSERT INTO ActsOn (ActId, MismatchId, StateBefore) SELECT $act, m.Id, m.State
            FROM temp.Found f JOIN Mismatches m ON {Same} WHERE {IsBack}
            """,
            "$act",
            "$at"
        );
        on.Execute(id, at.UtcTicks);
        using var open = new Statement(
            connection,
            transaction,
            $"""
            UPDATE Mismatches AS m SET State = 'Open', Origin = $origin, CameBack = CameBack + 1, SettledBy = NULL, EndedAt = NULL,
            ActId = NULL, Since = f.Since, OpenedAt = $now FROM temp.Found f WHERE {Same} AND {IsBack}
            """,
            "$origin",
            "$at",
            "$now"
        );
        open.Execute(origin, at.UtcTicks, Now);
        return back;
    }

    private void Upsert(SqliteConnection connection, SqliteTransaction transaction, string origin, DateTimeOffset at)
    {
        using var upsert = new Statement(
            connection,
            transaction,
            $"""
            INSERT INTO Mismatches ({Quoted}, Origin, FirstSeenAt, OpenedAt, SeenAt, Seen, CameBack, State)
            SELECT {Quoted}, $origin, $at, $now, $at, 1, 0, 'Open' FROM temp.Found WHERE true
            ON CONFLICT (Cause, SystemId, Kind, "Key", Scope) DO UPDATE SET
            OtherSystemId = excluded.OtherSystemId, OtherKey = excluded.OtherKey, LaneId = excluded.LaneId, CoupleId = excluded.CoupleId,
            RunId = excluded.RunId, Reference = excluded.Reference, Caption = excluded.Caption, Words = excluded.Words,
            Subject = excluded.Subject, Hint = excluded.Hint, Proposal = excluded.Proposal, Because = excluded.Because,
            Pieces = excluded.Pieces, Worth = excluded.Worth, Currency = excluded.Currency,
            Seen = Seen + (excluded.SeenAt > SeenAt), SeenAt = max(SeenAt, excluded.SeenAt)
            """,
            "$origin",
            "$at",
            "$now"
        );
        upsert.Execute(origin, at.UtcTicks, Now);
    }

    private static int End(SqliteConnection connection, SqliteTransaction transaction, string origin, DateTimeOffset at)
    {
        using var end = new Statement(
            connection,
            transaction,
            $"""
            UPDATE Mismatches AS m SET State = 'Gone', EndedAt = $at WHERE Origin = $origin AND State IN ('Open', 'PutOff')
            AND NOT EXISTS (SELECT 1 FROM temp.Found f WHERE {Same})
            """,
            "$at",
            "$origin"
        );
        end.Execute(at.UtcTicks, origin);
        using var changes = new Statement(connection, transaction, "SELECT changes()");
        return (int)changes.Number();
    }

    private static int Count(SqliteConnection connection, SqliteTransaction transaction)
    {
        using var count = new Statement(connection, transaction, "SELECT coalesce(max(Id), 0) FROM Mismatches");
        return (int)count.Number();
    }

    private static void Execute(SqliteConnection connection, SqliteTransaction? transaction, string sql)
    {
        using var statement = new Statement(connection, transaction, sql);
        statement.Execute();
    }
}
