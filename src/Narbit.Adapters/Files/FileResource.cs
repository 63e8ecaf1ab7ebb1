using System.Globalization;
using Narbit.Core.Records;

namespace Narbit.Adapters.Files;

/// <summary>One record kind, a table a file.</summary>
public sealed record FileResource
{
    /// <summary>The kind.</summary>
    public required RecordKind Kind { get; init; }

    /// <summary>What the system calls these records.</summary>
    public required string Label { get; init; }

    /// <summary>
    /// The files' names, e.g. <c>items_{time}.csv</c>. Without <c>{time}</c> it is one file that the system writes over; it is left where
    /// it is, and not put into the archive.
    /// </summary>
    public required string File { get; init; }

    /// <summary>The form of the time in the name, as .NET writes it; UTC.</summary>
    public string Time { get; init; } = "yyyyMMdd-HHmmss";

    /// <summary>
    /// The line that names the columns, from 1; what stands above it is left out. 0: there is none, and columns are called 1, 2, 3 by
    /// their place.
    /// </summary>
    public int Header { get; init; } = 1;

    /// <summary>What stands between the cells of a CSV file; null: found out for each file.</summary>
    public char? Delimiter { get; init; }

    /// <summary>The encoding of a text file by its IANA name; null: found out for each file.</summary>
    public string? Encoding { get; init; }

    /// <summary>The key's column.</summary>
    public required string Key { get; init; }

    /// <summary>The column with the key of the record that it belongs to.</summary>
    public string? Parent { get; init; }

    /// <summary>The column with the code that sisters share.</summary>
    public string? Group { get; init; }

    /// <summary>The fields.</summary>
    public required IReadOnlyList<FileField> Fields { get; init; }

    /// <summary>
    /// Whether a file holds all there is, so that what is missing from it is gone. Otherwise files hold the latest records only, e.g. a
    /// day's sales: all that came since the last reading are read, the oldest first.
    /// </summary>
    public bool Whole { get; init; } = true;

    /// <summary>The lists within each record; rows with the same key are then one record, and its own fields stand in the first.</summary>
    public IReadOnlyList<FileChildren> Children { get; init; } = [];

    /// <summary>How records are written.</summary>
    public FileWrite? Write { get; init; }

    /// <summary>Whether it is always the same file.</summary>
    internal bool IsOneFile => !File.Contains(FileDocument.Time, StringComparison.Ordinal);

    /// <summary>How its tables are laid out.</summary>
    internal TableForm Form =>
        new()
        {
            Header = Header,
            Delimiter = Delimiter,
            Encoding = Encoding,
        };

    /// <summary>The name of a file of a time.</summary>
    internal string NameAt(DateTimeOffset time) =>
        File.Replace(FileDocument.Time, time.UtcDateTime.ToString(Time, CultureInfo.InvariantCulture), StringComparison.Ordinal);

    /// <summary>What is wrong with the form of the time; null: names can be made and read by it.</summary>
    internal string? TimeFault
    {
        get
        {
            foreach (var sample in Samples)
                try
                {
                    if (!FolderPaths.IsPlainName(NameAt(sample)) || TimeOf(NameAt(sample)) is null)
                        return $"“{Time}” is no form of a time in a name; "
                            + "write it as yyyyMMdd-HHmmss, without “/” or other signs of a path.";
                }
                catch (FormatException)
                {
                    return $"“{Time}” is no form of a time; write it as yyyyMMdd-HHmmss.";
                }

            return null;
        }
    }

    // What stands in a form may show at some times only.
    private static readonly DateTimeOffset[] Samples =
    [
        new(2001, 2, 3, 4, 5, 6, 7, TimeSpan.Zero),
        new(2026, 12, 31, 23, 59, 59, 999, TimeSpan.Zero),
    ];

    /// <summary>The time in a file's name, of one that is always called the same the earliest; null where the name is another's.</summary>
    internal DateTimeOffset? TimeOf(string name)
    {
        if (IsOneFile)
            return string.Equals(name, File, StringComparison.OrdinalIgnoreCase) ? DateTimeOffset.MinValue : null;
        var at = File.IndexOf(FileDocument.Time, StringComparison.Ordinal);
        var (before, after) = (File[..at], File[(at + FileDocument.Time.Length)..]);
        return
            name.Length > before.Length + after.Length
            && name.StartsWith(before, StringComparison.OrdinalIgnoreCase)
            && name.EndsWith(after, StringComparison.OrdinalIgnoreCase)
            && DateTimeOffset.TryParseExact(
                name[before.Length..^after.Length],
                Time,
                CultureInfo.InvariantCulture,
                DateTimeStyles.AssumeUniversal,
                out var time
            )
            ? time
            : null;
    }
}
