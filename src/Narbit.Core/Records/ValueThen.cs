namespace Narbit.Core.Records;

/// <summary>The value that a field had at an instant.</summary>
/// <param name="Value">The value; null: there was none.</param>
/// <param name="Since">Since when it is known to have been so.</param>
/// <param name="Until">When it was next seen changed; null: it has it still.</param>
/// <param name="SetBy">The change that set it; null: it was so when the record was first read.</param>
/// <param name="Earlier">Whether the instant lies before anything is known; the value is then the first that is.</param>
public sealed record ValueThen(string? Value, DateTimeOffset Since, DateTimeOffset? Until, SeenChange? SetBy, bool Earlier);
