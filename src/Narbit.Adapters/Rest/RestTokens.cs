using System.Globalization;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Narbit.Core;

namespace Narbit.Adapters.Rest;

/// <summary>
/// Tokens of a system that gives them for a client's name and secret (RFC 6749, section 4.4), or for what a person has granted (section
/// 6). One is fetched for all who call, and a new one before it ends.
/// </summary>
internal sealed class RestTokens(RestDocument document, Credential? client, HttpClient http, TimeProvider clock) : IDisposable
{
    private const int LongestReply = 256 * 1024;

    // What was granted, or its code, counts no more (RFC 6749, section 5.2: invalid_grant).
    private const string GrantInvalid = "grant.invalid";

    // Before a token that never ends, where others keep what the next is fetched with.
    private const string Endless = "token ";

    // A system that does not say how long a token counts is asked again after this.
    private static readonly TimeSpan Unsaid = TimeSpan.FromMinutes(30);

    private static readonly TimeSpan Early = TimeSpan.FromMinutes(1);

    private readonly string _system = document.Name;
    private readonly RestAuthentication _signIn = document.Authentication;
    private readonly Lock _one = new();
    private readonly CancellationTokenSource _ended = new();
    private Task<Outcome<Token>>? _fetching;
    private Token? _token;

    /// <summary>The token to sign in with now, or why there is none.</summary>
    public async Task<Outcome<string>> CurrentAsync(CancellationToken cancel)
    {
        if (_token is { } token && clock.GetUtcNow() < token.RenewAt)
            return token.Text;
        // Whoever asked first may go away; what is fetched is for all, and is kept.
        var fetched = await Fetching().WaitAsync(cancel);
        return fetched.Fault is { } fault ? fault : fetched.Value.Text;
    }

    private Task<Outcome<Token>> Fetching()
    {
        lock (_one)
            return _fetching ??= Task.Run(FetchedAsync);
    }

    private async Task<Outcome<Token>> FetchedAsync()
    {
        try
        {
            if (_token is { } meanwhile && clock.GetUtcNow() < meanwhile.RenewAt)
                return meanwhile;
            var fetched = await FetchAsync(_ended.Token);
            _token = fetched.ValueOrDefault;
            return fetched;
        }
        finally
        {
            lock (_one)
                _fetching = null;
        }
    }

    /// <summary>Forgets a token that the system does not take any more.</summary>
    public void Forget(string token)
    {
        if (_token?.Text == token)
            _token = null;
    }

    /// <summary>What is on its way is let arrive: a grant that was renewed and not kept is lost.</summary>
    public void Dispose() => _ended.CancelAfter(TimeSpan.FromSeconds(document.Limits.TimeoutSeconds));

    /// <summary>Redeems what a person's grant was answered with.</summary>
    /// <param name="code">The code and what goes with it, RFC 6749, section 4.1.3.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>What is to be kept of it.</returns>
    public async Task<Outcome<string>> RedeemAsync(IReadOnlyDictionary<string, string> code, CancellationToken cancel)
    {
        var fetched = await AskAsync(client ?? new Credential(null, ""), code, cancel);
        if (fetched.Fault is { } fault)
            return fault;
        return fetched.Value switch
        {
            { Refresh: { } refresh } => refresh,
            { Ends: false, Text: var text } => Endless + text,
            _ => Fault("gave access that ends, and nothing to renew it with. Ask for a scope that allows it, often offline_access"),
        };
    }

    private async Task<Outcome<Token>> FetchAsync(CancellationToken cancel)
    {
        if (client is null)
            return new Reason("refused", $"{_system} gives tokens for a client's name and secret. Enter them under Systems.");
        if (_signIn.Scheme == RestScheme.AuthorizationCode)
            return await GrantedAsync(client, cancel);
        var form = new Dictionary<string, string> { ["grant_type"] = "client_credentials" };
        if (_signIn.Scope is { Length: > 0 } scope)
            form["scope"] = scope;
        return await AskAsync(client, form, cancel);
    }

    private async Task<Outcome<Token>> GrantedAsync(Credential known, CancellationToken cancel)
    {
        if (known.Grant is not { } grant)
            return await RenewedAsync(known, cancel);
        await grant.Turn.WaitAsync(cancel);
        try
        {
            return await RenewedAsync(known, cancel);
        }
        finally
        {
            grant.Turn.Release();
        }
    }

    private async Task<Outcome<Token>> RenewedAsync(Credential known, CancellationToken cancel)
    {
        if (known.Grant is not { Kept: { } kept } grant)
            return new Reason(
                "grant.needed",
                $"{_system} lets Narbit in once somebody has granted it access. Do so where its sign-in is entered, under Systems."
            );
        if (kept.StartsWith(Endless, StringComparison.Ordinal))
            return new Token(kept[Endless.Length..], DateTimeOffset.MaxValue);
        var fetched = await AskAsync(
            known,
            new Dictionary<string, string> { ["grant_type"] = "refresh_token", ["refresh_token"] = kept },
            cancel
        );
        if (fetched.Fault is { Code: GrantInvalid } refused)
        {
            grant.Lost(kept, refused.Words);
            return new Reason(
                "grant.lost",
                $"{_system} takes the access that was granted no more. Grant it again under Systems, Connection. {refused.Words}"
            );
        }

        if (fetched.ValueOrDefault?.Refresh is { } renewed && renewed != kept)
            grant.Renewed(renewed);
        return fetched;
    }

    private async Task<Outcome<Token>> AskAsync(Credential known, IReadOnlyDictionary<string, string> form, CancellationToken cancel)
    {
        using var request = Request(known, form);
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        patience.CancelAfter(TimeSpan.FromSeconds(document.Limits.TimeoutSeconds));
        try
        {
            using var response = await http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, patience.Token);
            var status = (int)response.StatusCode;
            if (status is >= 300 and < 400)
                return Fault($"answered with a redirect ({status}), which Narbit does not follow. Give the address it leads to.");
            if (status >= 500)
                return Fault($"failed ({status})", FaultCodes.ServerError);
            await response.Content.LoadIntoBufferAsync(LongestReply, patience.Token);
            var content = await response.Content.ReadAsByteArrayAsync(patience.Token);
            return Read(content, status, clock.GetUtcNow());
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            return Fault($"did not answer within {document.Limits.TimeoutSeconds:0.#} seconds", "unreachable");
        }
        catch (HttpRequestException error) when (error.InnerException is ForbiddenAddressException forbidden)
        {
            return forbidden.Reason;
        }
        catch (HttpRequestException error)
        {
            return Fault($"could not be asked ({error.Message.TrimEnd('.')})", "unreachable");
        }
    }

    private HttpRequestMessage Request(Credential known, IReadOnlyDictionary<string, string> asked)
    {
        var form = new Dictionary<string, string>(asked);
        // A client without a secret (RFC 6749, section 2.1: public) is told by its name alone.
        var inBody = _signIn.ClientInBody || known.Secret.Length == 0;
        if (inBody)
            form["client_id"] = known.User ?? "";
        if (inBody && known.Secret.Length > 0)
            form["client_secret"] = known.Secret;
        var request = new HttpRequestMessage(HttpMethod.Post, _signIn.Token) { Content = new FormUrlEncodedContent(form) };
        request.Headers.Accept.Add(new MediaTypeWithQualityHeaderValue("application/json"));
        if (!inBody)
        {
            // RFC 6749, section 2.3.1: both parts are form-encoded before they are joined.
            var pair = $"{Uri.EscapeDataString(known.User ?? "")}:{Uri.EscapeDataString(known.Secret)}";
            request.Headers.Authorization = new AuthenticationHeaderValue("Basic", Convert.ToBase64String(Encoding.UTF8.GetBytes(pair)));
        }

        return request;
    }

    private Outcome<Token> Read(byte[] content, int status, DateTimeOffset now)
    {
        try
        {
            using var json = JsonDocument.Parse(JsonText.Whole(content));
            var root = json.RootElement;
            if (status >= 400 && new JsonAt("error").TextIn(root) == "invalid_grant")
                return new Reason(GrantInvalid, $"{_system} gives no token for it ({status}{Said(root)}).");
            if (status >= 400)
                return new Reason(
                    "refused",
                    $"{_system} gives no token for this client ({status}{Said(root)}). Enter its name and secret again under Systems."
                );
            if (new JsonAt("access_token").TextIn(root) is not { Length: > 0 } text)
                return Fault("answered without an access_token");
            var said = new JsonAt("expires_in").TextIn(root);
            var seconds =
                said is not null && double.TryParse(said, CultureInfo.InvariantCulture, out var number) ? number : Unsaid.TotalSeconds;
            if (seconds <= 0)
                return Fault("gave a token that has ended already (expires_in is not above 0)");
            var counts = TimeSpan.FromSeconds(Math.Min(seconds, TimeSpan.FromDays(30).TotalSeconds));
            return new Token(text, now + (counts > Early * 5 ? counts - Early : counts * 0.8))
            {
                Refresh = new JsonAt("refresh_token").TextIn(root),
                Ends = said is not null,
            };
        }
        catch (JsonException)
        {
            return status >= 400
                ? new Reason("refused", $"{_system} gives no token for this client ({status}). Enter its name and secret again.")
                : Fault("answered, but not with JSON. The address may lead to a page for people");
        }
    }

    // RFC 6749, section 5.2: a code, and perhaps words.
    private static string Said(JsonElement root)
    {
        var words = new JsonAt("error_description").TextIn(root) ?? new JsonAt("error").TextIn(root);
        return words is null ? "" : $": “{(words.Length <= 200 ? words : words[..199] + "…")}”";
    }

    private Reason Fault(string what, string code = "noToken") =>
        new(code, $"The place where {_system} gives its tokens, {_signIn.Token}, {what.TrimEnd('.')}.");

    private sealed record Token(string Text, DateTimeOffset RenewAt)
    {
        /// <summary>What the next is fetched with; null: nothing was said.</summary>
        public string? Refresh { get; init; }

        /// <summary>Whether it was said when it ends.</summary>
        public bool Ends { get; init; }
    }
}
