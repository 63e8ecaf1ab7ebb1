namespace Narbit.Data.Jobs;

/// <summary>A day on which no job begins by the clock.</summary>
public sealed class DayOff
{
    /// <summary>The local date, ISO 8601.</summary>
    public required string Date { get; set; }

    /// <summary>What it is, e.g. a holiday's name.</summary>
    public string? Name { get; set; }
}
