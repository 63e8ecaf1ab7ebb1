using System.Globalization;
using System.Net.Http.Headers;
using System.Text;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Events;

namespace Narbit.Engine.Telling;

/// <summary>
/// Sends webhooks by HTTP POST. <c>Narbit-Time</c> is in seconds since 1970, <c>Narbit-Signature</c> the HMAC-SHA256 of the time, a point
/// and the body, in hexadecimal, as <see cref="HookSignature"/> checks it; <c>Narbit-Event</c> is the event's own name.
/// </summary>
internal sealed class HttpHookDoor : IHookDoor, IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(15);

    private readonly HttpClient _http;
    private readonly TimeProvider _clock;

    /// <summary>Makes the door.</summary>
    /// <param name="policy">Where may be called.</param>
    /// <param name="clock">The time.</param>
    public HttpHookDoor(OutboundPolicy policy, TimeProvider clock)
    {
        _clock = clock;
        var handler = new SocketsHttpHandler
        {
            // Where it leads was checked; nobody leads it elsewhere.
            AllowAutoRedirect = false,
            UseCookies = false,
            UseProxy = false,
            ConnectTimeout = TimeSpan.FromSeconds(10),
            ConnectCallback = policy.ConnectAsync,
        };
        _http = new HttpClient(handler) { Timeout = Timeout.InfiniteTimeSpan };
    }

    /// <inheritdoc/>
    public async Task<Reason?> SendAsync(Uri address, OutgoingHook hook, CancellationToken cancel)
    {
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        patience.CancelAfter(Patience);
        try
        {
            using var request = Request(address, hook);
            using var answer = await _http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, patience.Token);
            return answer.IsSuccessStatusCode
                ? null
                : new Reason("hook.refused", $"{address.Host} answered {(int)answer.StatusCode} {answer.ReasonPhrase}.");
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            return new Reason("hook.slow", $"{address.Host} did not answer within {Patience.TotalSeconds:0} seconds.");
        }
        catch (ForbiddenAddressException forbidden)
        {
            return forbidden.Reason;
        }
        catch (HttpRequestException error)
        {
            return error.InnerException is ForbiddenAddressException forbidden
                ? forbidden.Reason
                : new Reason("hook.unreachable", $"{address.Host} could not be reached: {error.Message.TrimEnd('.')}.");
        }
    }

    private HttpRequestMessage Request(Uri address, OutgoingHook hook)
    {
        var body = Encoding.UTF8.GetBytes(hook.Body);
        var time = _clock.GetUtcNow().ToUnixTimeSeconds().ToString(CultureInfo.InvariantCulture);
        var content = new ByteArrayContent(body);
        content.Headers.ContentType = new MediaTypeHeaderValue("application/json", "utf-8");
        var request = new HttpRequestMessage(HttpMethod.Post, address) { Content = content };
        request.Headers.Add("Narbit-Event", hook.EventId);
        request.Headers.Add("Narbit-Time", time);
        request.Headers.Add("Narbit-Signature", HookSignature.Of(hook.Secret, time, body));
        return request;
    }

    /// <inheritdoc/>
    public void Dispose() => _http.Dispose();
}
