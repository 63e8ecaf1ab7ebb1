using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using Narbit.Core;

namespace Narbit.Engine.Workspaces.Files;

/// <summary>The files of a workspace: text by path, as they lie in a folder or a zip archive.</summary>
/// <param name="All">By path, with slashes, in ordinal order.</param>
public sealed record WorkspaceFiles(IReadOnlyDictionary<string, string> All)
{
    private const int MostFiles = 5_000;
    private const long MostBytes = 256L << 20;

    private static readonly string[] Kinds = ["systems/*.json", "lanes/*.json", "jobs/*.json", "pairs/*.json", "pairs/*.csv"];

    // The same bytes each time: an archive says when its files were made, and a workspace does not.
    private static readonly DateTimeOffset NoTime = new(2000, 1, 1, 0, 0, 0, TimeSpan.Zero);
    private static readonly UTF8Encoding Strict = new(encoderShouldEmitUTF8Identifier: false, throwOnInvalidBytes: true);

    /// <summary>Puts files in order.</summary>
    public static WorkspaceFiles Of(IEnumerable<KeyValuePair<string, string>> files) =>
        new(new SortedDictionary<string, string>(files.ToDictionary(f => f.Key, f => f.Value), StringComparer.Ordinal));

    /// <summary>What a file holds; null: it is not there.</summary>
    public string? this[string path] => All.GetValueOrDefault(path);

    /// <summary>The files of a folder within, e.g. <c>lanes/</c>, with an ending.</summary>
    public IEnumerable<(string Path, string Name, string Text)> In(string folder, string ending) =>
        from file in All
        where file.Key.StartsWith(folder, StringComparison.Ordinal) && file.Key.EndsWith(ending, StringComparison.Ordinal)
        select (file.Key, file.Key[folder.Length..^ending.Length], file.Value);

    /// <summary>Tells these files from others.</summary>
    public string Fingerprint
    {
        get
        {
            using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
            foreach (var (path, text) in All)
                hash.AppendData(Encoding.UTF8.GetBytes($"{path}\n{text.Length}\n{text}"));
            return Convert.ToHexStringLower(hash.GetHashAndReset());
        }
    }

    /// <summary>Reads a folder. What else lies there is left alone.</summary>
    public static Outcome<WorkspaceFiles> Read(DirectoryInfo folder)
    {
        if (!folder.Exists)
            return new Reason("workspace.noFolder", $"There is no folder {folder.FullName}.");
        try
        {
            var found = Kinds
                .SelectMany(k => Within(folder, k))
                .Append(new FileInfo(Path.Combine(folder.FullName, WorkspaceText.Workspace)))
                .Where(f => f.Exists && f.LinkTarget is null)
                .ToList();
            return Bounded(found.Count, found.Sum(f => f.Length)) is { } tooMuch
                ? tooMuch
                : Of(found.Select(f => KeyValuePair.Create(PathIn(folder, f), Decoded(File.ReadAllBytes(f.FullName)))));
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException or DecoderFallbackException)
        {
            return Unreadable(error);
        }
    }

    /// <summary>Reads an archive, which may have everything below one folder.</summary>
    public static Outcome<WorkspaceFiles> Read(Stream zip)
    {
        try
        {
            using var archive = new ZipArchive(zip, ZipArchiveMode.Read, leaveOpen: true);
            if (Bounded(archive.Entries.Count, archive.Entries.Sum(e => e.Length)) is { } tooMuch)
                return tooMuch;
            var root = archive.Entries.Select(e => e.FullName).FirstOrDefault(n => IsNamed(n, WorkspaceText.Workspace)) ?? "";
            root = root.Length == 0 ? "" : root[..^WorkspaceText.Workspace.Length];
            var taken = archive.Entries.Where(e =>
                e.FullName.StartsWith(root, StringComparison.Ordinal) && IsOne(e.FullName[root.Length..])
            );
            return Of(taken.Select(e => KeyValuePair.Create(e.FullName[root.Length..], Unpacked(e))));
        }
        catch (Exception error) when (error is IOException or InvalidDataException or DecoderFallbackException or ArgumentException)
        {
            return Unreadable(error);
        }
    }

    /// <summary>Writes a folder; where a workspace was written before, its files that are none of these any more are removed.</summary>
    /// <returns>What stands in the way; null: it is written.</returns>
    public Reason? Write(DirectoryInfo folder)
    {
        try
        {
            // What becomes a path is looked at once more here, wherever it comes from.
            if (All.Keys.FirstOrDefault(p => !IsOne(p)) is { } astray)
                return new Reason("workspace.unwritable", $"“{astray}” is no file of a workspace.");
            folder.Create();
            var was = File.Exists(Path.Combine(folder.FullName, WorkspaceText.Workspace)) ? Kinds : [];
            foreach (var old in was.SelectMany(k => Within(folder, k)).Where(f => !All.ContainsKey(PathIn(folder, f))))
                old.Delete();
            foreach (var (path, text) in All)
            {
                var file = Path.Combine(folder.FullName, path);
                Directory.CreateDirectory(Path.GetDirectoryName(file)!);
                File.WriteAllText(file, text, Strict);
            }

            return null;
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            return new Reason("workspace.unwritable", error.Message);
        }
    }

    /// <summary>The files as an archive.</summary>
    public byte[] Zip()
    {
        using var content = new MemoryStream();
        using (var archive = new ZipArchive(content, ZipArchiveMode.Create, leaveOpen: true))
            foreach (var (path, text) in All)
            {
                var entry = archive.CreateEntry(path, CompressionLevel.Optimal);
                entry.LastWriteTime = NoTime;
                using var writer = entry.Open();
                writer.Write(Strict.GetBytes(text));
            }

        return content.ToArray();
    }

    private static string PathIn(DirectoryInfo folder, FileInfo file) => Path.GetRelativePath(folder.FullName, file.FullName);

    private static IEnumerable<FileInfo> Within(DirectoryInfo folder, string kind)
    {
        var within = new DirectoryInfo(Path.Combine(folder.FullName, kind[..kind.IndexOf('/', StringComparison.Ordinal)]));
        return within.Exists && within.LinkTarget is null ? within.EnumerateFiles(Path.GetFileName(kind)) : [];
    }

    private static bool IsNamed(string path, string name) =>
        path == name || (path.EndsWith($"/{name}", StringComparison.Ordinal) && path.Count(c => c == '/') == 1);

    // Of an archive nothing is written to disk; its names are only compared.
    private static bool IsOne(string path)
    {
        if (path == WorkspaceText.Workspace)
            return true;
        var parts = path.Split('/');
        return parts is [var folder, { Length: > 0 } name]
            && name[0] != '.'
            && Kinds.Any(k => k.StartsWith($"{folder}/", StringComparison.Ordinal) && Path.GetExtension(k) == Path.GetExtension(name));
    }

    private static string Unpacked(ZipArchiveEntry entry)
    {
        using var from = entry.Open();
        using var into = new MemoryStream();
        var room = new byte[1 << 16];
        // What an archive says of its sizes need not be true.
        for (int read; (read = from.Read(room)) > 0; )
        {
            if (into.Length + read > entry.Length)
                throw new InvalidDataException($"{entry.FullName} is longer than the archive says");
            into.Write(room, 0, read);
        }

        return Decoded(into.ToArray());
    }

    private static string Decoded(byte[] bytes) =>
        Strict.GetString(bytes).TrimStart('\uFEFF').Replace("\r\n", "\n", StringComparison.Ordinal);

    private static Reason? Bounded(int files, long bytes) =>
        files > MostFiles || bytes > MostBytes
            ? new Reason(
                "workspace.tooLarge",
                $"There are {files:N0} files with {bytes >> 20:N0} MiB; at most {MostFiles:N0} with {MostBytes >> 20:N0} MiB are read."
            )
            : null;

    private static Reason Unreadable(Exception error) => new("workspace.unreadable", $"The files cannot be read: {error.Message}");
}
