namespace Fralto.Core.Notices;

/// <summary>The server that takes the mails of alarms (SMTP, RFC 5321). Its password is kept beside the model.</summary>
/// <param name="Host">Its name or address.</param>
/// <param name="Port">Its port, usually 25, 465 or 587.</param>
/// <param name="Security">How the connection is secured.</param>
/// <param name="From">The address the mails come from.</param>
public sealed record MailServer(string Host, int Port, MailSecurity Security, string From)
{
    /// <summary>The name to sign in with; null to send without.</summary>
    public string? User { get; init; }

    /// <summary>Where a password belongs: it is given to no other server, port, or user, and over no other kind of connection.</summary>
    public string? PasswordPlace => User is { } user ? $"{user}@{Host}:{Port} {Security}" : null;
}
