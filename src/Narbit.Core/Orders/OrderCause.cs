using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>Something that keeps an order, or a refund, from being taken.</summary>
/// <param name="Code">A stable word.</param>
/// <param name="Outcome">What it asks for.</param>
[JsonConverter(typeof(OrderCauseJson))]
public sealed record OrderCause(string Code, OrderOutcome Outcome)
{
    /// <summary>The line that it is about; null: none, or the shipping.</summary>
    public string? Line { get; init; }

    /// <summary>Whether the cause is about lines, so that a missing one is told as such.</summary>
    [JsonIgnore]
    public bool NamesLine { get; init; }

    /// <summary>By how much; null: there is no amount.</summary>
    public decimal? By { get; init; }
}
