namespace Narbit.Data.Systems;

/// <summary>A description that a system had, or has.</summary>
public sealed class DescriptionVersion
{
    public required string SystemId { get; set; }

    /// <summary>From 1 on; the highest is the one in force.</summary>
    public required int Number { get; set; }

    public required string Document { get; set; }

    public required string Address { get; set; }

    public required string Author { get; set; }

    public required DateTimeOffset At { get; set; }
}
