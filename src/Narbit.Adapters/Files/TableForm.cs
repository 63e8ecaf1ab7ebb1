namespace Narbit.Adapters.Files;

/// <summary>How a table is laid out, as far as it is not found out.</summary>
public sealed record TableForm
{
    /// <summary>
    /// The line that names the columns, from 1, in a workbook its row; what stands above it is left out. 0: there is none, and columns are
    /// called 1, 2, 3 by their place. JSON Lines name their values themselves.
    /// </summary>
    public int Header { get; init; } = 1;

    /// <summary>What stands between the cells of a CSV file; null: found out.</summary>
    public char? Delimiter { get; init; }

    /// <summary>The encoding of a text file by its IANA name; null: found out.</summary>
    public string? Encoding { get; init; }
}
