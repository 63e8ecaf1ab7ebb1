using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Lanes.Items;

/// <summary>Whether titles that are too long for a system become short enough on their way there.</summary>
public static class LimitedTitles
{
    /// <summary>Whether the map of the items between two systems limits titles to what the other side takes.</summary>
    /// <param name="database">Where lanes are.</param>
    /// <param name="hubId">Where the titles come from.</param>
    /// <param name="other">The other side.</param>
    /// <param name="cancel">Gives up.</param>
    public static async Task<bool> AreAsync(Database database, string hubId, PairSide other, CancellationToken cancel)
    {
        if (other.Fields.Find(FieldRole.Title) is not { MaxLength: { } most } title)
            return false;
        await using var db = database.CreateDbContext();
        var (items, otherId) = (ItemWork.Code, other.Connection.System.Id);
        var documents = await db
            .Lanes.Where(l => l.Kind == items && l.SourceId == hubId && l.TargetId == otherId)
            .Join(db.RuleVersions, l => new { LaneId = l.Id, Number = l.RuleNumber }, v => new { v.LaneId, v.Number }, (_, v) => v.Document)
            .ToListAsync(cancel);
        return documents
            .SelectMany(d => LaneJson.Read(d).ValueOrDefault?.Mapped?.Fields ?? [])
            .Any(f => f.Target == title.Name && TextLimit.Of(f) <= most);
    }
}
