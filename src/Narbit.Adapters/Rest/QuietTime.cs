using System.Globalization;
using System.Net.Http.Headers;

namespace Narbit.Adapters.Rest;

/// <summary>
/// Waits while a system has said that it takes no more requests for now, so that it need not refuse one. It is said in headers: those of
/// the IETF draft “RateLimit header fields for HTTP”, or others that the description names.
/// </summary>
internal sealed class QuietTime(RestLimits limits, TimeProvider clock)
{
    private const double SecondsOfManyYears = 1e9;

    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(5);

    private readonly string _remaining = limits.RemainingHeader ?? "RateLimit-Remaining";
    private readonly string _reset = limits.ResetHeader ?? "RateLimit-Reset";
    private long _until;

    /// <summary>Waits until the system takes requests again.</summary>
    public async Task WaitAsync(CancellationToken cancel)
    {
        var left = new DateTimeOffset(Interlocked.Read(ref _until), TimeSpan.Zero) - clock.GetUtcNow();
        if (left <= TimeSpan.Zero)
            return;
        Traffic.Current?.Waits(left, forLimit: true);
        await Task.Delay(left, clock, cancel);
    }

    /// <summary>Takes in what a reply says of the requests that are left.</summary>
    public void Learn(HttpResponseHeaders headers)
    {
        if (Number(headers, _remaining) is not <= 0 || Number(headers, _reset) is not { } seconds)
            return;
        var now = clock.GetUtcNow();
        var until = seconds >= SecondsOfManyYears ? DateTimeOffset.FromUnixTimeSeconds((long)seconds) : now.AddSeconds(seconds);
        var bounded = until > now + Longest ? now + Longest : until;
        Interlocked.Exchange(ref _until, bounded.UtcTicks);
    }

    private static double? Number(HttpResponseHeaders headers, string name) =>
        headers.TryGetValues(name, out var values)
        && double.TryParse(values.First(), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var number)
            ? number
            : null;
}
