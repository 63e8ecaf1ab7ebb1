using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Mismatches;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>What the records are called that mismatches propose.</summary>
internal sealed class PartnerNames
{
    private const int AtOnce = 500;

    private readonly Dictionary<(string System, string Key), string> _names = [];

    /// <summary>Reads them.</summary>
    public static async Task<PartnerNames> OfAsync(NarbitContext db, IReadOnlyList<Mismatch> some, CancellationToken cancel)
    {
        var names = new PartnerNames();
        var wanted = some.Where(m => m is { Proposal: not null, OtherSystemId: not null });
        foreach (var group in wanted.GroupBy(m => (m.OtherSystemId, m.Kind)))
        foreach (var keys in group.Select(m => m.Proposal!).Distinct(StringComparer.Ordinal).Chunk(AtOnce))
        {
            var records = await db
                .Records.Where(r => r.SystemId == group.Key.OtherSystemId && r.Kind == group.Key.Kind && keys.Contains(r.Key))
                .Select(r => new
                {
                    r.Key,
                    r.Reference,
                    r.Caption,
                })
                .ToListAsync(cancel);
            foreach (var record in records)
                names._names[(group.Key.OtherSystemId!, record.Key)] = Called(record.Reference ?? record.Key, record.Caption);
        }

        return names;
    }

    /// <summary>What the record is called that a mismatch proposes.</summary>
    public string Of(Mismatch mismatch) =>
        _names.GetValueOrDefault((mismatch.OtherSystemId ?? "", mismatch.Proposal ?? ""), mismatch.Proposal ?? "");

    private static string Called(string reference, string? caption) => caption is null ? reference : $"{reference}, {caption}";
}
