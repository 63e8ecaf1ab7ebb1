using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Engine.Lanes.Maps;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Lanes.Items;

/// <summary>Says so by the maps of the lanes of items.</summary>
/// <param name="database">Where lanes are.</param>
public sealed class LimitedTitles(Database database) : ITitleLimits
{
    /// <inheritdoc/>
    public async Task<bool> AreLimitedAsync(string fromId, PairSide there, CancellationToken cancel)
    {
        if (there.Fields.Find(FieldRole.Title) is not { MaxLength: { } most } title)
            return false;
        await using var db = database.CreateDbContext();
        var (items, otherId) = (ItemWork.Code, there.Connection.System.Id);
        var documents = await db
            .Lanes.Where(l => l.Kind == items && l.SourceId == fromId && l.TargetId == otherId)
            .Join(db.RuleVersions, l => new { LaneId = l.Id, Number = l.RuleNumber }, v => new { v.LaneId, v.Number }, (_, v) => v.Document)
            .ToListAsync(cancel);
        return documents
            .SelectMany(d => LaneJson.Read(d).ValueOrDefault?.Mapped?.Fields ?? [])
            .Any(f => f.Target == title.Name && TextLimit.Of(f) <= most);
    }
}
