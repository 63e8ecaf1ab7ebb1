namespace Narbit.Data.Lanes;

/// <summary>A saved version of a lane's rule.</summary>
public sealed class RuleVersion
{
    public required string LaneId { get; set; }

    public required int Number { get; set; }

    /// <summary>The lane's document, JSON: its kind and the rule or map.</summary>
    public required string Document { get; set; }

    /// <summary>The guards' limits, JSON; null: the usual ones.</summary>
    public string? Guards { get; set; }

    public required string Author { get; set; }

    public required DateTimeOffset At { get; set; }

    public string? Note { get; set; }

    /// <summary>The act of the mismatch desk that it is a part of; null: none.</summary>
    public long? DeskActId { get; set; }
}
