using Narbit.Core;

namespace Narbit.Adapters;

/// <summary>A host has no address that Narbit connects to.</summary>
/// <param name="reason">Which, and what to do.</param>
public sealed class ForbiddenAddressException(Reason reason) : Exception(reason.Words)
{
    /// <summary>Which, and what to do.</summary>
    public Reason Reason { get; } = reason;
}
