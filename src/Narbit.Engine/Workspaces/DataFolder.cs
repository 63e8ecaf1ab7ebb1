using Narbit.Core;

namespace Narbit.Engine.Workspaces;

/// <summary>The folder with everything that Narbit keeps; as long as it is open, no other process gets it.</summary>
public sealed class DataFolder : IDisposable
{
    private const UnixFileMode OwnerOnly = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute;

    private readonly string _path;
    private readonly FileStream _lock;

    private DataFolder(string path, FileStream @lock)
    {
        _path = path;
        _lock = @lock;
    }

    /// <summary>Where the database lies.</summary>
    public string Database => Path.Combine(_path, "narbit.db");

    /// <summary>Where copies of the database lie that are made before it is changed by another version.</summary>
    public DirectoryInfo Copies => new(Path.Combine(_path, "copies"));

    /// <summary>Where the keys that open stored credentials lie; only its owner may look.</summary>
    public DirectoryInfo Keys { get; private init; } = null!;

    /// <summary>Takes a folder, and makes it where it is missing.</summary>
    /// <returns>The folder; or <c>data.inUse</c> while another process has it.</returns>
    public static Outcome<DataFolder> Take(string path)
    {
        OwnersOnly(path);
        try
        {
            var taken = new FileStream(Path.Combine(path, "narbit.lock"), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
            return new DataFolder(path, taken) { Keys = OwnersOnly(Path.Combine(path, "keys")) };
        }
        catch (IOException)
        {
            return new Reason(
                "data.inUse",
                $"Another Narbit already works with {path}. Two at once would send everything twice. End it first, or choose another "
                    + "folder with --data."
            );
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _lock.Dispose();

    // A folder of an earlier version may still be open to others.
    private static DirectoryInfo OwnersOnly(string path)
    {
        var folder = Directory.CreateDirectory(path, OwnerOnly);
        if (folder.UnixFileMode != OwnerOnly)
            File.SetUnixFileMode(path, OwnerOnly);
        return folder;
    }
}
