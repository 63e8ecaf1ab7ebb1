namespace Narbit.Adapters.Rest;

/// <summary>How callers sign in.</summary>
public sealed record RestAuthentication
{
    /// <summary>The scheme.</summary>
    public RestScheme Scheme { get; init; }

    /// <summary>The header of <see cref="RestScheme.Header"/>.</summary>
    public string? Header { get; init; }

    /// <summary>The parameter of <see cref="RestScheme.Query"/>.</summary>
    public string? Parameter { get; init; }

    /// <summary>
    /// Where a person grants access, for <see cref="RestScheme.AuthorizationCode"/>: a path below the system's address, or an address of
    /// its own.
    /// </summary>
    public string? Authorize { get; init; }

    /// <summary>
    /// Where tokens are fetched, for <see cref="RestScheme.ClientCredentials"/> and <see cref="RestScheme.AuthorizationCode"/>: a path
    /// below the system's address, or an address of its own.
    /// </summary>
    public string? Token { get; init; }

    /// <summary>What the token shall be good for, as the system names it; null: nothing is said.</summary>
    public string? Scope { get; init; }

    /// <summary>
    /// Whether the client's name and secret are sent in the body of the request for a token, not as basic authentication.
    /// </summary>
    public bool ClientInBody { get; init; }

    internal bool FetchesTokens => Scheme is RestScheme.ClientCredentials or RestScheme.AuthorizationCode;

    internal string? FirstFault() =>
        this switch
        {
            { Scheme: RestScheme.AuthorizationCode, Authorize: not { Length: > 0 } } =>
                "authorize: say where a person grants access, by a path or an address.",
            { Scheme: RestScheme.Header, Header: not { Length: > 0 } } => "header: name the header that carries the key.",
            { Scheme: RestScheme.Query, Parameter: not { Length: > 0 } } => "parameter: name the parameter that carries the key.",
            { FetchesTokens: true, Token: not { Length: > 0 } } => "token: say where tokens are fetched, by a path or an address.",
            _ => null,
        };
}
