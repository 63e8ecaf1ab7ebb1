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
