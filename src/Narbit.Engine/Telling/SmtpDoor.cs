using System.Net;
using System.Net.Sockets;
using MailKit;
using MailKit.Net.Smtp;
using MailKit.Security;
using MimeKit;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Telling;
using Narbit.Data.Telling;

namespace Narbit.Engine.Telling;

/// <summary>Sends by SMTP (RFC 5321), with MailKit.</summary>
/// <param name="policy">Where may be called.</param>
internal sealed class SmtpDoor(OutboundPolicy policy) : IMailDoor
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);

    /// <inheritdoc/>
    public async Task<Reason?> SendAsync(MailServer server, string? password, string to, Message message, CancellationToken cancel)
    {
        if (!MailboxAddress.TryParse(to, out var recipient) || !MailboxAddress.TryParse(server.From, out var sender))
            return new Reason("mail.address", $"“{(recipient is null ? to : server.From)}” is no mail address.");
        using var mail = Mime(sender, recipient, message);
        using var client = new SmtpClient { Timeout = (int)Patience.TotalMilliseconds };
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        patience.CancelAfter(Patience);
        try
        {
            // The address that was checked is the one that is called.
            var addresses = await Dns.GetHostAddressesAsync(server.Host, patience.Token);
            if (Array.Find(addresses, policy.Allows) is not { } address)
                return new Reason("mail.forbidden", $"{Name(server)} may not be called from here.");
            using var socket = new Socket(address.AddressFamily, SocketType.Stream, ProtocolType.Tcp);
            await socket.ConnectAsync(address, server.Port, patience.Token);
            await client.ConnectAsync(socket, server.Host, server.Port, Security(server.Security), patience.Token);
            if (server.User is { Length: > 0 } user)
                await client.AuthenticateAsync(user, password ?? "", patience.Token);
            await client.SendAsync(mail, patience.Token);
            await client.DisconnectAsync(quit: true, patience.Token);
            return null;
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            return new Reason("mail.slow", $"{Name(server)} did not answer within {Patience.TotalSeconds:0} seconds.");
        }
        catch (Exception error)
            when (error
                    is SocketException
                        or IOException
                        or ProtocolException
                        or CommandException
                        or ServiceNotAuthenticatedException
                        or AuthenticationException
                        or SslHandshakeException
                        or NotSupportedException
            )
        {
            return Fault(server, error);
        }
    }

    private static Reason Fault(MailServer server, Exception error) =>
        error switch
        {
            AuthenticationException => new Reason("mail.signIn", $"{Name(server)} does not take this user and password."),
            SslHandshakeException => new Reason(
                "mail.certificate",
                $"{Name(server)} has no certificate that can be trusted, or speaks no TLS at this port. Check the port and the security."
            ),
            NotSupportedException => new Reason("mail.noTls", $"{Name(server)} offers no TLS; nothing is sent to it unprotected."),
            ServiceNotAuthenticatedException => new Reason("mail.signIn", $"{Name(server)} asks for a user and a password."),
            SmtpCommandException refused => new Reason(
                "mail.refused",
                $"{Name(server)} refused it: {refused.Message.Trim().TrimEnd('.')}."
            ),
            _ => new Reason("mail.unreachable", $"{Name(server)} cannot be reached: {error.Message.TrimEnd('.')}."),
        };

    private static string Name(MailServer server) => $"The mail server {server.Host}:{server.Port}";

    private static SecureSocketOptions Security(MailSecurity security) =>
        security switch
        {
            MailSecurity.Tls => SecureSocketOptions.SslOnConnect,
            MailSecurity.StartTls => SecureSocketOptions.StartTls,
            _ => SecureSocketOptions.None,
        };

    private static MimeMessage Mime(MailboxAddress from, MailboxAddress to, Message message)
    {
        var body = new BodyBuilder { TextBody = message.Text, HtmlBody = message.Html };
        var mail = new MimeMessage([from], [to], message.Subject, body.ToMessageBody());
        // Answers of machines that are away would only come back to a machine.
        mail.Headers.Add("Auto-Submitted", "auto-generated");
        return mail;
    }
}
