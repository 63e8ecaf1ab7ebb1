using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Lanes;

/// <summary>What flows in a lane.</summary>
[JsonConverter(typeof(CamelCaseEnum<LaneKind>))]
public enum LaneKind
{
    Price,
    Stock,

    /// <summary>Values that persons put right within one system; source and target are the same.</summary>
    Correction,

    /// <summary>Items with their texts, images, categories and codes, by a field map.</summary>
    Item,
}

/// <summary>One record kind flowing one way between two systems.</summary>
public sealed class Lane
{
    /// <summary>A short name for addresses, e.g. <c>prices-web-shop</c>.</summary>
    public required string Id { get; set; }

    public required LaneKind Kind { get; set; }

    public required string SourceId { get; set; }

    public required string TargetId { get; set; }

    /// <summary>Only items whose SKU starts with this; null: all.</summary>
    public string? SkuStartsWith { get; set; }

    /// <summary>Only listings that buyers can see.</summary>
    public bool PublishedOnly { get; set; }

    /// <summary>The version of the rule in force.</summary>
    public int RuleNumber { get; set; }

    /// <summary>Minutes between runs; null: by hand.</summary>
    public int? EveryMinutes { get; set; }

    public bool Paused { get; set; }

    /// <summary>Whether nothing of this kind is to flow at all; a lane that is off can be previewed and never sends.</summary>
    public bool Off { get; set; }

    public DateTimeOffset? NextDueAt { get; set; }

    /// <summary>Since when nothing is sent, because somebody is pairing; null: it is not held.</summary>
    public DateTimeOffset? HeldAt { get; set; }

    public string? HeldBy { get; set; }

    /// <summary>The last run that compared both sides.</summary>
    public long? ComparedRunId { get; set; }

    public DateTimeOffset? ComparedAt { get; set; }

    public int Paired { get; set; }

    public int InStep { get; set; }

    public int Waiting { get; set; }

    public int OutOfStep { get; set; }
}

/// <summary>A saved version of a lane's rule.</summary>
public sealed class RuleVersion
{
    public required string LaneId { get; set; }

    public required int Number { get; set; }

    /// <summary>The rule, JSON as in rules.md; for items the field map with its crosswalks.</summary>
    public required string Document { get; set; }

    /// <summary>The guards' limits, JSON; null: the usual ones.</summary>
    public string? Guards { get; set; }

    public required string Author { get; set; }

    public required DateTimeOffset At { get; set; }

    public string? Note { get; set; }
}

/// <summary>What both sides last agreed on for a field: what was sent and confirmed, or found to be the same.</summary>
public sealed class Agreed
{
    public required string LaneId { get; set; }

    public required string TargetKey { get; set; }

    public required string Field { get; set; }

    public string? Value { get; set; }

    /// <summary>For stock: the source's basis at that time.</summary>
    public string? Source { get; set; }

    public required DateTimeOffset At { get; set; }
}

/// <summary>A record of the source that a lane leaves alone.</summary>
public sealed class KeptOff
{
    public required string LaneId { get; set; }

    public required string HubKey { get; set; }
}
