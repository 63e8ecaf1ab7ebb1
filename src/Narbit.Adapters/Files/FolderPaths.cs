namespace Narbit.Adapters.Files;

/// <summary>Keeps what is read and written within a folder, whatever names and links say.</summary>
internal static class FolderPaths
{
    private const int LongestName = 200;

    /// <summary>Whether a path lies below a folder, once every link on the way is followed.</summary>
    /// <param name="path">A full path; it need not exist.</param>
    /// <param name="folder">A full path.</param>
    public static bool LiesWithin(string path, string folder) =>
        Real(path).StartsWith(Real(folder) + Path.DirectorySeparatorChar, StringComparison.Ordinal);

    /// <summary>Whether a text is the name of a file and nothing else: no folder, no way up.</summary>
    public static bool IsPlainName(string name) =>
        name.Length is > 0 and <= LongestName
        && name is not ("." or "..")
        && name.AsSpan().IndexOfAny("/\\:") < 0
        && !name.Any(char.IsControl);

    /// <summary>Whether a text leads from a folder into one below it.</summary>
    public static bool IsBelow(string path) => !Path.IsPathRooted(path) && path.Split('/', '\\').All(IsPlainName);

    /// <summary>A file's name, where it is none but that.</summary>
    /// <exception cref="FoldersException">It leads elsewhere.</exception>
    public static string Plain(string name) =>
        IsPlainName(name)
            ? name
            : throw new FoldersException(
                new Core.Reason("files.badName", $"“{name}” is no name for a file; look at how files are named in the description.")
            );

    /// <summary>The name under which a file is kept aside for another that is called the same.</summary>
    public static string Aside(string name, int number) => $"{Path.GetFileNameWithoutExtension(name)} ({number}){Path.GetExtension(name)}";

    // Link by link from the root: a link in the middle of a path leads as far away as one at its end.
    private static string Real(string path)
    {
        var real = Path.GetPathRoot(path)!;
        foreach (var part in path[real.Length..].Split(Path.DirectorySeparatorChar, StringSplitOptions.RemoveEmptyEntries))
        {
            real = Path.Combine(real, part);
            FileSystemInfo? there =
                Directory.Exists(real) ? new DirectoryInfo(real)
                : File.Exists(real) ? new FileInfo(real)
                : null;
            if (there?.LinkTarget is not null && there.ResolveLinkTarget(returnFinalTarget: true) is { } target)
                real = Real(target.FullName);
        }

        return Path.TrimEndingDirectorySeparator(real);
    }
}
