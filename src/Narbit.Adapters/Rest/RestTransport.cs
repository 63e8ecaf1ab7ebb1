using System.Buffers;
using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using System.Threading.RateLimiting;
using Narbit.Core;
using Polly;
using Polly.Retry;

namespace Narbit.Adapters.Rest;

/// <summary>
/// Sends requests to one system: signed in, under its rate, again after a passing failure, and never to an address that is not allowed.
/// </summary>
internal sealed class RestTransport : IDisposable
{
    private const int LongestReply = 64 * 1024 * 1024;
    private readonly RestDocument _document;
    private readonly HttpClient _http;
    private readonly TokenBucketRateLimiter _rate;
    private readonly TimeProvider _clock;
    private readonly JsonAt[] _errorPaths;
    private readonly Credential? _credential;
    private readonly RestTokens? _tokens;
    private readonly QuietTime _quiet;
    private readonly JsonAt[] _failurePaths;
    private readonly KeptReplies _kept = new();

    public RestTransport(RestDocument document, Uri address, Credential? credential, OutboundPolicy outbound, TimeProvider clock)
    {
        _document = document;
        _credential = credential;
        _clock = clock;
        _errorPaths = [.. document.ErrorPaths.Select(p => new JsonAt(p))];
        _quiet = new QuietTime(document.Limits, clock);
        _failurePaths = [.. document.FailurePaths.Select(p => new JsonAt(p))];
        var handler = new SocketsHttpHandler
        {
            AllowAutoRedirect = false,
            UseCookies = false,
            AutomaticDecompression = DecompressionMethods.All,
            PooledConnectionLifetime = TimeSpan.FromMinutes(5),
            ConnectTimeout = TimeSpan.FromSeconds(10),
            ConnectCallback = outbound.ConnectAsync,
            // A proxy would connect in our place, and to wherever it likes.
            UseProxy = false,
        };
        _http = new HttpClient(handler)
        {
            BaseAddress = new Uri(address.AbsoluteUri.TrimEnd('/') + "/"),
            Timeout = Timeout.InfiniteTimeSpan,
        };
        if (document.Authentication.FetchesTokens)
            _tokens = new RestTokens(document, credential, _http, clock);
        var perSecond = document.Limits.RequestsPerSecond;
        _rate = new TokenBucketRateLimiter(
            new TokenBucketRateLimiterOptions
            {
                // Tenths of a second keep the requests apart, instead of a burst at every full second.
                TokenLimit = Math.Max(1, (int)Math.Ceiling(perSecond / 10)),
                TokensPerPeriod = Math.Max(1, (int)Math.Round(perSecond / 10)),
                ReplenishmentPeriod = TimeSpan.FromSeconds(Math.Max(1, (int)Math.Round(perSecond / 10)) / perSecond),
                QueueLimit = int.MaxValue,
                QueueProcessingOrder = QueueProcessingOrder.OldestFirst,
                AutoReplenishment = true,
            }
        );
    }

    /// <summary>Where paths begin.</summary>
    public Uri Base => _http.BaseAddress!;

    /// <summary>The entity tag with which a path was answered last; null: there was none, or a weak one.</summary>
    public string? TagOf(string path) => _kept.TagOf(path) is { } tag && !tag.StartsWith("W/", StringComparison.Ordinal) ? tag : null;

    /// <summary>What was said of a failure, by the description's error paths.</summary>
    public string Said(JsonElement root) => Quoted(root);

    /// <summary>What a code of a grant is worth, see <see cref="AccessRequest"/>.</summary>
    public Task<Core.Outcome<string>> RedeemAsync(IReadOnlyDictionary<string, string> code, CancellationToken cancel) =>
        _tokens!.RedeemAsync(code, cancel);

    /// <summary>A reply, and what it took.</summary>
    /// <param name="Outcome">The reply, or why there is none.</param>
    /// <param name="Attempts">How often the request was sent.</param>
    /// <param name="Trouble">What went wrong the last time something did; null: nothing did.</param>
    /// <param name="InDoubt">Whether an attempt before the last may have taken effect.</param>
    public sealed record Sent(Core.Outcome<RestReply> Outcome, int Attempts, Reason? Trouble, bool InDoubt);

    /// <summary>Sends a request and returns its reply.</summary>
    public async Task<Core.Outcome<RestReply>> SendAsync(RestRequest request, CancellationToken cancel) =>
        (await AskAsync(request, cancel)).Outcome;

    /// <summary>Sends a request and tells what it took to be answered.</summary>
    public async Task<Sent> AskAsync(RestRequest request, CancellationToken cancel)
    {
        var builder = new ResiliencePipelineBuilder<Reply> { TimeProvider = _clock };
        if (request.Attempts > 1)
        {
            builder.AddRetry(
                new RetryStrategyOptions<Reply>
                {
                    MaxRetryAttempts = request.Attempts - 1,
                    BackoffType = DelayBackoffType.Exponential,
                    UseJitter = true,
                    Delay = TimeSpan.FromMilliseconds(150),
                    MaxDelay = TimeSpan.FromSeconds(20),
                    ShouldHandle = a =>
                        ValueTask.FromResult(a.Outcome.Result is { Passing: true } r && (request.RepeatsSafely || !r.MayHaveActed)),
                    DelayGenerator = a => ValueTask.FromResult(a.Outcome.Result?.RetryAfter),
                    OnRetry = a =>
                    {
                        Traffic.Current?.Waits(a.RetryDelay, forLimit: a.Outcome.Result?.Fault?.Code == "tooMany");
                        return ValueTask.CompletedTask;
                    },
                }
            );
        }

        var told = new Told(this, request);
        var reply = await builder.Build().ExecuteAsync(async token => told.Of(await SignedInAsync(request, told.Begins(), token)), cancel);
        told.Tell(reply);
        return new Sent(reply.Content is { } content ? content : reply.Fault!, told.Attempts, told.Trouble, told.InDoubt);
    }

    // What whoever watches is told of a request and its repetitions.
    private sealed class Told(RestTransport transport, RestRequest request)
    {
        private readonly DateTimeOffset _at = transport._clock.GetUtcNow();
        private int _lost;
        private long _begun;

        public int Attempts { get; private set; }

        public Reason? Trouble { get; private set; }

        public bool InDoubt { get; private set; }

        private bool _mayHaveActed;

        // Whether the attempt that begins repeats an earlier one.
        public bool Begins()
        {
            _begun = transport._clock.GetTimestamp();
            InDoubt |= _mayHaveActed;
            return Attempts > 0;
        }

        public Reply Of(Reply reply)
        {
            Attempts++;
            Trouble = reply.Fault ?? Trouble;
            _mayHaveActed = reply.MayHaveActed;
            if (!reply.Answered)
            {
                _lost++;
                Traffic.Current?.Unanswered(transport._clock.GetElapsedTime(_begun));
            }

            return reply;
        }

        public void Tell(Reply last)
        {
            if (Trouble is not { } why || Traffic.Current is not { } traffic)
                return;
            var asked = $"{request.Method} {request.Path.Split('?')[0]}";
            traffic.Troubled(new TroubledRequest(_at, transport._document.Name, asked, Attempts, why, _lost, last.Content is not null));
        }
    }

    public void Dispose()
    {
        _tokens?.Dispose();
        _http.Dispose();
        _rate.Dispose();
    }

    // A token that the system does not take any more, though its time is not over, is fetched anew once.
    private async Task<Reply> SignedInAsync(RestRequest request, bool repeats, CancellationToken cancel)
    {
        if (_tokens is null)
            return await OnceAsync(request, null, repeats, cancel);
        var token = await _tokens.CurrentAsync(cancel);
        if (token.Fault is { } none)
            return new Reply(null, none, Passing: none.Code is FaultCodes.ServerError or "unreachable", Answered: true);
        var reply = await OnceAsync(request, token.Value, repeats, cancel);
        if (reply.Fault?.Code != "refused")
            return reply;
        _tokens.Forget(token.Value);
        var renewed = await _tokens.CurrentAsync(cancel);
        return renewed.Fault is { } fault
            ? new Reply(null, fault, Passing: false, Answered: true)
            : await OnceAsync(request, renewed.Value, repeats: true, cancel);
    }

    private async Task<Reply> OnceAsync(RestRequest asked, string? token, bool repeats, CancellationToken cancel)
    {
        var since = _clock.GetTimestamp();
        using var lease = await _rate.AcquireAsync(1, cancel);
        await _quiet.WaitAsync(cancel);
        Traffic.Current?.Sent(_document.Mark, repeats, _clock.GetElapsedTime(since));
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        patience.CancelAfter(TimeSpan.FromSeconds(_document.Limits.TimeoutSeconds));
        using var request = Message(asked, token);
        try
        {
            using var response = await _http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, patience.Token);
            _quiet.Learn(response.Headers);
            return await ReadAsync(response, asked, patience.Token);
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            return new Reply(
                null,
                new Reason("timeout", $"{_document.Name} did not answer within {_document.Limits.TimeoutSeconds:0.#} seconds."),
                Passing: true,
                Answered: false
            );
        }
        catch (HttpRequestException error)
            when (error.InnerException is System.Net.Sockets.SocketException or null
                && error.HttpRequestError is HttpRequestError.ConnectionError or HttpRequestError.NameResolutionError
            )
        {
            var why = error.HttpRequestError == HttpRequestError.NameResolutionError ? "there is no such host" : "nothing answers there";
            return new Reply(
                null,
                new Reason(
                    "unreachable",
                    $"{_document.Name} could not be reached at {_http.BaseAddress}: {why}. Check the address and that the "
                        + $"system is running."
                ),
                Passing: true,
                Answered: true
            );
        }
        catch (Exception error) when (Forbidden(error) is { } forbidden)
        {
            return new Reply(null, forbidden.Reason, Passing: false, Answered: true);
        }
        catch (Exception error) when (error is HttpRequestException or IOException)
        {
            return new Reply(
                null,
                new Reason("broken", $"{_document.Name} broke off while answering ({error.Message.TrimEnd('.')})."),
                Passing: true,
                Answered: false
            );
        }
    }

    private static ForbiddenAddressException? Forbidden(Exception error) =>
        error as ForbiddenAddressException ?? error.InnerException as ForbiddenAddressException;

    private HttpRequestMessage Message(RestRequest asked, string? token)
    {
        var request = new HttpRequestMessage(asked.Method, SignedPath(asked.Path));
        request.Headers.Accept.Add(
            new MediaTypeWithQualityHeaderValue(
                _document.Replies switch
                {
                    ReplyForm.Xml => "application/xml",
                    ReplyForm.Csv => "text/csv",
                    _ => "application/json",
                }
            )
        );
        foreach (var (name, value) in asked.Headers)
            request.Headers.TryAddWithoutValidation(name, value);
        if (asked.IsRepeatable && _kept.TagOf(asked.Path) is { } tag)
            request.Headers.TryAddWithoutValidation("If-None-Match", tag);
        SignIn(request, token);
        if (!asked.Body.IsEmpty)
        {
            request.Content = new ReadOnlyMemoryContent(asked.Body);
            request.Content.Headers.ContentType = new MediaTypeHeaderValue("application/json");
        }

        return request;
    }

    private string SignedPath(string path)
    {
        if (_document.Authentication is not { Scheme: RestScheme.Query, Parameter: { } name } || _credential is null)
            return path;
        var joint = path.Contains('?', StringComparison.Ordinal) ? '&' : '?';
        return $"{path}{joint}{Uri.EscapeDataString(name)}={Uri.EscapeDataString(_credential.Secret)}";
    }

    private void SignIn(HttpRequestMessage request, string? token)
    {
        if (token is not null)
        {
            request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
            return;
        }

        if (_credential is not { } credential)
            return;
        switch (_document.Authentication.Scheme)
        {
            case RestScheme.Header:
                request.Headers.TryAddWithoutValidation(_document.Authentication.Header!, credential.Secret);
                break;
            case RestScheme.Basic:
                request.Headers.Authorization = new AuthenticationHeaderValue(
                    "Basic",
                    Convert.ToBase64String(Encoding.UTF8.GetBytes($"{credential.User}:{credential.Secret}"))
                );
                break;
            case RestScheme.Bearer:
                request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", credential.Secret);
                break;
        }
    }

    private async Task<Reply> ReadAsync(HttpResponseMessage response, RestRequest asked, CancellationToken cancel)
    {
        var status = (int)response.StatusCode;
        if (response.StatusCode == HttpStatusCode.NotModified && _kept.Of(asked.Path) is { } same)
            return Taken(response, same, asked);
        var bytes = await BoundedAsync(response.Content, cancel);
        if (bytes is null)
            return new Reply(
                null,
                new Reason("tooLong", $"{_document.Name} answered with more than {LongestReply / 1024 / 1024} MB. Ask for smaller pages."),
                Passing: false,
                Answered: true
            );
        bytes = InUtf8(bytes, response.Content.Headers.ContentType?.CharSet?.Trim('"'));
        if (response.StatusCode == HttpStatusCode.SeeOther && asked.MayPointElsewhere)
            return Taken(response, new KeptReply([], null, null), asked);
        if (status is < 200 or >= 300)
            return Refusal(response, status, bytes);
        var links = response.Headers.TryGetValues("Link", out var values) ? string.Join(", ", values) : null;
        var answer = new KeptReply(bytes, response.Headers.ETag?.ToString(), links);
        var reply = Taken(response, answer, asked);
        if (asked.IsRepeatable && reply.Content is not null)
            _kept.Keep(asked.Path, answer);
        return reply;
    }

    // A system may say that it writes in another encoding; XML says so itself.
    private byte[] InUtf8(byte[] bytes, string? encoding) =>
        _document.Replies == ReplyForm.Xml
        || encoding is not { Length: > 0 }
        || encoding.StartsWith("utf-8", StringComparison.OrdinalIgnoreCase)
        || !Files.TextEncoding.IsKnown(encoding)
            ? bytes
            : Encoding.Convert(Files.TextEncoding.Named(encoding), Encoding.UTF8, bytes);

    private Reply Taken(HttpResponseMessage response, KeptReply answer, RestRequest asked)
    {
        var bytes = answer.Content;
        JsonDocument json;
        try
        {
            json =
                asked.AsText ? JsonSerializer.SerializeToDocument(Encoding.UTF8.GetString(bytes).TrimStart('\uFEFF'))
                : asked.MayBeEmpty && bytes.Length == 0 ? JsonDocument.Parse("{}")
                : ReplyContent.Read(bytes, _document.Replies);
        }
        catch (FormatException unreadable)
        {
            return NotAsDescribed(response, bytes, unreadable);
        }

        var content = new RestReply(json)
        {
            Status = (int)response.StatusCode,
            Link = answer.Link,
            Location = response.Headers.Location?.OriginalString,
            RetryAfter = RetryAfter(response),
            AnsweredAt = response.Headers.Date,
        };
        if (!Failed(content.Root))
            return new Reply(content, null, Passing: false, Answered: true);
        using (content)
            return new Reply(
                null,
                new Reason(FaultCodes.Rejected, $"{_document.Name} rejected the request: {Quoted(content.Root)}."),
                Passing: false,
                Answered: true
            );
    }

    private bool Failed(JsonElement root) =>
        Array.Exists(
            _failurePaths,
            p => p.In(root) is { } found && !(found.ValueKind == JsonValueKind.Array && found.GetArrayLength() == 0)
        );

    private Reply NotAsDescribed(HttpResponseMessage response, byte[] bytes, FormatException unreadable)
    {
        var type = response.Content.Headers.ContentType?.MediaType ?? "no content type";
        var form = _document.Replies.ToString().ToUpperInvariant();
        var breaksOff =
            type.Contains(form, StringComparison.OrdinalIgnoreCase)
            && bytes.Length > 0
            && (bytes[0] is (byte)'{' or (byte)'[' || (_document.Replies == ReplyForm.Xml && unreadable.Message.Contains("end of file")));
        return breaksOff
            ? new Reply(
                null,
                new Reason(
                    "halfReply",
                    $"{_document.Name} sent a reply that breaks off after {bytes.Length:N0} bytes ({unreadable.Message})."
                ),
                Passing: true,
                Answered: false
            )
            : new Reply(
                null,
                new Reason(
                    "notJson",
                    $"{_document.Name} answered, but not with {form} that can be read ({type}, {bytes.Length:N0} bytes: "
                        + $"{unreadable.Message}). "
                        + "The address may lead to a page for people instead of the interface for programs."
                ),
                Passing: false,
                Answered: true
            );
    }

    private Reply Refusal(HttpResponseMessage response, int status, byte[] bytes)
    {
        using var json = RefusalContent(bytes);
        var words = json is null ? null : Words(json.RootElement);
        var said = words is null ? "" : $": “{words}”";
        return status switch
        {
            401 or 403 => Final("refused", $"{_document.Name} refused the credentials ({status}){said}. Enter them again under Systems."),
            404 => Final("notFound", $"{_document.Name} has nothing at this path (404){said}. Check the address and the description."),
            409 => Final(FaultCodes.Conflict, $"{_document.Name} rejected the request, as it conflicts with what is there (409){said}."),
            412 => Final(
                "write.overtaken",
                $"{_document.Name} did not take it (412): the record was changed there after Narbit read it. Preview again to see what "
                    + "stands there now."
            ),
            408 or 429 => new Reply(
                null,
                new Reason(
                    "tooMany",
                    $"{_document.Name} asks for fewer requests ({status}){said}. Narbit waited and tried again, in vain; "
                        + $"lower the rate in the description."
                ),
                true,
                true,
                RetryAfter(response)
            )
            {
                // Whoever says when to come back has done nothing yet; others may have begun.
                MayHaveActed = status == 408 || response.Headers.RetryAfter is null,
            },
            >= 500 => new Reply(
                null,
                new Reason(FaultCodes.ServerError, $"{_document.Name} failed ({status}){said}."),
                true,
                true,
                RetryAfter(response)
            )
            {
                MayHaveActed = true,
            },
            >= 300 and < 400 => Final(
                "redirect",
                $"{_document.Name} answered with a redirect ({status}), which Narbit does not follow. Give the address it leads to."
            ),
            _ => Final(FaultCodes.Rejected, $"{_document.Name} rejected the request ({status}){said}."),
        };

        Reply Final(string code, string message) => new(null, new Reason(code, message), Passing: false, Answered: true);
    }

    // What a system says when it refuses may be a page for people, or JSON where all else is XML.
    private JsonDocument? RefusalContent(byte[] bytes)
    {
        foreach (var form in new[] { _document.Replies, ReplyForm.Json })
            try
            {
                return ReplyContent.Read(bytes, form);
            }
            catch (FormatException)
            {
                // The next form is tried; without any there are no words, and the status alone is told.
            }

        return null;
    }

    private string Quoted(JsonElement root) => Words(root) is { } words ? $"“{words}”" : "it does not say why";

    private string? Words(JsonElement root)
    {
        foreach (var path in _errorPaths)
            if (path.TextIn(root) is { } words)
                return words.Length <= 300 ? words : words[..299] + "…";
        return null;
    }

    private TimeSpan? RetryAfter(HttpResponseMessage response) =>
        response.Headers.RetryAfter switch
        {
            { Delta: { } delta } => Clamp(delta),
            { Date: { } date } => Clamp(date - _clock.GetUtcNow()),
            _ => null,
        };

    private static TimeSpan Clamp(TimeSpan delay) =>
        delay < TimeSpan.Zero ? TimeSpan.Zero
        : delay > TimeSpan.FromMinutes(5) ? TimeSpan.FromMinutes(5)
        : delay;

    private static async Task<byte[]?> BoundedAsync(HttpContent content, CancellationToken cancel)
    {
        if (content.Headers.ContentLength > LongestReply)
            return null;
        await using var stream = await content.ReadAsStreamAsync(cancel);
        using var buffer = new MemoryStream((int)(content.Headers.ContentLength ?? 16 * 1024));
        var chunk = ArrayPool<byte>.Shared.Rent(64 * 1024);
        try
        {
            int read;
            while ((read = await stream.ReadAsync(chunk, cancel)) > 0)
            {
                if (buffer.Length + read > LongestReply)
                    return null;
                buffer.Write(chunk, 0, read);
            }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(chunk);
        }

        return buffer.ToArray();
    }

    // Passing: worth trying again. Answered: there was an answer.
    private sealed record Reply(RestReply? Content, Reason? Fault, bool Passing, bool Answered, TimeSpan? RetryAfter = null)
    {
        /// <summary>Whether the system may have done what it was asked, though it does not say so.</summary>
        public bool MayHaveActed { get; init; } = !Answered;
    }
}
