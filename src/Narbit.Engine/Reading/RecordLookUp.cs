using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Reading;

/// <summary>Reads records by their keys into the mirror, as they are now.</summary>
internal static class RecordLookUp
{
    private const int AtOnce = 200;

    /// <summary>Reads them.</summary>
    /// <returns>Why they could not be read; null: they are, as far as they are there.</returns>
    public static async Task<Reason?> ReadAsync(
        Database database,
        Connection connection,
        RecordsTouched wanted,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        if (connection.Adapter.Kinds.FirstOrDefault(k => k.Kind == wanted.Kind) is not { } kind)
            return new Reason("read.kind", $"{connection.System.Name} describes no such records.");
        foreach (var some in wanted.Keys.Distinct(StringComparer.Ordinal).Chunk(AtOnce))
        {
            var found = await connection.Adapter.LookUpAsync(kind.Kind, some, cancel);
            if (found.Fault is { } fault)
                return fault;
            var entries = StoredRecord.Entries(found.Value, kind.Fields);
            await new MirrorStore(database).StoreAsync(connection.System.Id, kind.Kind, entries, now, cancel);
        }

        return null;
    }
}
