using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Adapters.Rest;

/// <summary>How a system signs its callers in.</summary>
[JsonConverter(typeof(CamelCaseEnum<RestScheme>))]
public enum RestScheme
{
    /// <summary>Not at all.</summary>
    None,

    /// <summary>A key in a header of its own.</summary>
    Header,

    /// <summary>A key in a parameter of every address.</summary>
    Query,

    /// <summary>HTTP basic authentication, RFC 7617.</summary>
    Basic,

    /// <summary>A bearer token, RFC 6750.</summary>
    Bearer,

    /// <summary>
    /// Tokens that are fetched with a client's name and secret, and renewed before they end: OAuth 2.0, RFC 6749 section 4.4.
    /// </summary>
    ClientCredentials,

    /// <summary>
    /// Tokens that are fetched for what a person has granted: OAuth 2.0, RFC 6749 section 4.1, with PKCE, RFC 7636.
    /// </summary>
    AuthorizationCode,
}
