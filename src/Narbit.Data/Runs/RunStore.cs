using Microsoft.Data.Sqlite;

namespace Narbit.Data.Runs;

/// <summary>Stores a change set in bulk: all of it or, if the process dies or the disk fills up, none of it.</summary>
public sealed class RunStore(Database database)
{
    /// <summary>Replaces the run's change set and remarks and moves the run to its next phase, in one transaction.</summary>
    /// <param name="run">The run with its new phase, state and counts.</param>
    /// <param name="writes">The planned writes with their fields.</param>
    /// <param name="remarks">What could not be computed.</param>
    /// <param name="agreed">What both sides already agree on.</param>
    /// <param name="cancel">Gives up; nothing is stored.</param>
    public async Task StorePlanAsync(
        Run run,
        IReadOnlyList<PlannedWrite> writes,
        IReadOnlyList<RunRemark> remarks,
        IReadOnlyList<Lanes.Agreed> agreed,
        CancellationToken cancel
    )
    {
        await using var connection = await database.OpenAsync(bulk: false, cancel);
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        Execute("DELETE FROM WriteFields WHERE WriteId IN (SELECT Id FROM Writes WHERE RunId = $run)", ("$run", run.Id));
        Execute("DELETE FROM Writes WHERE RunId = $run", ("$run", run.Id));
        Execute("DELETE FROM Remarks WHERE RunId = $run", ("$run", run.Id));

        await using (
            var insert = Prepare(
                """
                INSERT INTO Writes (RunId, HubKey, TargetKey, Sku, Title, Kind, State, HoldReason, Move, IdempotencyKey, Attempts, Source, Act, ToSource, Guards, ParentKey, "Group")
                VALUES ($run, $hub, $target, $sku, $title, $kind, $state, $hold, $move, $key, 0, $source, $act, $toSource, $guards, $parent, $group) RETURNING Id
                """,
                "$run",
                "$hub",
                "$target",
                "$sku",
                "$title",
                "$kind",
                "$state",
                "$hold",
                "$move",
                "$key",
                "$source",
                "$act",
                "$toSource",
                "$guards",
                "$parent",
                "$group"
            )
        )
        await using (
            var field = Prepare(
                "INSERT INTO WriteFields (WriteId, Field, Position, Old, New, Trace, Asks) VALUES ($write, $field, $position, "
                    + "$old, $new, $trace, $asks)",
                "$write",
                "$field",
                "$position",
                "$old",
                "$new",
                "$trace",
                "$asks"
            )
        )
        {
            foreach (var write in writes)
            {
                cancel.ThrowIfCancellationRequested();
                Set(
                    insert,
                    run.Id,
                    write.HubKey,
                    write.TargetKey,
                    write.Sku,
                    write.Title,
                    write.Kind.ToString(),
                    write.State.ToString(),
                    write.HoldReason,
                    write.Move,
                    write.IdempotencyKey,
                    write.Source,
                    write.Act.ToString(),
                    write.ToSource,
                    write.Guards,
                    write.ParentKey,
                    write.Group
                );
                write.Id = (long)insert.ExecuteScalar()!;
                foreach (var f in write.Fields)
                {
                    Set(field, write.Id, f.Field, f.Position, f.Old, f.New, f.Trace, f.Asks);
                    field.ExecuteNonQuery();
                }
            }
        }

        await using (
            var remark = Prepare(
                "INSERT INTO Remarks (RunId, HubKey, TargetKey, Sku, Title, Cause, Message) VALUES ($run, $hub, $target, $sku, "
                    + "$title, $cause, $message)",
                "$run",
                "$hub",
                "$target",
                "$sku",
                "$title",
                "$cause",
                "$message"
            )
        )
        {
            foreach (var r in remarks)
            {
                Set(remark, run.Id, r.HubKey, r.TargetKey, r.Sku, r.Title, r.Cause, r.Message);
                remark.ExecuteNonQuery();
            }
        }

        await using (
            var agree = Prepare(
                """
                INSERT INTO Agreed (LaneId, TargetKey, Field, Value, Source, At) VALUES ($lane, $target, $field, $value, $source, $at)
                ON CONFLICT (LaneId, TargetKey, Field) DO UPDATE SET Value = excluded.Value, Source = excluded.Source, At = excluded.At
                """,
                "$lane",
                "$target",
                "$field",
                "$value",
                "$source",
                "$at"
            )
        )
        {
            foreach (var a in agreed)
            {
                Set(agree, a.LaneId, a.TargetKey, a.Field, a.Value, a.Source, a.At.UtcTicks);
                agree.ExecuteNonQuery();
            }
        }

        Execute(
            "UPDATE Runs SET Phase = $phase, State = $state, PlannedAt = $at, EndedAt = $ended, Paired = $paired, InStep = "
                + "$inStep, Remarked = $remarked, RuleNumber = $rule, Tripped = $tripped WHERE Id = $run",
            ("$phase", run.Phase.ToString()),
            ("$state", run.State.ToString()),
            ("$at", run.PlannedAt?.UtcTicks),
            ("$ended", run.EndedAt?.UtcTicks),
            ("$paired", run.Paired),
            ("$inStep", run.InStep),
            ("$remarked", run.Remarked),
            ("$rule", run.RuleNumber),
            ("$tripped", run.Tripped),
            ("$run", run.Id)
        );
        await transaction.CommitAsync(cancel);

        void Execute(string sql, params (string Name, object? Value)[] parameters)
        {
            using var command = Prepare(sql, [.. parameters.Select(p => p.Name)]);
            Set(command, [.. parameters.Select(p => p.Value)]);
            command.ExecuteNonQuery();
        }

        SqliteCommand Prepare(string sql, params string[] names)
        {
            var command = connection.CreateCommand();
            command.Transaction = transaction;
            command.CommandText = sql;
            foreach (var name in names)
                command.Parameters.Add(new SqliteParameter(name, null));
            return command;
        }

        static void Set(SqliteCommand command, params object?[] values)
        {
            for (var i = 0; i < values.Length; i++)
                command.Parameters[i].Value = values[i] ?? DBNull.Value;
        }
    }
}
