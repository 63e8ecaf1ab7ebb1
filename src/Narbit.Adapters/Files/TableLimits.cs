namespace Narbit.Adapters.Files;

/// <summary>What a table may hold, so that no file takes the machine down.</summary>
public sealed record TableLimits
{
    /// <summary>The most characters in a row of text; 1 Mi unless told otherwise.</summary>
    public int RowLength { get; init; } = 1 << 20;

    /// <summary>The most columns; 4,000 unless told otherwise.</summary>
    public int Columns { get; init; } = 4_000;

    /// <summary>The most rows; 2,000,000 unless told otherwise.</summary>
    public int Rows { get; init; } = 2_000_000;

    /// <summary>The most bytes of a text file; 1 GiB unless told otherwise.</summary>
    public long Length { get; init; } = 1L << 30;

    /// <summary>The most bytes that a workbook may unpack to; 400 MiB unless told otherwise.</summary>
    public long Unpacked { get; init; } = 400L << 20;
}
