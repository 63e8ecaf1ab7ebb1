using System.Net;
using System.Net.Sockets;

namespace Narbit.Core.Mapping;

/// <summary>Whether an address may be passed on as an image's. Narbit never fetches it: it is looked at, not visited.</summary>
public static class ImageAddress
{
    private static readonly HashSet<string> Endings = new(StringComparer.OrdinalIgnoreCase)
    {
        ".jpg",
        ".jpeg",
        ".png",
        ".gif",
        ".webp",
        ".avif",
        ".svg",
        ".bmp",
        ".tif",
        ".tiff",
    };

    /// <summary>What is wrong with an address, in words; null: nothing that can be told without visiting it.</summary>
    /// <param name="address">The address.</param>
    public static string? Fault(string address)
    {
        if (!Uri.TryCreate(address, UriKind.Absolute, out var uri) || uri.Scheme is not ("http" or "https"))
            return $"“{address}” is no web address of an image; relative ones need a base before them";
        if (IsLocal(uri))
            return $"“{address}” leads into the local network, where no shop can see it";
        var ending = Path.GetExtension(uri.AbsolutePath);
        return ending.Length == 0 || Endings.Contains(ending) ? null : $"“{address}” is no image: it ends in {ending}";
    }

    /// <summary>
    /// The same for one that may be meant from a base on: without a scheme, only its ending is looked at.
    /// </summary>
    /// <param name="address">The address, or the end of one.</param>
    public static string? FaultOfPart(string address)
    {
        if (Uri.TryCreate(address, UriKind.Absolute, out var uri) && uri.Scheme is "http" or "https")
            return Fault(address);
        var ending = Path.GetExtension(address);
        return ending.Length == 0 || Endings.Contains(ending) ? null : $"“{address}” is no image: it ends in {ending}";
    }

    private static bool IsLocal(Uri uri)
    {
        var host = uri.IdnHost.Trim('[', ']');
        if (!IPAddress.TryParse(host, out var ip))
            return uri.IsLoopback
                || !host.Contains('.', StringComparison.Ordinal)
                || host.EndsWith(".local", StringComparison.OrdinalIgnoreCase)
                || host.EndsWith(".localhost", StringComparison.OrdinalIgnoreCase)
                || host.EndsWith(".internal", StringComparison.OrdinalIgnoreCase);
        if (ip.IsIPv4MappedToIPv6)
            ip = ip.MapToIPv4();
        if (IPAddress.IsLoopback(ip))
            return true;
        if (ip.AddressFamily == AddressFamily.InterNetworkV6)
            return ip.IsIPv6LinkLocal || ip.IsIPv6SiteLocal || ip.IsIPv6UniqueLocal || ip.Equals(IPAddress.IPv6Any);
        // RFC 1918, RFC 6598, RFC 3927 and “this network”.
        return ip.GetAddressBytes()
            is [0 or 10 or 127, ..]
                or [192, 168, ..]
                or [169, 254, ..]
                or [172, >= 16 and <= 31, ..]
                or [100, >= 64 and <= 127, ..];
    }
}
