using System.Reflection;
using Microsoft.Data.Sqlite;

namespace Narbit.Data.Upgrading;

/// <summary>
/// The steps by which the data of versions before the base migration becomes what that migration makes: plain SQL of its time, which no
/// model of today can change. Each is done whole or not at all.
/// </summary>
internal static class EarlierVersions
{
    /// <summary>The names of the steps, oldest first.</summary>
    public static IReadOnlyList<string> Steps { get; } =
    [.. typeof(EarlierVersions).Assembly.GetManifestResourceNames().Order(StringComparer.Ordinal)];

    /// <summary>Whether data with these steps behind it is of such a version.</summary>
    public static bool Holds(IReadOnlyCollection<string> applied) => applied.Contains(Steps[0]);

    /// <summary>The steps that are missing, oldest first.</summary>
    public static IEnumerable<string> Missing(IReadOnlyCollection<string> applied) => Steps.Except(applied, StringComparer.Ordinal);

    /// <summary>Does the steps that are missing, and puts the base migration in the place of all of them.</summary>
    /// <param name="connection">The data, to itself.</param>
    /// <param name="applied">The steps that are behind it.</param>
    /// <param name="baseStep">The name of the base migration.</param>
    /// <param name="cancel">Gives up between two steps.</param>
    public static async Task BringUpAsync(
        SqliteConnection connection,
        IReadOnlyCollection<string> applied,
        string baseStep,
        CancellationToken cancel
    )
    {
        // Tables are made anew in some steps, and what points to them is right again at the end of the step.
        await ExecuteAsync(connection, null, "PRAGMA foreign_keys = OFF", cancel);
        try
        {
            foreach (var step in Missing(applied))
                await WholeAsync(connection, $"{Sql(step)}\n{Noted(step)}", cancel);
            await WholeAsync(connection, $"DELETE FROM __EFMigrationsHistory;\n{Noted(baseStep)}", cancel);
        }
        finally
        {
            await ExecuteAsync(connection, null, "PRAGMA foreign_keys = ON", CancellationToken.None);
        }
    }

    // The names are those of files of this assembly.
    private static string Noted(string step) =>
        $"INSERT INTO __EFMigrationsHistory (MigrationId, ProductVersion) VALUES ('{step}', '{Version}');";

    private static string Version =>
        typeof(Microsoft.EntityFrameworkCore.DbContext)
            .Assembly.GetCustomAttribute<AssemblyInformationalVersionAttribute>()!
            .InformationalVersion;

    private static string Sql(string step)
    {
        using var reader = new StreamReader(typeof(EarlierVersions).Assembly.GetManifestResourceStream(step)!);
        return reader.ReadToEnd();
    }

    private static async Task WholeAsync(SqliteConnection connection, string sql, CancellationToken cancel)
    {
        cancel.ThrowIfCancellationRequested();
        await using var transaction = connection.BeginTransaction();
        await ExecuteAsync(connection, transaction, sql, CancellationToken.None);
        await transaction.CommitAsync(CancellationToken.None);
    }

    private static async Task ExecuteAsync(
        SqliteConnection connection,
        SqliteTransaction? transaction,
        string sql,
        CancellationToken cancel
    )
    {
        await using var command = connection.CreateCommand();
        (command.Transaction, command.CommandText, command.CommandTimeout) = (transaction, sql, 0);
        await command.ExecuteNonQueryAsync(cancel);
    }
}
