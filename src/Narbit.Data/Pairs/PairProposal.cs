using Narbit.Core.Pairing;

namespace Narbit.Data.Pairs;

/// <summary>What pairing makes of the records that are neither linked nor set aside.</summary>
public sealed class PairProposal
{
    public long Id { get; set; }

    public long CoupleId { get; set; }

    public string? HubKey { get; set; }

    public string? OtherKey { get; set; }

    public required Verdict Verdict { get; set; }

    public double Confidence { get; set; }

    /// <summary>The reasons, JSON.</summary>
    public required string Evidence { get; set; }

    /// <summary>Other records worth a look, JSON.</summary>
    public required string Candidates { get; set; }

    /// <summary>What a person knows the record by.</summary>
    public string? Reference { get; set; }

    public string? Caption { get; set; }

    /// <summary>What keeps it from being paired well, words between spaces; or empty.</summary>
    public string Causes { get; set; } = "";
}
