using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core;
using Narbit.Core.Records;

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
