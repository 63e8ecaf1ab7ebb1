using System.Globalization;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Pairing;

/// <summary>
/// What the readiness check found while two systems were paired. Pairing has both sides at hand, which nobody else should read once more.
/// </summary>
internal static class ReadinessMismatches
{
    /// <summary>What the origins' names begin with; the number of the couple follows.</summary>
    public const string Family = "ready:";

    // What only the other side asks for holds within the couple; all else wherever the record is.
    private static readonly HashSet<ReadinessCause> AskedThere = [ReadinessCause.Missing, ReadinessCause.TitleTooLong];

    /// <summary>The origin of a couple's findings.</summary>
    public static string Origin(long couple) => $"{Family}{couple.ToString(CultureInfo.InvariantCulture)}";

    /// <summary>Keeps the findings of both sides.</summary>
    public static Task KeepAsync(
        Database database,
        Couple couple,
        (PairSide Side, IReadOnlyList<ReadinessFinding> Findings) hub,
        (PairSide Side, IReadOnlyList<ReadinessFinding> Findings) other,
        DateTimeOffset at,
        CancellationToken cancel
    )
    {
        var found = hub
            .Findings.Select(f => Of(couple, hub.Side, other.Side, f))
            .Concat(other.Findings.Select(f => Of(couple, other.Side, hub.Side, f)));
        return new MismatchStore(database).TakeInAsync(Origin(couple.Id), at, found, cancel);
    }

    private static FoundMismatch Of(Couple couple, PairSide side, PairSide across, ReadinessFinding finding)
    {
        var row = side.Rows[finding.Key];
        return new FoundMismatch
        {
            Cause = $"ready.{ReadinessWords.Code(finding)}",
            SystemId = side.Connection.System.Id,
            OtherSystemId = AskedThere.Contains(finding.Cause) ? across.Connection.System.Id : null,
            Kind = couple.Kind,
            Key = finding.Key,
            Scope = AskedThere.Contains(finding.Cause) ? couple.Id.ToString(CultureInfo.InvariantCulture) : "",
            CoupleId = couple.Id,
            Reference = row.Reference,
            Caption = row.Caption,
            Words = finding.Words,
            Subject = side.FieldOf(finding.Role)?.Name,
            Proposal = finding.Proposal,
            Because = finding.Because,
        };
    }
}
