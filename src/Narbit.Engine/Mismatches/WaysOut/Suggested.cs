using System.Security.Cryptography;
using System.Text.Json;
using Narbit.Core.Mismatches;
using Narbit.Data.Mismatches;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>A mismatch with the way out that was computed for it.</summary>
/// <param name="Mismatch">The mismatch.</param>
/// <param name="Suggestion">The way out.</param>
public sealed record Suggested(Mismatch Mismatch, Suggestion Suggestion)
{
    /// <summary>
    /// What would be done, to what and with which value, as one word: what a person has confirmed is done only while it is still the same.
    /// Words are not in it, so that they can be made better under somebody's eyes.
    /// </summary>
    public string Fingerprint
    {
        get
        {
            string?[] values =
            [
                Mismatch.Cause,
                Mismatch.LaneId,
                Mismatch.SystemId,
                Mismatch.Key,
                Mismatch.Subject,
                Suggestion.Act,
                Suggestion.Value,
                Suggestion.Learns ? "learns" : null,
            ];
            return Convert.ToHexString(SHA256.HashData(JsonSerializer.SerializeToUtf8Bytes(values)))[..16];
        }
    }
}
