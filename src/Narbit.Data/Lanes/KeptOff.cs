namespace Narbit.Data.Lanes;

/// <summary>A record of the source that a lane leaves alone.</summary>
public sealed class KeptOff
{
    public required string LaneId { get; set; }

    public required string SourceKey { get; set; }
}
