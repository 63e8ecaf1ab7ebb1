using System.Diagnostics;
using System.Net;
using System.Net.Sockets;

namespace Narbit.Unknown;

/// <summary>Debian's SFTP server on this machine, with host keys of its own and one user who has a private key.</summary>
public sealed class SftpServer : IAsyncDisposable
{
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("narbit-sshd");
    private Process? _process;

    public SftpServer()
    {
        Port = FreePort();
        Files = _folder.CreateSubdirectory("files").FullName;
        Key(ClientKey);
        NewHostKey();
        File.Copy($"{ClientKey}.pub", Path.Combine(_folder.FullName, "authorized"));
    }

    public int Port { get; }

    /// <summary>What its user sees.</summary>
    public string Files { get; }

    public string Address => $"sftp://127.0.0.1:{Port}{Files}";

    public static string User => Environment.UserName;

    public string PrivateKey => File.ReadAllText(ClientKey);

    private string ClientKey => Path.Combine(_folder.FullName, "client");

    private string HostKey => Path.Combine(_folder.FullName, "host");

    /// <summary>A key that it lets nobody in with.</summary>
    public string StrangeKey()
    {
        var path = Path.Combine(_folder.FullName, "strange");
        Key(path);
        return File.ReadAllText(path);
    }

    /// <summary>Gives it another host key, as if it was set up anew.</summary>
    public void NewHostKey()
    {
        File.Delete(HostKey);
        File.Delete($"{HostKey}.pub");
        Key(HostKey);
    }

    public async Task StartAsync()
    {
        // Where Debian's server goes without rights; its service makes it at boot, if there is one.
        if (Environment.IsPrivilegedProcess)
            Directory.CreateDirectory("/run/sshd");
        var config = Path.Combine(_folder.FullName, "config");
        await File.WriteAllTextAsync(
            config,
            $"""
            ListenAddress 127.0.0.1
            Port {Port}
            HostKey {HostKey}
            AuthorizedKeysFile {Path.Combine(_folder.FullName, "authorized")}
            PidFile none
            StrictModes no
            UsePAM no
            PasswordAuthentication no
            PermitRootLogin prohibit-password
            Subsystem sftp internal-sftp
            """
        );
        var start = new ProcessStartInfo("/usr/sbin/sshd") { RedirectStandardError = true };
        foreach (var part in new[] { "-D", "-e", "-f", config })
            start.ArgumentList.Add(part);
        _process = Process.Start(start)!;
        while (await _process.StandardError.ReadLineAsync() is { } line)
            if (line.Contains("Server listening", StringComparison.Ordinal))
            {
                _ = _process.StandardError.ReadToEndAsync();
                return;
            }

        throw new InvalidOperationException("Debian's openssh-server did not start; ./narbit test installs it where it may.");
    }

    /// <summary>Ends it, with every connection.</summary>
    public async Task StopAsync()
    {
        if (_process is null)
            return;
        _process.Kill(entireProcessTree: true);
        await _process.WaitForExitAsync();
        _process.Dispose();
        _process = null;
    }

    public async ValueTask DisposeAsync()
    {
        await StopAsync();
        _folder.Delete(recursive: true);
    }

    private static void Key(string path)
    {
        using var made = Process.Start("ssh-keygen", ["-q", "-t", "ed25519", "-N", "", "-f", path]);
        made.WaitForExit();
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
