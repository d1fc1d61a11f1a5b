namespace Fralto.Core.Notices;

/// <summary>How a connection to a mail server is secured.</summary>
public enum MailSecurity
{
    /// <summary>Not at all.</summary>
    None,

    /// <summary>Encrypted after the greeting (STARTTLS, RFC 3207).</summary>
    StartTls,

    /// <summary>Encrypted from the beginning (RFC 8314).</summary>
    Tls,
}
