namespace Narbit.Data.Telling;

/// <summary>The server that takes Narbit's mails. There is one row.</summary>
public sealed class MailServer
{
    public int Id { get; set; } = 1;

    public required string Host { get; set; }

    public int Port { get; set; }

    public MailSecurity Security { get; set; }

    /// <summary>Who signs in; null: nobody needs to.</summary>
    public string? User { get; set; }

    /// <summary>Encrypted; never leaves the engine.</summary>
    public string? ProtectedPassword { get; set; }

    /// <summary>The address that mails come from.</summary>
    public required string From { get; set; }

    /// <summary>The address at which people reach Narbit, for the links in mails.</summary>
    public required string LinksTo { get; set; }

    /// <summary>Since when people are told.</summary>
    public DateTimeOffset Since { get; set; }

    /// <summary>The time of day at which a day is summed up, <c>HH:mm</c> in the workspace's zone.</summary>
    public required string DailyAt { get; set; }
}
