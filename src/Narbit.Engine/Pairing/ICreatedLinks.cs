using Narbit.Core.Records;
using Narbit.Data;

namespace Narbit.Engine.Pairing;

/// <summary>What a run keeps of the records that it creates: which record of the source became which of the target.</summary>
public interface ICreatedLinks
{
    /// <summary>The target's record that a source's record is linked with; null: none.</summary>
    Task<string?> TargetOfAsync(NarbitContext db, string sourceKey, CancellationToken cancel);

    /// <summary>The source's record that a target's record is linked with; null: none.</summary>
    Task<string?> SourceOfAsync(NarbitContext db, string targetKey, CancellationToken cancel);

    /// <summary>Links what was created, within the caller's transaction; nothing where the record is linked already.</summary>
    Task LinkAsync(NarbitContext db, CreatedPair created, DateTimeOffset now, CancellationToken cancel);

    /// <summary>Takes the link of an ended record away.</summary>
    Task UnlinkAsync(NarbitContext db, Way way, string key, CancellationToken cancel);
}
