using System.Net;
using System.Net.Sockets;
using Narbit.Adapters.Files;
using Narbit.Core;

namespace Narbit.Adapters;

/// <summary>
/// Which addresses Narbit connects to. Private networks are allowed, as back offices live there; this machine only if told so; link-local,
/// multicast and unspecified addresses never.
/// </summary>
/// <param name="AllowLoopback">Whether systems on this machine may be reached.</param>
/// <param name="Files">The folder within which systems that are reached by files have theirs; null: there are none.</param>
public sealed record OutboundPolicy(bool AllowLoopback, string? Files = null)
{
    // Cloud machines answer there with secrets of their own; these lie within the ranges of private and public networks.
    private static readonly HashSet<IPAddress> MachineSecrets =
    [
        IPAddress.Parse("fd00:ec2::254"),
        IPAddress.Parse("fd00:ec2::23"),
        IPAddress.Parse("fd20:ce::254"),
        IPAddress.Parse("100.100.100.200"),
        IPAddress.Parse("168.63.129.16"),
        IPAddress.Parse("192.0.0.192"),
    ];

    /// <summary>How servers are known again that are reached by SFTP.</summary>
    public IHostKeys HostKeys { get; init; } = new PassingHostKeys();

    /// <summary>A system's folder, which must lie within <see cref="Files"/>; or why it cannot be used.</summary>
    public Outcome<string> Folder(string address)
    {
        if (Files is null)
            return new Reason(
                "address.forbidden",
                "Narbit was started without a folder for files, so systems cannot be reached by files. Start it with --files FOLDER."
            );
        var root = Path.TrimEndingDirectorySeparator(Path.GetFullPath(Files));
        var folder = Path.GetFullPath(Path.Combine(root, address));
        return FolderPaths.LiesWithin(folder, root)
            ? folder
            : new Reason("address.invalid", $"“{address}” is no folder within the one that Narbit uses for files. Give its name only.");
    }

    /// <summary>Whether an address leads to folders on a server.</summary>
    public static bool IsServer(string address) => address.StartsWith("sftp:", StringComparison.OrdinalIgnoreCase);

    /// <summary>The name and port of a server, as <see cref="HostKeys"/> know it.</summary>
    public static string ServerOf(Uri address) => $"{address.Host}:{(address.Port > 0 ? address.Port : 22)}";

    /// <summary>The address of folders on a server as a URI, or why it cannot be one.</summary>
    public Outcome<Uri> Server(string address) => Check(address, "sftp", "sftp");

    /// <summary>The address as a URI, or why it cannot be one.</summary>
    public Outcome<Uri> Check(string address) => Check(address, "http", "https");

    private Outcome<Uri> Check(string address, string scheme, string orScheme)
    {
        if (!Uri.TryCreate(address, UriKind.Absolute, out var uri) || (uri.Scheme != scheme && uri.Scheme != orScheme) || uri.Host == "")
            return new Reason(
                "address.invalid",
                $"“{address}” is not an address Narbit can call. Give one that starts with "
                    + $"{(scheme == orScheme ? "" : scheme + ":// or ")}{orScheme}://."
            );
        if (uri.UserInfo.Length > 0)
            return new Reason(
                "address.credentials",
                "The address contains a user or password. Leave them out and enter them as credentials, where they are kept encrypted."
            );
        if (IPAddress.TryParse(uri.Host.Trim('[', ']'), out var ip) && !Allows(ip))
            return Forbidden(uri.Host);
        return uri;
    }

    /// <summary>Whether an IP address may be connected to.</summary>
    public bool Allows(IPAddress address)
    {
        var ip = Plain(address);
        if (IPAddress.IsLoopback(ip))
            return AllowLoopback;
        if (
            MachineSecrets.Contains(ip)
            || ip.IsIPv6SiteLocal
            || ip.IsIPv6LinkLocal
            || ip.IsIPv6Multicast
            || ip.Equals(IPAddress.Any)
            || ip.Equals(IPAddress.IPv6Any)
            || ip.Equals(IPAddress.Broadcast)
        )
            return false;
        if (ip.AddressFamily != AddressFamily.InterNetwork)
            return true;
        var bytes = ip.GetAddressBytes();
        return bytes[0] is not (0 or >= 224) && !(bytes[0] == 169 && bytes[1] == 254);
    }

    // An IPv4 address may be written as one of IPv6: mapped, compatible, by translation (RFC 6052) or by 6to4 (RFC 3056).
    private static IPAddress Plain(IPAddress address)
    {
        if (address.IsIPv4MappedToIPv6)
            return address.MapToIPv4();
        if (address.AddressFamily != AddressFamily.InterNetworkV6)
            return address;
        var bytes = address.GetAddressBytes();
        var translated = bytes is [0, 0x64, 0xff, 0x9b, 0, 0, 0, 0, 0, 0, 0, 0, ..];
        var compatible =
            bytes.AsSpan(0, 12).IndexOfAnyExcept((byte)0) < 0 && !IPAddress.IsLoopback(address) && !address.Equals(IPAddress.IPv6Any);
        return translated || compatible ? new IPAddress(bytes.AsSpan(12))
            : bytes is [0x20, 0x02, ..] ? new IPAddress(bytes.AsSpan(2, 4))
            : address;
    }

    /// <summary>
    /// Opens a connection to the first allowed address of a host; the check is made on the address connected to, so a name cannot be
    /// swapped in between.
    /// </summary>
    /// <exception cref="ForbiddenAddressException">None of the host's addresses is allowed.</exception>
    public async ValueTask<Stream> ConnectAsync(SocketsHttpConnectionContext context, CancellationToken cancel)
    {
        var host = context.DnsEndPoint.Host;
        var addresses = await Dns.GetHostAddressesAsync(host, cancel);
        var allowed = addresses.Where(Allows).ToArray();
        if (allowed.Length == 0)
            throw new ForbiddenAddressException(Forbidden(host));
        var socket = new Socket(SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
        try
        {
            await socket.ConnectAsync(allowed, context.DnsEndPoint.Port, cancel);
            return new NetworkStream(socket, ownsSocket: true);
        }
        catch
        {
            socket.Dispose();
            throw;
        }
    }

    internal static Reason Forbidden(string host) =>
        new(
            "address.forbidden",
            $"{host} is an address that Narbit does not connect to (this machine, link-local or multicast). Give the system's own address; "
                + "for systems on this machine, Narbit is started with --loopback."
        );
}
