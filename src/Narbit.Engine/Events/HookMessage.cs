namespace Narbit.Engine.Events;

/// <summary>A webhook as it came.</summary>
/// <param name="Header">A header's value; null: it has none of that name.</param>
/// <param name="Body">The body.</param>
public sealed record HookMessage(Func<string, string?> Header, ReadOnlyMemory<byte> Body);
