using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Engine.Mismatches;
using Narbit.Engine.Mismatches.WaysOut;
using Narbit.Engine.Systems;

namespace Narbit.Web.Mismatches;

/// <summary>Mismatches as lists show them.</summary>
internal static class MismatchRows
{
    /// <summary>Rows with the ways out that can be computed, all at once.</summary>
    public static async Task<IReadOnlyList<MismatchRow>> OfAsync(
        NarbitContext db,
        MismatchDesk desk,
        IReadOnlyList<Mismatch> some,
        CancellationToken cancel
    )
    {
        var systems = await db.Systems.AsNoTracking().ToDictionaryAsync(s => s.Id, SystemTag.Of, StringComparer.Ordinal, cancel);
        var open = some.Where(m => m.State is MismatchState.Open or MismatchState.PutOff).ToList();
        var ways = (await desk.SuggestAsync(open, cancel)).ToDictionary(s => s.Mismatch.Id);
        return [.. some.Select(m => Row(m, systems, ways.GetValueOrDefault(m.Id)))];
    }

    /// <summary>The money that a mismatch is about.</summary>
    public static Amount? Worth(Mismatch mismatch) =>
        mismatch is { Worth: { } worth, Currency: { } currency } ? new Amount(currency, worth / MismatchStore.Fine) : null;

    private static MismatchRow Row(Mismatch m, Dictionary<string, SystemTag> systems, Suggested? way)
    {
        var cause = MismatchCauses.Of(m.Cause, m.Words);
        return new MismatchRow
        {
            Id = m.Id,
            Cause = m.Cause,
            Heading = cause.Heading,
            Harm = cause.Harm,
            System = systems.GetValueOrDefault(m.SystemId),
            Other = systems.GetValueOrDefault(m.OtherSystemId ?? ""),
            Kind = m.Kind,
            Key = m.Key,
            OtherKey = m.OtherKey,
            Reference = m.Reference,
            Caption = m.Caption,
            Words = m.Words,
            Subject = m.Subject,
            Pieces = m.Pieces,
            Worth = Worth(m),
            Since = m.Since,
            Seen = m.Seen,
            CameBack = m.CameBack,
            State = m.State,
            Until = m.Until,
            Owner = m.Owner,
            SettledBy = m.SettledBy,
            EndedAt = m.EndedAt,
            Suggestion = way?.Suggestion,
            Fingerprint = way?.Fingerprint,
            Link = Link(m),
        };
    }

    // The record as it was read.
    private static string Record(Mismatch m)
    {
        var (kind, key) = (m.Kind.ToString(), Uri.EscapeDataString($"\"{m.Key}\""));
        return $"/systems/{m.SystemId}?kind={char.ToLowerInvariant(kind[0])}{kind[1..]}&row={key}&search={key}";
    }

    // Where a person decides it by hand.
    private static string Link(Mismatch m)
    {
        var family = m.Cause[..(m.Cause.IndexOf(MismatchCauses.Dot, StringComparison.Ordinal) is > 0 and var dot ? dot : m.Cause.Length)];
        var code = m.Cause[Math.Min(m.Cause.Length, family.Length + 1)..];
        var run = m.RunId?.ToString(CultureInfo.InvariantCulture);
        return (family, code) switch
        {
            ("pair" or "ready", _) when m.CoupleId is { } couple =>
                $"/pair-desk/{couple}?search={Uri.EscapeDataString(m.Reference ?? m.Key)}",
            ("order", _) => $"/orders/{m.LaneId}/{Uri.EscapeDataString(m.Key)}",
            ("held", _) when run is not null => $"/runs/{run}?show=held&cause={code}",
            ("value", _) when run is not null => $"/runs/{run}?tab=remarks&cause={code}",
            ("failed", _) when run is not null => $"/runs/{run}?show=failed",
            ("run", "guard") => $"/runs/{run}?show=guarded",
            ("run", _) => $"/runs/{run}",
            ("drift", _) => "/proof",
            ("work", "notChosen") => $"/runs/{run}?show=skipped",
            ("work", "preview") when m.SystemId == m.OtherSystemId => $"/runs/{run}",
            ("work", "preview") => $"/lanes/{m.LaneId}/preview?show=planned",
            ("work", "draft") => $"/lanes/{m.LaneId}/{m.Subject ?? "rule"}",
            ("work", "pairs") => $"/pair-desk/{m.CoupleId}?show=waiting",
            ("lane", _) => $"/lanes/{m.LaneId}/pairs",
            ("read" or "event" or "customer", _) when m.Key.Length > 0 => Record(m),
            ("stock", "oversold") => $"/exposure?search={Uri.EscapeDataString(m.Reference ?? m.Key)}",
            ("job", _) => $"/timetable/{m.Scope.Split('/')[0]}",
            _ when m.Kind == RecordKind.Item && m.Key.Length > 0 && family == "stock" => $"/items/{Uri.EscapeDataString(m.Key)}",
            _ => $"/systems/{m.SystemId}",
        };
    }
}
