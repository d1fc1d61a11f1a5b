using Fralto.Core.Notices;
using Fralto.Core.Rules;

namespace Fralto.Runtime.Notices;

/// <summary>Hands a mail to a mail server.</summary>
public interface IMailSender
{
    /// <summary>Sends a mail.</summary>
    /// <param name="server">The server.</param>
    /// <param name="password">The password to sign in with; null to send without.</param>
    /// <param name="addresses">Who gets it.</param>
    /// <param name="mail">What it says.</param>
    /// <param name="stop">Ends it.</param>
    /// <returns>Why the server did not take it; null when it did.</returns>
    Task<string?> SendAsync(
        MailServer server,
        string? password,
        IReadOnlyCollection<string> addresses,
        NoticeMail mail,
        CancellationToken stop
    );
}
