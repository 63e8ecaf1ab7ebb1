using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Files;

/// <summary>
/// A system's description to the file adapter: it writes tables into one folder and takes them from another. The guide is docs/connect.md.
/// </summary>
public sealed record FileDocument : ISystemDocument
{
    /// <summary>The format's name and version.</summary>
    public const string CurrentFormat = "narbit/file-system/1";

    /// <summary>What stands for the time in the names of files.</summary>
    internal const string Time = "{time}";

    private const string TimeNeeded = "must say with {time} where the time stands in the name.";

    private static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
        AllowDuplicateProperties = false,
        ReadCommentHandling = JsonCommentHandling.Skip,
        RespectNullableAnnotations = true,
    };

    /// <summary>Always <see cref="CurrentFormat"/>.</summary>
    public required string Format { get; init; }

    /// <inheritdoc/>
    public required string Name { get; init; }

    /// <inheritdoc/>
    public required SystemKind Kind { get; init; }

    /// <inheritdoc/>
    public required string Mark { get; init; }

    /// <inheritdoc/>
    public required string Currency { get; init; }

    /// <inheritdoc/>
    public int Decimals { get; init; } = 2;

    /// <summary>
    /// The folder, within the folder that Narbit was started with for files; or a folder on a server, <c>sftp://host/folder</c>, with a
    /// port where it is not 22.
    /// </summary>
    public required string Address { get; init; }

    /// <summary>The folder within it into which the system writes.</summary>
    public required string Out { get; init; }

    /// <summary>The folder within it to which processed files go.</summary>
    public required string Archive { get; init; }

    /// <summary>The folder within it from which the system takes what is dropped in.</summary>
    public string? In { get; init; }

    /// <summary>How long a file must have been left alone before it counts as complete; 0 to 600.</summary>
    public double SettleSeconds { get; init; } = 2;

    /// <summary>How long the system may take to write a new file after something was dropped in; 1 to 3600.</summary>
    public double AnswerSeconds { get; init; } = 60;

    /// <summary>What it holds, one entry a record kind.</summary>
    public required IReadOnlyList<FileResource> Resources { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public string SignsInWith => OutboundPolicy.IsServer(Address) ? "sftp" : "none";

    /// <inheritdoc/>
    [JsonIgnore]
    public double RequestsPerSecond => 0;

    /// <summary>Reads and checks a document.</summary>
    public static Outcome<FileDocument> Read(string json)
    {
        FileDocument? document;
        try
        {
            if (JsonText.HasNothingInAList(json))
                return Unreadable.NothingInAList;
            document = JsonSerializer.Deserialize<FileDocument>(json, Options);
        }
        catch (JsonException error)
        {
            return Unreadable.Document(error);
        }

        if (document is null)
            return new Reason("document.unreadable", "The description is empty.");
        return document.FirstFault() is { } fault ? new Reason("document.invalid", fault) : document;
    }

    /// <inheritdoc/>
    public Outcome<IAdapter> Adapter(string address, Credential? credential, OutboundPolicy outbound, TimeProvider clock)
    {
        if (OutboundPolicy.IsServer(address))
        {
            var server = outbound.Server(address);
            return server.Fault is { } unusable
                ? unusable
                : Outcome.Of<IAdapter>(new FileAdapter(this, new SftpFolders(Name, server.Value, credential, outbound), clock));
        }

        var folder = outbound.Folder(address);
        return folder.Fault is { } fault ? fault : Outcome.Of<IAdapter>(new FileAdapter(this, folder.Value, clock));
    }

    private string? FirstFault()
    {
        if (Format != CurrentFormat)
            return $"format: “{Format}” is not {CurrentFormat}.";
        if (Mark.Length != 2)
            return "mark: give two letters.";
        if (SettleSeconds is < 0 or > 600)
            return "settleSeconds: must be from 0 to 600.";
        if (AnswerSeconds is < 1 or > 3600)
            return "answerSeconds: must be from 1 to 3,600.";
        if (Resources.Count == 0)
            return "resources: the system offers nothing.";
        foreach (var (name, path) in new[] { ("out", Out), ("archive", Archive), ("in", In ?? "in") })
            if (!FolderPaths.IsBelow(path))
                return $"{name}: give a folder within the system's own.";
        return Resources.Select(ResourceFault).FirstOrDefault(f => f is not null);
    }

    private string? ResourceFault(FileResource resource, int index)
    {
        var at = $"resources[{index}]";
        if (Resources.Take(index).Any(r => r.Kind == resource.Kind))
            return $"{at}.kind: there are two entries of this kind.";
        if (NameFault(resource.File) is { } file)
            return $"{at}.file: {file}";
        if (!resource.IsOneFile && resource.TimeFault is { } time)
            return $"{at}.time: {time}";
        if (resource is { IsOneFile: true, Whole: false })
            return $"{at}.file: {TimeNeeded} Only a file that holds all there is can always have the same name.";
        if (
            resource.Write is { } write
            && (write.File.Contains(Time, StringComparison.Ordinal) ? NameFault(write.File) : TimeNeeded) is { } dropped
        )
            return $"{at}.write.file: {dropped}";
        if (resource.Header is < 0 or > 50)
            return $"{at}.header: must be from 0 (there is none) to 50.";
        if (resource.Encoding is { } encoding && !TextEncoding.IsKnown(encoding))
            return $"{at}.encoding: there is none called “{encoding}”; give its IANA name, e.g. windows-1252.";
        if (resource.Fields.GroupBy(f => f.Name, StringComparer.Ordinal).FirstOrDefault(g => g.Count() > 1) is { } twice)
            return $"{at}.fields: “{twice.Key}” is described twice.";
        if (
            resource.Fields.Concat(resource.Children.SelectMany(c => c.Fields)).FirstOrDefault(f => f is { Column: null, Always: null }) is
            { } nowhere
        )
            return $"{at}.fields: “{nowhere.Name}” needs a column, or what it always is.";
        if (resource.Children.GroupBy(c => c.Name, StringComparer.Ordinal).FirstOrDefault(g => g.Count() > 1) is { } list)
            return $"{at}.children: “{list.Key}” is described twice.";
        if (resource.Children.Count > 0 && resource.Write is not null)
            return $"{at}.write: records with lists cannot be written as a table.";
        if (resource.Write is not null && In is null)
            return $"{at}.write: the system has no folder to drop files into (in).";
        return resource.Write is { BatchSize: < 1 } ? $"{at}.write.batchSize: must be 1 or more." : null;
    }

    private static string? NameFault(string file) => FolderPaths.IsPlainName(file) ? null : "must be the name of a file, without a folder.";
}

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

/// <summary>A list within a record: some of the rows that have its key.</summary>
public sealed record FileChildren
{
    /// <summary>Narbit's name for it.</summary>
    public required string Name { get; init; }

    /// <summary>The name a person reads; the name where missing.</summary>
    public string? Label { get; init; }

    /// <summary>What the entries are.</summary>
    public ListRole Role { get; init; }

    /// <summary>What rows must have in which columns to be entries; all rows where nothing is said.</summary>
    public IReadOnlyDictionary<string, string> Where { get; init; } = new Dictionary<string, string>();

    /// <summary>The column that makes rows one entry where they have the same in it; null: each row is one.</summary>
    public string? Once { get; init; }

    /// <summary>The fields of an entry.</summary>
    public required IReadOnlyList<FileField> Fields { get; init; }
}

/// <summary>A field in a column.</summary>
public sealed record FileField : DocumentField
{
    /// <summary>The column; needed unless it is always the same.</summary>
    public string? Column { get; init; }
}

/// <summary>How records are written: as a file dropped in.</summary>
public sealed record FileWrite
{
    /// <summary>The files' names, with <c>{time}</c>.</summary>
    public required string File { get; init; }

    /// <summary>The key's column.</summary>
    public required string Key { get; init; }

    /// <summary>What stands between cells.</summary>
    public char Delimiter { get; init; } = ',';

    /// <summary>The encoding by its IANA name.</summary>
    public string Encoding { get; init; } = "utf-8";

    /// <summary>The most records in a file.</summary>
    public int BatchSize { get; init; } = 500;

    /// <summary>
    /// The lowest number that a new record may get as its key; null: records cannot be created. They get the next number that is free.
    /// </summary>
    public long? NewKeysFrom { get; init; }
}
