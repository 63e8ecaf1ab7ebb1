using System.Globalization;
using System.Net;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Data.Telling;
using Narbit.Engine.Systems;

namespace Narbit.Web.Telling;

/// <summary>Checks what somebody says of a mail server.</summary>
internal static class MailServerCheck
{
    private const int HighestPort = 65_535;

    /// <summary>The server as it would be kept, or what is wrong with it.</summary>
    public static Outcome<MailServer> Of(
        MailServerSettings said,
        MailServer? kept,
        ICredentialVault vault,
        OutboundPolicy policy,
        DateTimeOffset now
    )
    {
        if (Fault(said, policy) is { } fault)
            return fault;
        var user = string.IsNullOrWhiteSpace(said.User) ? null : said.User.Trim();
        // A password goes to the server that it was given for, and to no other.
        var same = kept is not null && string.Equals(kept.Host, said.Host.Trim(), StringComparison.OrdinalIgnoreCase) && kept.User == user;
        return new MailServer
        {
            Host = said.Host.Trim(),
            Port = said.Port,
            Security = said.Security,
            User = user,
            ProtectedPassword =
                user is null ? null
                : said.Password is { Length: > 0 } secret ? vault.Protect(new Credential(null, secret))
                : same ? kept!.ProtectedPassword
                : null,
            From = said.From.Trim(),
            LinksTo = said.LinksTo.Trim().TrimEnd('/'),
            DailyAt = said.DailyAt,
            Since = kept?.Since ?? now,
        };
    }

    private static Reason? Fault(MailServerSettings said, OutboundPolicy policy)
    {
        if (Uri.CheckHostName(said.Host.Trim()) == UriHostNameType.Unknown)
            return new Reason("mail.host", "Say which mail server: its name alone, e.g. mail.lanternmoor.example.");
        if (IPAddress.TryParse(said.Host.Trim(), out var address) && !policy.Allows(address))
            return new Reason("mail.forbidden", $"{address} may not be called from here.");
        if (said.Port is < 1 or > HighestPort)
            return new Reason("mail.port", "A port is a number from 1 to 65,535; mostly 587 or 465.");
        if (!System.Net.Mail.MailAddress.TryCreate(said.From, out _))
            return new Reason("mail.from", "Say from which mail address mails come.");
        if (!Uri.TryCreate(said.LinksTo, UriKind.Absolute, out var links) || links.Scheme is not ("http" or "https"))
            return new Reason("mail.links", "Say at which address people reach Narbit, with http or https.");
        if (!TimeOnly.TryParseExact(said.DailyAt, "HH:mm", CultureInfo.InvariantCulture, DateTimeStyles.None, out _))
            return new Reason("mail.daily", "Say at what time a day is summed up, e.g. 07:30.");
        return said.Security == MailSecurity.None && said.User is { Length: > 0 } && !IsHere(said.Host)
            ? new Reason("mail.open", "A password is not sent unprotected to another machine; choose TLS.")
            : null;
    }

    private static bool IsHere(string host) =>
        host.Trim() is "localhost" || (IPAddress.TryParse(host.Trim(), out var address) && IPAddress.IsLoopback(address));
}
