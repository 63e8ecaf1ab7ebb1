using Narbit.Core;
using Narbit.Core.Telling;
using Narbit.Data.Telling;

namespace Narbit.Engine.Telling;

/// <summary>The way out of the house for mails.</summary>
public interface IMailDoor
{
    /// <summary>Hands a message to the server.</summary>
    /// <param name="server">The server.</param>
    /// <param name="password">The password of who signs in; null: nobody does.</param>
    /// <param name="to">To whom.</param>
    /// <param name="message">What.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>Why the server has not taken it; null: it has.</returns>
    Task<Reason?> SendAsync(MailServer server, string? password, string to, Message message, CancellationToken cancel);
}
