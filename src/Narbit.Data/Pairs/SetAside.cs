namespace Narbit.Data.Pairs;

/// <summary>A record that is meant to have no partner for now.</summary>
public sealed class SetAside
{
    public long Id { get; set; }

    public long CoupleId { get; set; }

    public string? HubKey { get; set; }

    public string? OtherKey { get; set; }

    public required string Reason { get; set; }

    /// <summary>Whether it is to be created on the other side by an item lane.</summary>
    public bool ToCreate { get; set; }

    public long DecisionId { get; set; }
}
