using Microsoft.Data.Sqlite;
using Narbit.Data.Lanes;

namespace Narbit.Data.Runs;

/// <summary>Everything that a run worked out before it sends anything.</summary>
/// <param name="Writes">The planned writes with their fields.</param>
/// <param name="Remarks">What could not be computed.</param>
/// <param name="Agreed">What both sides already agree on.</param>
public sealed record RunPlan(IReadOnlyList<PlannedWrite> Writes, IReadOnlyList<RunRemark> Remarks, IReadOnlyList<Agreed> Agreed);

/// <summary>Stores a change set in bulk: all of it or, if the process dies or the disk fills up, none of it.</summary>
public sealed class RunStore(Database database)
{
    private const string WriteColumns =
        "RunId SourceKey TargetKey Reference Caption Kind State Hold_Code Hold_Words Hold_Values Move MoveUnit IdempotencyKey "
        + "Attempts Source Act Way Guards ParentKey Group Children ChildrenBefore Record";

    private const string AgreedColumns = "SystemId Kind Key WithId WithKey Field Value Source At";

    /// <summary>Replaces the run's change set and remarks and moves the run to its next phase, in one transaction.</summary>
    /// <param name="run">The run with its new phase, state and counts.</param>
    /// <param name="plan">What it worked out.</param>
    /// <param name="cancel">Gives up; nothing is stored.</param>
    public async Task StorePlanAsync(Run run, RunPlan plan, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: false, cancel);
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        Forget(run.Id, connection, transaction);
        Insert(run.Id, plan.Writes, connection, transaction, cancel);
        Insert(run.Id, plan.Remarks, connection, transaction);
        Upsert(plan.Agreed, connection, transaction);
        Move(run, connection, transaction);
        await transaction.CommitAsync(cancel);
    }

    /// <summary>Adds writes to a run's change set, and keeps what both sides turned out to agree on.</summary>
    public async Task AddAsync(long run, IReadOnlyList<PlannedWrite> writes, IReadOnlyList<Agreed> agreed, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: false, cancel);
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        Insert(run, writes, connection, transaction, cancel);
        Upsert(agreed, connection, transaction);
        await transaction.CommitAsync(cancel);
    }

    private static void Forget(long run, SqliteConnection connection, SqliteTransaction transaction)
    {
        foreach (
            var sql in new[]
            {
                "DELETE FROM WriteFields WHERE WriteId IN (SELECT Id FROM Writes WHERE RunId = $run)",
                "DELETE FROM Writes WHERE RunId = $run",
                "DELETE FROM Remarks WHERE RunId = $run",
            }
        )
        {
            using var delete = new Statement(connection, transaction, sql, "$run");
            delete.Execute(run);
        }
    }

    private static void Insert(
        long run,
        IReadOnlyList<PlannedWrite> writes,
        SqliteConnection connection,
        SqliteTransaction transaction,
        CancellationToken cancel
    )
    {
        using var insert = Statement.Insert(connection, transaction, "Writes", WriteColumns, "RETURNING Id");
        using var field = Statement.Insert(
            connection,
            transaction,
            "WriteFields",
            "WriteId Field Position Old New Trace Asks Agrees Stays"
        );
        foreach (var write in writes)
        {
            cancel.ThrowIfCancellationRequested();
            write.Id = insert.Number(
                run,
                write.SourceKey,
                write.TargetKey,
                write.Reference,
                write.Caption,
                write.Kind.ToString(),
                write.State.ToString(),
                write.Hold?.Code,
                write.Hold?.Words,
                write.Hold?.Values,
                write.Move,
                write.MoveUnit,
                write.IdempotencyKey,
                0,
                write.Source,
                write.Act.ToString(),
                write.Way.ToString(),
                write.Guards,
                write.ParentKey,
                write.Group,
                write.Children,
                write.ChildrenBefore,
                write.Record.ToString()
            );
            foreach (var f in write.Fields)
                field.Execute(write.Id, f.Field, f.Position, f.Old, f.New, f.Trace, f.Asks, f.Agrees, f.Stays);
        }
    }

    private static void Insert(long run, IReadOnlyList<RunRemark> remarks, SqliteConnection connection, SqliteTransaction transaction)
    {
        using var insert = Statement.Insert(
            connection,
            transaction,
            "Remarks",
            "RunId SourceKey TargetKey Reference Caption Why_Code Why_Words Why_Values"
        );
        foreach (var r in remarks)
            insert.Execute(run, r.SourceKey, r.TargetKey, r.Reference, r.Caption, r.Why.Code, r.Why.Words, r.Why.Values);
    }

    private static void Upsert(IReadOnlyList<Agreed> agreed, SqliteConnection connection, SqliteTransaction transaction)
    {
        using var upsert = Statement.Insert(
            connection,
            transaction,
            "Agreed",
            AgreedColumns,
            """
            ON CONFLICT (SystemId, Kind, Key, WithId, WithKey, Field)
            DO UPDATE SET Value = excluded.Value, Source = excluded.Source, At = excluded.At
            """
        );
        foreach (var a in agreed)
            upsert.Execute(a.SystemId, a.Kind.ToString(), a.Key, a.WithId, a.WithKey, a.Field, a.Value, a.Source, a.At.UtcTicks);
    }

    private static void Move(Run run, SqliteConnection connection, SqliteTransaction transaction)
    {
        using var move = new Statement(
            connection,
            transaction,
            """
            UPDATE Runs SET Phase = $phase, State = $state, PlannedAt = $at, EndedAt = $ended, Paired = $paired, InStep = $inStep,
                Remarked = $remarked, RuleNumber = $rule, Tripped = $tripped WHERE Id = $run
            """,
            "$phase",
            "$state",
            "$at",
            "$ended",
            "$paired",
            "$inStep",
            "$remarked",
            "$rule",
            "$tripped",
            "$run"
        );
        move.Execute(
            run.Phase.ToString(),
            run.State.ToString(),
            run.PlannedAt?.UtcTicks,
            run.EndedAt?.UtcTicks,
            run.Paired,
            run.InStep,
            run.Remarked,
            run.RuleNumber,
            run.Tripped,
            run.Id
        );
    }
}
