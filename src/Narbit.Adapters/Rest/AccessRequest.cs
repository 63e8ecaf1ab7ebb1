using System.Security.Cryptography;
using System.Text;
using Narbit.Core;

namespace Narbit.Adapters.Rest;

/// <summary>
/// A request to a person to grant Narbit access at a system: OAuth 2.0's authorization code (RFC 6749, section 4.1) with PKCE (RFC 7636,
/// S256), so that only who asked can redeem what comes back.
/// </summary>
public sealed class AccessRequest
{
    private readonly RestDocument _document;
    private readonly Uri _system;
    private readonly Uri _back;
    private readonly string _verifier = Random();

    private AccessRequest(RestDocument document, Uri system, Uri back, Uri place, string client)
    {
        _document = document;
        _system = system;
        _back = back;
        Address = At(place, client);
    }

    /// <summary>Tells this request from others; comes back with the answer.</summary>
    public string State { get; } = Random();

    /// <summary>Where the person is sent.</summary>
    public Uri Address { get; }

    /// <summary>A request, or why it cannot be made.</summary>
    /// <param name="document">How the system signs callers in.</param>
    /// <param name="system">The system's address, already checked.</param>
    /// <param name="client">The name under which Narbit is known there.</param>
    /// <param name="back">Where the person comes back to.</param>
    public static Outcome<AccessRequest> Of(RestDocument document, Uri system, string? client, Uri back)
    {
        if (document.Authentication is not { Scheme: RestScheme.AuthorizationCode, Authorize: { Length: > 0 } at })
            return new Reason("document.invalid", "Say where a person grants access, by a path or an address.");
        if (client is not { Length: > 0 })
            return new Reason("document.invalid", "Enter the client's name under which Narbit is known there.");
        if (!Uri.TryCreate(new Uri(system.AbsoluteUri.TrimEnd('/') + "/"), at, out var place) || place.Scheme is not ("http" or "https"))
            return new Reason("address.invalid", $"“{at}” is no place where a person could grant access.");
        return new AccessRequest(document, system, back, place, client);
    }

    private Uri At(Uri place, string client)
    {
        var said = new List<(string Name, string Value)>
        {
            ("response_type", "code"),
            ("client_id", client),
            ("redirect_uri", _back.AbsoluteUri),
            ("state", State),
            ("code_challenge", Base64Url(SHA256.HashData(Encoding.ASCII.GetBytes(_verifier)))),
            ("code_challenge_method", "S256"),
        };
        if (_document.Authentication.Scope is { Length: > 0 } scope)
            said.Add(("scope", scope));
        var query = string.Join('&', said.Select(s => $"{s.Name}={Uri.EscapeDataString(s.Value)}"));
        return new UriBuilder(place) { Query = place.Query.Length > 1 ? $"{place.Query[1..]}&{query}" : query }.Uri;
    }

    /// <summary>Redeems the code that the person came back with.</summary>
    /// <param name="code">The code.</param>
    /// <param name="client">The client's name and secret.</param>
    /// <param name="outbound">What may be reached.</param>
    /// <param name="clock">The time.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>What is to be kept of it: a refresh token, or a token that never ends.</returns>
    public async Task<Outcome<string>> RedeemAsync(
        string code,
        Credential client,
        OutboundPolicy outbound,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        using var transport = new RestTransport(_document, _system, client, outbound, clock);
        return await transport.RedeemAsync(
            new Dictionary<string, string>
            {
                ["grant_type"] = "authorization_code",
                ["code"] = code,
                ["redirect_uri"] = _back.AbsoluteUri,
                ["code_verifier"] = _verifier,
            },
            cancel
        );
    }

    private static string Random() => Base64Url(RandomNumberGenerator.GetBytes(32));

    private static string Base64Url(byte[] bytes) => Convert.ToBase64String(bytes).TrimEnd('=').Replace('+', '-').Replace('/', '_');
}
