using Narbit.Core.Records;

namespace Narbit.Core.Pairing;

/// <summary>A record as the readiness check looks at it.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Group">Its parent's key or group code.</param>
/// <param name="Texts">What it has in each role.</param>
/// <param name="Partner">What its partner, where it has one, has in each role.</param>
public sealed record RecordToCheck(
    string Key,
    string? Group,
    IReadOnlyDictionary<FieldRole, string> Texts,
    IReadOnlyDictionary<FieldRole, string>? Partner
);
