using System.Net;
using System.Net.Sockets;
using System.Text;
using Narbit.Core;
using Renci.SshNet;
using Renci.SshNet.Common;

namespace Narbit.Adapters.Files;

/// <summary>
/// Folders on a server that is reached by SFTP. One connection is kept and opened again when it is lost. The server is known again by its
/// host key, see <see cref="IHostKeys"/>. What is read is fetched once for each time it was written.
/// </summary>
internal sealed class SftpFolders : IFolders
{
    private const string KeyBegins = "-----BEGIN";
    private const long LongestFile = 1L << 30;
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(15);

    private readonly Uri _address;
    private readonly string _system;
    private readonly Credential? _credential;
    private readonly OutboundPolicy _outbound;
    private readonly Lock _one = new();
    private readonly Lazy<DirectoryInfo> _fetched = new(() => Directory.CreateTempSubdirectory("narbit-sftp"));
    private SftpClient? _client;

    /// <param name="system">The system's name.</param>
    /// <param name="address">Its address, already checked.</param>
    /// <param name="credential">A user, with a password or a private key; null: there is none.</param>
    /// <param name="outbound">Which addresses may be connected to, and how servers are known again.</param>
    public SftpFolders(string system, Uri address, Credential? credential, OutboundPolicy outbound)
    {
        _system = system;
        _address = address;
        _credential = credential;
        _outbound = outbound;
    }

    // The protocol tells whole seconds.
    public TimeSpan Grain => TimeSpan.FromSeconds(1);

    private string Server => OutboundPolicy.ServerOf(_address);

    public bool Has(string folder) => Do(client => client.Exists(At(folder)) && client.GetAttributes(At(folder)).IsDirectory);

    // Where links lead on the server is the server's to say: it shows its callers what they may see.
    public bool LeadsAway(string folder) => false;

    public void Make(string folder) =>
        Do(client =>
        {
            var path = "";
            foreach (var name in At(folder).Split('/', StringSplitOptions.RemoveEmptyEntries))
            {
                path += $"/{name}";
                if (!client.Exists(path))
                    client.CreateDirectory(path);
            }

            return true;
        });

    public IReadOnlyList<PlacedFile> Files(string folder) =>
        Do<IReadOnlyList<PlacedFile>>(client =>
            client.Exists(At(folder))
                ?
                [
                    .. client
                        .ListDirectory(At(folder))
                        .Where(f => f.IsRegularFile && FolderPaths.IsPlainName(f.Name))
                        .Select(f => new PlacedFile(folder, f.Name, f.LastWriteTimeUtc)),
                ]
                : []
        );

    public async Task<bool> PutAsync(string folder, string name, Stream content, CancellationToken cancel)
    {
        using var whole = new MemoryStream();
        await content.CopyToAsync(whole, cancel);
        var target = $"{At(folder)}/{FolderPaths.Plain(name)}";
        var unfinished = $"{target}.part";
        return await Task.Run(
            () =>
            {
                if (Do(client => client.Exists(target)))
                    return false;
                Do(client =>
                {
                    whole.Position = 0;
                    client.UploadFile(whole, unfinished, canOverride: true);
                    return true;
                });
                return Do(client => Renamed(client, unfinished, target), acts: true);
            },
            cancel
        );
    }

    public PlacedFile Move(PlacedFile file, string folder)
    {
        Make(folder);
        var target = $"{At(folder)}/{FolderPaths.Plain(file.Name)}";
        for (var number = 2; Do(client => client.Exists(target)); number++)
        {
            var aside = $"{At(folder)}/{FolderPaths.Aside(file.Name, number)}";
            if (!Do(client => client.Exists(aside)))
                Do(client => Renamed(client, target, aside), acts: true);
        }

        Do(client => Renamed(client, $"{At(file.Folder)}/{file.Name}", target), acts: true);
        return file with { Folder = folder };
    }

    public string Local(PlacedFile file)
    {
        var path = Path.Combine(_fetched.Value.CreateSubdirectory($"{file.Written.Ticks}").FullName, file.Name);
        if (File.Exists(path))
            return path;
        return Do(client =>
        {
            var remote = $"{At(file.Folder)}/{file.Name}";
            if (client.GetAttributes(remote).Size > LongestFile)
                throw new FoldersException(
                    new Reason(
                        "table.tooLarge",
                        $"{_system}: {file.Name} has more than {LongestFile >> 30} GiB. Let it write smaller files."
                    )
                );
            foreach (var old in _fetched.Value.EnumerateDirectories().Where(d => d.FullName != Path.GetDirectoryName(path)))
                old.Delete(recursive: true);
            using (var local = File.Create(path + ".part"))
                client.DownloadFile(remote, local);
            File.Move(path + ".part", path);
            return path;
        });
    }

    public void Dispose()
    {
        _client?.Dispose();
        if (_fetched.IsValueCreated)
            _fetched.Value.Delete(recursive: true);
    }

    private string At(string folder) => $"{Uri.UnescapeDataString(_address.AbsolutePath).TrimEnd('/')}/{folder.Trim('/')}";

    // The protocol's own way of renaming writes over nothing (draft-ietf-secsh-filexfer-02, section 6.5).
    private static bool Renamed(SftpClient client, string from, string to)
    {
        client.RenameFile(from, to);
        return true;
    }

    // A connection that was lost meanwhile is opened again once; what may have been done then is not done twice.
    private T Do<T>(Func<SftpClient, T> call, bool acts = false)
    {
        lock (_one)
        {
            for (var attempt = 1; ; attempt++)
            {
                var client = Connected();
                try
                {
                    return call(client);
                }
                catch (Exception lost)
                    when (lost is SshConnectionException or SocketException or ObjectDisposedException or SshOperationTimeoutException)
                {
                    client.Dispose();
                    _client = null;
                    if (acts || attempt == 2)
                        throw new FoldersException(
                            new Reason("broken", $"{_system} broke off while it was being worked with ({Said(lost)})."),
                            acts
                        );
                }
                catch (SftpPermissionDeniedException denied)
                {
                    throw new FoldersException(
                        new Reason("files.denied", $"{_system} does not let this user do that ({Said(denied)}). Give it the right to.")
                    );
                }
                catch (SshException refused)
                {
                    throw new FoldersException(new Reason("files.refused", $"{_system} refused a file operation: {Said(refused)}."));
                }
            }
        }
    }

    private SftpClient Connected()
    {
        if (_client is { IsConnected: true } there)
            return there;
        _client?.Dispose();
        _client = null;
        var client = new SftpClient(Entry()) { OperationTimeout = TimeSpan.FromMinutes(2), KeepAliveInterval = TimeSpan.FromSeconds(30) };
        string? met = null;
        client.HostKeyReceived += (_, key) =>
        {
            met = key.FingerPrintSHA256;
            key.CanTrust = (_outbound.HostKeys.Known(Server) ?? met) == met;
        };
        try
        {
            client.Connect();
        }
        catch (Exception error) when (error is SshException or SocketException or InvalidOperationException or ArgumentException)
        {
            client.Dispose();
            throw new FoldersException(Unconnected(error, met));
        }

        if (_outbound.HostKeys.Known(Server) is null)
            _outbound.HostKeys.Learn(Server, met!);
        return _client = client;
    }

    private Reason Unconnected(Exception error, string? met)
    {
        if (met is not null && _outbound.HostKeys.Known(Server) is { } known && known != met)
            return new Reason(
                "hostKey.changed",
                $"{Server} shows another host key than before: SHA256:{met}, and before SHA256:{known}. Somebody may stand in between. If "
                    + $"the server was set up anew, forget the old key under Systems, {_system}, Connection; nothing was sent to it."
            );
        return error switch
        {
            SshAuthenticationException => new Reason(
                "refused",
                $"{_system} refused the credentials ({Said(error)}). Enter the user with the password or private key again under Systems."
            ),
            SocketException or SshOperationTimeoutException => new Reason(
                "unreachable",
                $"{_system} could not be reached at {Server}: {Said(error)}. Check the address and that the server is running."
            ),
            _ => new Reason("unreachable", $"{_system} at {Server} does not speak SFTP as it should: {Said(error)}."),
        };
    }

    private ConnectionInfo Entry()
    {
        if (_credential is not { User: { Length: > 0 } user } known)
            throw new FoldersException(
                new Reason(
                    "refused",
                    $"{_system} is reached by SFTP, for a user with a password or a private key. Enter them under Systems."
                )
            );
        return new ConnectionInfo(Allowed().ToString(), _address.Port > 0 ? _address.Port : 22, user, Ways(user, known.Secret))
        {
            Timeout = Patience,
        };
    }

    // The very address that was checked is connected to, so that a name cannot be swapped in between.
    private IPAddress Allowed()
    {
        try
        {
            return Array.Find(Dns.GetHostAddresses(_address.Host), _outbound.Allows)
                ?? throw new FoldersException(OutboundPolicy.Forbidden(_address.Host));
        }
        catch (SocketException)
        {
            throw new FoldersException(
                new Reason("unreachable", $"{_system} could not be reached at {Server}: there is no such host. Check the address.")
            );
        }
    }

    private AuthenticationMethod[] Ways(string user, string secret)
    {
        if (!secret.TrimStart().StartsWith(KeyBegins, StringComparison.Ordinal))
        {
            var asked = new KeyboardInteractiveAuthenticationMethod(user);
            asked.AuthenticationPrompt += (_, e) =>
            {
                foreach (var prompt in e.Prompts)
                    prompt.Response = secret;
            };
            return [new PasswordAuthenticationMethod(user, secret), asked];
        }

        try
        {
            using var text = new MemoryStream(Encoding.UTF8.GetBytes(secret.Trim() + "\n"));
            return [new PrivateKeyAuthenticationMethod(user, new PrivateKeyFile(text))];
        }
        catch (Exception error) when (error is SshException or FormatException or InvalidOperationException)
        {
            throw new FoldersException(
                new Reason(
                    "refused",
                    $"The private key for {_system} cannot be used: {Said(error)}. Give one in OpenSSH or PEM form without a passphrase."
                )
            );
        }
    }

    private static string Said(Exception error) => error.Message.TrimEnd('.');
}
