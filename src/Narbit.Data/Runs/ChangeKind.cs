using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Runs;

[JsonConverter(typeof(CamelCaseEnum<ChangeKind>))]
public enum ChangeKind
{
    Up,
    Down,
    Other,

    /// <summary>A record that is new.</summary>
    New,

    /// <summary>A record that is hidden or ended.</summary>
    Withdrawn,

    /// <summary>A change that goes back to the source.</summary>
    Back,
}
