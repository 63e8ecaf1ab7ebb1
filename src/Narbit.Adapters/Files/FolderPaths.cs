namespace Narbit.Adapters.Files;

/// <summary>Keeps what is read and written within a folder, whatever names and links say.</summary>
internal static class FolderPaths
{
    /// <summary>Whether a path lies below a folder, once every link on the way is followed.</summary>
    /// <param name="path">A full path; it need not exist.</param>
    /// <param name="folder">A full path.</param>
    public static bool LiesWithin(string path, string folder) =>
        Real(path).StartsWith(Real(folder) + Path.DirectorySeparatorChar, StringComparison.Ordinal);

    /// <summary>Whether a text is the name of a file and nothing else: no folder, no way up.</summary>
    public static bool IsPlainName(string name) => name.Length > 0 && name is not ("." or "..") && name.AsSpan().IndexOfAny("/\\\0:") < 0;

    /// <summary>Whether a text leads from a folder into one below it.</summary>
    public static bool IsBelow(string path) => !Path.IsPathRooted(path) && path.Split('/', '\\').All(IsPlainName);

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
