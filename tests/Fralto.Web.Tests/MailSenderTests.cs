using System.Net;
using System.Net.Sockets;
using Fralto.Core.Notices;
using Fralto.Core.Rules;
using Fralto.Runtime.Notices;
using Fralto.StandIns.Mail;

namespace Fralto.Web.Tests;

/// <summary>Mails over a real socket to a server of another maker (SmtpServer, from NuGet).</summary>
[Trait("source", "RFC 5321 as the library SmtpServer speaks it")]
public sealed class MailSenderTests : IAsyncLifetime
{
    private readonly MailReceiver _receiver = new(0, TimeProvider.System);
    private readonly MailSender _sender = new();

    public async ValueTask InitializeAsync() => await _receiver.ListenAsync(true);

    public async ValueTask DisposeAsync() => await _receiver.DisposeAsync();

    [Fact]
    public async Task A_mail_arrives_as_it_was_written()
    {
        var mail = new NoticeMail("Zuluft über 88 °C", "Zeile 1 mit ß\n.\n..\n<b>kein Markup</b>\n");
        (await Send(mail)).ShouldBeNull();
        var got = _receiver.Mails.Single();
        (got.Subject, got.To).ShouldBe((mail.Subject, "a@maltings.test, b@maltings.test"));
        got.Text.ReplaceLineEndings("\n").TrimEnd().ShouldBe(mail.Text.TrimEnd());
    }

    [Fact]
    public async Task A_server_that_refuses_or_is_gone_says_why()
    {
        _receiver.Refuses = true;
        (await Send(new("s", "t"))).ShouldNotBeNull().ShouldContain("127.0.0.1:");
        _receiver.Refuses = false;
        await _receiver.ListenAsync(false);
        (await Send(new("s", "t"))).ShouldNotBeNull().ShouldContain("refused");
        await _receiver.ListenAsync(true);
        (await Send(new("s", "t"))).ShouldBeNull();
    }

    [Fact]
    public async Task A_server_that_takes_the_call_and_says_nothing_is_given_up()
    {
        using var silent = new TcpListener(IPAddress.Loopback, 0);
        silent.Start();
        (await Send(new("s", "t"), ((IPEndPoint)silent.LocalEndpoint).Port)).ShouldNotBeNull().ShouldContain("10 s");
    }

    [Fact]
    public async Task One_that_wants_a_secure_connection_or_a_password_gets_no_mail_without()
    {
        var server = new MailServer("127.0.0.1", _receiver.Port, MailSecurity.StartTls, "plant@maltings.test");
        (await SendTo(server, new("s", "t"))).ShouldNotBeNull();
        (await SendTo(server with { Security = MailSecurity.None, User = "plant" }, new("s", "t")))
            .ShouldNotBeNull()
            .ShouldContain("no password is known");
        _receiver.Mails.ShouldBeEmpty();
    }

    private Task<string?> Send(NoticeMail mail, int? port = null) =>
        SendTo(new("127.0.0.1", port ?? _receiver.Port, MailSecurity.None, "plant@maltings.test"), mail);

    private Task<string?> SendTo(MailServer server, NoticeMail mail) =>
        _sender.SendAsync(server, null, ["a@maltings.test", "b@maltings.test"], mail, TestContext.Current.CancellationToken);
}
