using System.Text.Json;

namespace Narbit.Adapters.Rest;

/// <summary>A call to the system.</summary>
public abstract record RestCall
{
    /// <summary>The path below the system's address; <c>{key}</c> in it stands for the record's key.</summary>
    public string? Path { get; init; }

    /// <summary>The method.</summary>
    public string Method { get; init; } = "GET";

    /// <summary>
    /// What a call with a body always says, e.g. the text of a GraphQL query. Parameters then go into the body, at the places that their
    /// names lead to (names joined by dots), and not into the address.
    /// </summary>
    public JsonElement? Body { get; init; }
}
