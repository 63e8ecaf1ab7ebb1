namespace Narbit.Adapters.Rest;

/// <summary>A call that ends one record.</summary>
public sealed record RestEnding : RestCall
{
    /// <summary>An ending, by DELETE where nothing else is said.</summary>
    public RestEnding() => Method = "DELETE";
}
