using System.Net.Sockets;
using Fralto.Core.Notices;
using Fralto.Core.Rules;
using MailKit;
using MailKit.Net.Smtp;
using MailKit.Security;
using MimeKit;

namespace Fralto.Runtime.Notices;

/// <summary>Sends mails over SMTP (RFC 5321) with MailKit: a connection for each, given up after ten seconds.</summary>
public sealed class MailSender : IMailSender
{
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(10);

    /// <inheritdoc/>
    public async Task<string?> SendAsync(
        MailServer server,
        string? password,
        IReadOnlyCollection<string> addresses,
        NoticeMail mail,
        CancellationToken stop
    )
    {
        using var time = CancellationTokenSource.CreateLinkedTokenSource(stop);
        time.CancelAfter(Longest);
        try
        {
            using var message = new MimeMessage
            {
                Subject = mail.Subject,
                Body = new TextPart("plain") { Text = mail.Text },
            };
            message.From.Add(new MailboxAddress("Fralto", server.From));
            message.To.AddRange(addresses.Select(a => new MailboxAddress(a, a)));
            using var client = new SmtpClient { Timeout = (int)Longest.TotalMilliseconds };
            await client.ConnectAsync(
                server.Host,
                server.Port,
                server.Security switch
                {
                    MailSecurity.Tls => SecureSocketOptions.SslOnConnect,
                    MailSecurity.StartTls => SecureSocketOptions.StartTls,
                    _ => SecureSocketOptions.None,
                },
                time.Token
            );
            if (server.User is { } user)
            {
                if (password is null)
                    return $"no password is known for {user} at {server.Host}; type it again under Alarms, Who is told";
                await client.AuthenticateAsync(user, password, time.Token);
            }
            await client.SendAsync(message, time.Token);
            await client.DisconnectAsync(true, time.Token);
            return null;
        }
        catch (Exception e) when (e is OperationCanceledException or TimeoutException && !stop.IsCancellationRequested)
        {
            return $"{server.Host}:{server.Port} did not answer within {Longest.TotalSeconds:0} s";
        }
        catch (AuthenticationException)
        {
            return $"{server.Host} does not take the user or the password";
        }
        catch (Exception e)
            when (e
                    is SocketException
                        or IOException
                        or ProtocolException
                        or CommandException
                        or SslHandshakeException
                        or InvalidOperationException
                        or NotSupportedException
            )
        {
            return $"{server.Host}:{server.Port}: {e.Message.Split('\n')[0].TrimEnd()}";
        }
    }
}
