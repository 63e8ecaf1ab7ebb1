using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Pairs;

/// <summary>How the pairing of two systems is begun.</summary>
[JsonConverter(typeof(CamelCaseEnum<StockTakingWay>))]
public enum StockTakingWay
{
    /// <summary>Nothing is paired; a person chooses record by record.</summary>
    ByHand,

    /// <summary>What the store has is taken over: certain pairs are accepted, and what the store does not have is set aside.</summary>
    TakeOver,

    /// <summary>
    /// What the hub has is published: certain pairs are accepted, and what the store does not have is to be created there.
    /// </summary>
    Publish,
}
