using System.Text.Json.Serialization;

namespace Narbit.Core.Mapping;

/// <summary>What becomes of new records.</summary>
[JsonConverter(typeof(CamelCaseEnum<NewRecords>))]
public enum NewRecords
{
    /// <summary>Only those that somebody chose at the pair desk are created.</summary>
    Chosen,

    /// <summary>Those, and further variants of items that the target has.</summary>
    Variants,

    /// <summary>Everything in scope is created.</summary>
    All,
}
