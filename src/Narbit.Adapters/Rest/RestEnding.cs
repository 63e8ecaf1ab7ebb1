using System.Text.Json;
using System.Text.Json.Serialization;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>A call that ends one record.</summary>
public sealed record RestEnding : RestCall
{
    /// <summary>An ending, by DELETE where nothing else is said.</summary>
    public RestEnding() => Method = "DELETE";
}
