using Microsoft.Data.Sqlite;

namespace Narbit.Data.Sqlite;

/// <summary>
/// A statement of SQLite's own, prepared once and executed for many rows. Parameters are set by their place; null is NULL.
/// </summary>
internal sealed class Statement : IDisposable
{
    private readonly SqliteCommand _command;

    /// <summary>A statement with named parameters.</summary>
    /// <param name="connection">Where it runs.</param>
    /// <param name="transaction">The transaction that it belongs to, or null.</param>
    /// <param name="sql">The statement.</param>
    /// <param name="parameters">The names of its parameters, in the order in which they are set.</param>
    public Statement(SqliteConnection connection, SqliteTransaction? transaction, string sql, params ReadOnlySpan<string> parameters)
    {
        _command = connection.CreateCommand();
        (_command.Transaction, _command.CommandText) = (transaction, sql);
        foreach (var name in parameters)
            _command.Parameters.Add(new SqliteParameter(name, null));
    }

    /// <summary>An INSERT into a table, with a parameter for each of its columns.</summary>
    /// <param name="connection">Where it runs.</param>
    /// <param name="transaction">The transaction that it belongs to, or null.</param>
    /// <param name="table">The table.</param>
    /// <param name="columns">The columns, in the order in which values are set; separated by blanks.</param>
    /// <param name="tail">What follows the values, e.g. <c>RETURNING Id</c>.</param>
    public static Statement Insert(
        SqliteConnection connection,
        SqliteTransaction? transaction,
        string table,
        string columns,
        string tail = ""
    ) => Insert(connection, transaction, table, columns.Split(' '), tail);

    /// <inheritdoc cref="Insert(SqliteConnection, SqliteTransaction?, string, string, string)"/>
    public static Statement Insert(
        SqliteConnection connection,
        SqliteTransaction? transaction,
        string table,
        IReadOnlyList<string> names,
        string tail = ""
    )
    {
        string[] parameters = [.. names.Select((_, i) => $"$p{i}")];
        var list = string.Join(", ", names.Select(n => $"\"{n}\""));
        return new Statement(
            connection,
            transaction,
            $"INSERT INTO \"{table}\" ({list}) VALUES ({string.Join(", ", parameters)}) {tail}",
            parameters
        );
    }

    /// <summary>Sets the first parameters.</summary>
    public Statement Set(params ReadOnlySpan<object?> values)
    {
        for (var i = 0; i < values.Length; i++)
            _command.Parameters[i].Value = values[i] ?? DBNull.Value;
        return this;
    }

    /// <summary>Executes it.</summary>
    public void Execute(params ReadOnlySpan<object?> values)
    {
        Set(values);
        _command.ExecuteNonQuery();
    }

    /// <summary>Executes it and tells how many rows it changed.</summary>
    public int Affects(params ReadOnlySpan<object?> values)
    {
        Set(values);
        return _command.ExecuteNonQuery();
    }

    /// <summary>Executes it and gives the first number of its result.</summary>
    public long Number(params ReadOnlySpan<object?> values)
    {
        Set(values);
        return (long)_command.ExecuteScalar()!;
    }

    /// <summary>Executes it and reads its rows.</summary>
    public SqliteDataReader Rows(params ReadOnlySpan<object?> values)
    {
        Set(values);
        return _command.ExecuteReader();
    }

    /// <summary>The same without blocking while the first rows are looked for.</summary>
    public Task<SqliteDataReader> RowsAsync(CancellationToken cancel) => _command.ExecuteReaderAsync(cancel);

    /// <inheritdoc/>
    public void Dispose() => _command.Dispose();
}

/// <summary>Columns that may be NULL.</summary>
internal static class Columns
{
    /// <summary>A text, or null.</summary>
    public static string? Text(this SqliteDataReader row, int column) => row.IsDBNull(column) ? null : row.GetString(column);
}
