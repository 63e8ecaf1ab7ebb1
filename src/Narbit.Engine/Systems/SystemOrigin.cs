using Narbit.Adapters;
using Narbit.Data.Systems;

namespace Narbit.Engine.Systems;

/// <summary>Whether a change would hand stored credentials to somebody else.</summary>
public static class SystemOrigin
{
    /// <summary>
    /// Whether a system would be called, or its tokens asked for, at another origin (RFC 6454) than now. For folders there is no origin:
    /// another folder is another place.
    /// </summary>
    public static bool LeadsElsewhere(ConnectedSystem system, ISystemDocument document, string address)
    {
        var before = SystemDocument.Read(system.Document).ValueOrDefault?.SignInAddress ?? system.Address;
        return !IsSame(system.Address, address) || !IsSame(before, document.SignInAddress ?? address);
    }

    private static bool IsSame(string one, string other) =>
        Uri.TryCreate(one, UriKind.Absolute, out var a) && Uri.TryCreate(other, UriKind.Absolute, out var b)
            ? Uri.Compare(a, b, UriComponents.SchemeAndServer, UriFormat.SafeUnescaped, StringComparison.OrdinalIgnoreCase) == 0
            : one == other;
}
