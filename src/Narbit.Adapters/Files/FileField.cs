using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Files;

/// <summary>A field in a column.</summary>
public sealed record FileField : DocumentField
{
    /// <summary>The column; needed unless it is always the same.</summary>
    public string? Column { get; init; }
}
