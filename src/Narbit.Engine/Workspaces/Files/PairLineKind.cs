using System.Text.Json.Serialization;

namespace Narbit.Engine.Workspaces.Files;

/// <summary>What a line of a pair table says.</summary>
[JsonConverter(typeof(Narbit.Core.CamelCaseEnum<PairLineKind>))]
public enum PairLineKind
{
    /// <summary>The two are one.</summary>
    Pair,

    /// <summary>The hub's record is a part of the other's, which is a kit.</summary>
    Part,

    /// <summary>The record has no partner on purpose.</summary>
    Aside,

    /// <summary>The record is to be created on the other side.</summary>
    Create,
}
