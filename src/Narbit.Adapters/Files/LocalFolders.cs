namespace Narbit.Adapters.Files;

/// <summary>Folders on this machine.</summary>
/// <param name="root">The system's own folder, already checked.</param>
internal sealed class LocalFolders(string root) : IFolders
{
    public TimeSpan Grain => TimeSpan.Zero;

    public bool Has(string folder) => Directory.Exists(At(folder));

    public bool LeadsAway(string folder) => Has(folder) && !FolderPaths.LiesWithin(At(folder), root);

    public void Make(string folder) => Directory.CreateDirectory(At(folder));

    public IReadOnlyList<PlacedFile> Files(string folder) =>
        Has(folder)
            ?
            [
                .. Directory
                    .EnumerateFiles(At(folder))
                    .Where(path => FolderPaths.LiesWithin(path, root))
                    .Select(path => new PlacedFile(folder, Path.GetFileName(path), File.GetLastWriteTimeUtc(path))),
            ]
            : [];

    public async Task<bool> PutAsync(string folder, string name, Stream content, CancellationToken cancel)
    {
        var target = Path.Combine(At(folder), FolderPaths.Plain(name));
        if (File.Exists(target))
            return false;
        var unfinished = $"{target}.part";
        await using (var written = File.Create(unfinished))
        {
            await content.CopyToAsync(written, cancel);
            // What is dropped in is told of as sent, so it must outlive a power cut.
            written.Flush(flushToDisk: true);
        }

        try
        {
            File.Move(unfinished, target, overwrite: false);
            return true;
        }
        catch (IOException) when (File.Exists(target))
        {
            File.Delete(unfinished);
            return false;
        }
    }

    public PlacedFile Move(PlacedFile file, string folder)
    {
        Make(folder);
        var target = Path.Combine(At(folder), FolderPaths.Plain(file.Name));
        for (var number = 2; File.Exists(target); number++)
        {
            var aside = Path.Combine(At(folder), FolderPaths.Aside(file.Name, number));
            if (!File.Exists(aside))
                File.Move(target, aside, overwrite: false);
        }

        File.Move(Local(file), target, overwrite: false);
        return new PlacedFile(folder, file.Name, File.GetLastWriteTimeUtc(target));
    }

    public string Local(PlacedFile file) => Path.Combine(At(file.Folder), file.Name);

    public void Dispose()
    {
        // No file is kept open between two calls.
    }

    private string At(string folder) => Path.Combine(root, folder);
}
