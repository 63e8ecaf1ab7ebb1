using Narbit.Core;

namespace Narbit.Adapters.Files;

/// <summary>A file in one of a system's folders.</summary>
/// <param name="Folder">The folder, as its description names it.</param>
/// <param name="Name">The file's name.</param>
/// <param name="Written">When it was written, UTC.</param>
internal sealed record PlacedFile(string Folder, string Name, DateTime Written);

/// <summary>Where a system's folders are.</summary>
internal interface IFolders : IDisposable
{
    /// <summary>How exactly it is known when a file was written.</summary>
    TimeSpan Grain { get; }

    /// <summary>Whether there is such a folder.</summary>
    bool Has(string folder);

    /// <summary>Whether a folder is a link that leads out of the system's own.</summary>
    bool LeadsAway(string folder);

    /// <summary>Makes a folder where it is missing.</summary>
    void Make(string folder);

    /// <summary>The files of a folder; none where there is no such folder.</summary>
    IReadOnlyList<PlacedFile> Files(string folder);

    /// <summary>Puts a file into a folder, under another name until it is complete.</summary>
    /// <returns>Whether it is there; false: there is one of this name already, which is left as it is.</returns>
    Task<bool> PutAsync(string folder, string name, Stream content, CancellationToken cancel);

    /// <summary>Moves a file into another folder; one of the same name is kept there under another.</summary>
    /// <returns>Where it is now.</returns>
    PlacedFile Move(PlacedFile file, string folder);

    /// <summary>The path on this machine from which a file can be read.</summary>
    string Local(PlacedFile file);
}

/// <summary>The folders cannot be reached.</summary>
/// <param name="reason">Why, and what to do.</param>
/// <param name="mayHaveActed">Whether what was asked for may have been done all the same.</param>
internal sealed class FoldersException(Reason reason, bool mayHaveActed = false) : IOException(reason.Words)
{
    /// <summary>Why, and what to do.</summary>
    public Reason Reason { get; } = reason;

    /// <summary>Whether what was asked for may have been done all the same.</summary>
    public bool MayHaveActed { get; } = mayHaveActed;
}
