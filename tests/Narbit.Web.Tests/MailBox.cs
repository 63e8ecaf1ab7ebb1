using System.Buffers;
using System.Collections.Concurrent;
using System.Net;
using System.Net.Sockets;
using MimeKit;
using SmtpServer;
using SmtpServer.ComponentModel;
using SmtpServer.Protocol;
using SmtpServer.Storage;

namespace Narbit.Web.Tests;

/// <summary>A mail server of the test's own, over real SMTP.</summary>
public sealed class MailBox : IAsyncDisposable
{
    private readonly CancellationTokenSource _stopping = new();
    private readonly Task _running;

    public MailBox()
    {
        using (var listener = new TcpListener(IPAddress.Loopback, 0))
        {
            listener.Start();
            Port = ((IPEndPoint)listener.LocalEndpoint).Port;
        }

        var services = new ServiceProvider();
        services.Add(new Store(this));
        var options = new SmtpServerOptionsBuilder()
            .ServerName("mail.lanternmoor.example")
            .Endpoint(e => e.Endpoint(new IPEndPoint(IPAddress.Loopback, Port)))
            .Build();
        _running = new SmtpServer.SmtpServer(options, services).StartAsync(_stopping.Token);
    }

    public int Port { get; }

    public ConcurrentQueue<MimeMessage> Mails { get; } = new();

    /// <summary>How it answers; null: it takes everything.</summary>
    public SmtpResponse? Answer { get; set; }

    public async ValueTask DisposeAsync()
    {
        await _stopping.CancelAsync();
        try
        {
            await _running;
        }
        catch (OperationCanceledException)
        {
            // It was told to.
        }

        _stopping.Dispose();
    }

    private sealed class Store(MailBox box) : MessageStore
    {
        public override async Task<SmtpResponse> SaveAsync(
            ISessionContext context,
            IMessageTransaction transaction,
            ReadOnlySequence<byte> buffer,
            CancellationToken cancellationToken
        )
        {
            if (box.Answer is { } answer)
                return answer;
            using var stream = new MemoryStream(buffer.ToArray());
            box.Mails.Enqueue(await MimeMessage.LoadAsync(stream, cancellationToken));
            return SmtpResponse.Ok;
        }
    }
}
