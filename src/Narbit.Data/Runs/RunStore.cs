using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore.Metadata;
using Narbit.Data.Lanes;
using Narbit.Data.Sqlite;

namespace Narbit.Data.Runs;

/// <summary>Stores a change set in bulk: all of it or, if the process dies or the disk fills up, none of it.</summary>
public sealed class RunStore(Database database)
{
    /// <summary>
    /// Replaces the run's change set and remarks, and moves the run to its next phase once all of it is there. It is written in short
    /// steps, between which others are let in: until the run moves on, nobody looks at what it plans, and a run that is cut off before
    /// plans anew.
    /// </summary>
    /// <param name="run">The run with its new phase, state and counts.</param>
    /// <param name="plan">What it worked out.</param>
    /// <param name="cancel">Gives up; the run stays where it was then.</param>
    public async Task StorePlanAsync(Run run, RunPlan plan, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: false, cancel);
        var steps = new ShortSteps(connection);
        await ForgetAsync(run.Id, connection, steps, cancel);
        try
        {
            await steps.ForEachAsync(plan.Writes, transaction => new WriteInsert(database.Model, connection, transaction), cancel);
            await steps.ForEachAsync(
                plan.Remarks,
                transaction => new EntityInsert<RunRemark>(database.Model, connection, transaction),
                cancel
            );
            await steps.ForEachAsync(plan.Agreed, transaction => Upsert(connection, transaction), cancel);
        }
        catch (Exception error) when (error is OperationCanceledException or SqliteException)
        {
            await ForgetAsync(run.Id, connection, steps, CancellationToken.None);
            throw;
        }

        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        Move(run, connection, transaction);
        await transaction.CommitAsync(cancel);
    }

    /// <summary>Adds writes to a run's change set, and keeps what both sides turned out to agree on.</summary>
    public async Task AddAsync(IReadOnlyList<PlannedWrite> writes, IReadOnlyList<Agreed> agreed, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: false, cancel);
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        using (var insert = new WriteInsert(database.Model, connection, transaction))
            foreach (var write in writes)
                insert.Put(write);
        using (var upsert = Upsert(connection, transaction))
            foreach (var one in agreed)
                upsert.Put(one);
        await transaction.CommitAsync(cancel);
    }

    private static async Task ForgetAsync(long run, SqliteConnection connection, ShortSteps steps, CancellationToken cancel)
    {
        const string Some = "SELECT Id FROM Writes WHERE RunId = $run ORDER BY Id LIMIT 500";
        await steps.WhileAnyAsync(
            transaction =>
            {
                using var fields = new Statement(connection, transaction, $"DELETE FROM WriteFields WHERE WriteId IN ({Some})", "$run");
                using var writes = new Statement(connection, transaction, $"DELETE FROM Writes WHERE Id IN ({Some})", "$run");
                fields.Execute(run);
                return writes.Affects(run);
            },
            cancel
        );
        await steps.WhileAnyAsync(
            transaction =>
            {
                const string Remarks = "DELETE FROM Remarks WHERE Id IN (SELECT Id FROM Remarks WHERE RunId = $run LIMIT 2000)";
                using var remarks = new Statement(connection, transaction, Remarks, "$run");
                return remarks.Affects(run);
            },
            cancel
        );
    }

    private EntityInsert<Agreed> Upsert(SqliteConnection connection, SqliteTransaction transaction) =>
        new EntityInsert<Agreed>(
            database.Model,
            connection,
            transaction,
            nameof(Agreed.SystemId),
            nameof(Agreed.Kind),
            nameof(Agreed.Key),
            nameof(Agreed.WithId),
            nameof(Agreed.WithKey),
            nameof(Agreed.Field)
        );

    private sealed class WriteInsert(IModel model, SqliteConnection connection, SqliteTransaction transaction) : IRowWriter<PlannedWrite>
    {
        private readonly EntityInsert<PlannedWrite> _write = new(model, connection, transaction);
        private readonly EntityInsert<PlannedField> _field = new(model, connection, transaction);

        public void Put(PlannedWrite row)
        {
            _write.Put(row);
            foreach (var field in row.Fields)
            {
                field.WriteId = row.Id;
                _field.Put(field);
            }
        }

        public void Dispose()
        {
            _write.Dispose();
            _field.Dispose();
        }
    }

    private static void Move(Run run, SqliteConnection connection, SqliteTransaction transaction)
    {
        using var move = new Statement(
            connection,
            transaction,
            """
            UPDATE Runs SET Phase = $phase, State = $state, Basis = $basis, PlannedAt = $at, EndedAt = $ended, Paired = $paired,
                InStep = $inStep,
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
            "$basis",
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
            run.Basis,
            run.Id
        );
    }
}
