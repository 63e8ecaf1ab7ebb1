using System.Globalization;
using System.Security.Cryptography;
using System.Text;

namespace Narbit.Core.Events;

/// <summary>
/// Signs and checks webhooks: HMAC-SHA256 (RFC 2104, FIPS 180-4) over the time stamp, a point, and the body, in hexadecimal. A time stamp
/// is in seconds since 1970-01-01 UTC.
/// </summary>
public static class HookSignature
{
    /// <summary>How far a time stamp may be from now, either way: five minutes.</summary>
    public static readonly TimeSpan Tolerance = TimeSpan.FromMinutes(5);

    /// <summary>The signature of a body sent at an instant.</summary>
    public static string Of(string secret, string timeStamp, ReadOnlySpan<byte> body)
    {
        using var hash = IncrementalHash.CreateHMAC(HashAlgorithmName.SHA256, Encoding.UTF8.GetBytes(secret));
        hash.AppendData(Encoding.UTF8.GetBytes($"{timeStamp}."));
        hash.AppendData(body);
        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }

    /// <summary>Why a webhook is not taken; null: it is.</summary>
    /// <param name="secrets">Those that count: the one in force, and the one before it for a while.</param>
    /// <param name="timeStamp">What it says of when it was sent.</param>
    /// <param name="signature">Its signature, whatever its case, with or without a word and an equals sign before it.</param>
    /// <param name="body">The body as it came.</param>
    /// <param name="now">The time.</param>
    public static Reason? Fault(
        IEnumerable<string> secrets,
        string? timeStamp,
        string? signature,
        ReadOnlySpan<byte> body,
        DateTimeOffset now
    )
    {
        if (string.IsNullOrWhiteSpace(timeStamp) || string.IsNullOrWhiteSpace(signature))
            return new Reason("hook.unsigned", "The webhook names no time or has no signature.");
        if (!long.TryParse(timeStamp, NumberStyles.None, CultureInfo.InvariantCulture, out var seconds) || seconds > 253_402_300_799)
            return new Reason("hook.time", $"“{Short(timeStamp)}” is no time in seconds since 1970.");
        var sent = DateTimeOffset.FromUnixTimeSeconds(seconds);
        if ((now - sent).Duration() > Tolerance)
            return new Reason("hook.time", $"The webhook was sent at {sent:yyyy-MM-dd HH:mm:ss} UTC, which is not now; it was not taken.");
        var given = Encoding.UTF8.GetBytes(signature[(signature.IndexOf('=', StringComparison.Ordinal) + 1)..].Trim().ToLowerInvariant());
        var known = false;
        // Every secret is tried, so that nothing can be learned from how long it takes.
        foreach (var secret in secrets)
            known |= CryptographicOperations.FixedTimeEquals(Encoding.UTF8.GetBytes(Of(secret, timeStamp, body)), given);
        return known ? null : new Reason("hook.signature", "The signature does not fit the body; the secrets of the two sides differ.");
    }

    private static string Short(string text) => text.Length <= 40 ? text : text[..39] + "…";
}
