using System.Buffers;
using System.Collections.Immutable;
using System.Net;
using System.Net.Sockets;
using MimeKit;
using SmtpServer;
using SmtpServer.ComponentModel;
using SmtpServer.Protocol;
using SmtpServer.Storage;

namespace Fralto.StandIns.Mail;

/// <summary>A mail server that keeps the last mails in one mailbox, whoever they are for; may be gone, or refuse what comes.</summary>
public sealed class MailReceiver(int port, TimeProvider clock) : IAsyncDisposable
{
    private const int Kept = 50;
    private const int LongestMail = 1024 * 1024;
    private readonly SemaphoreSlim _switch = new(1);
    private SmtpServer.SmtpServer? _server;
    private CancellationTokenSource? _running;
    private Task _work = Task.CompletedTask;
    private ImmutableList<ReceivedMail> _mails = [];

    /// <summary>The port it listens on.</summary>
    public int Port { get; private set; } = port;

    /// <summary>True while it takes no mail.</summary>
    public bool Refuses { get; set; }

    /// <summary>True while it does not listen.</summary>
    public bool IsGone => _server is null;

    /// <summary>The last mails, the newest first.</summary>
    public IReadOnlyList<ReceivedMail> Mails => Volatile.Read(ref _mails);

    /// <summary>Begins to listen, or ends.</summary>
    /// <param name="isThere">Whether it listens.</param>
    public async Task ListenAsync(bool isThere)
    {
        await _switch.WaitAsync();
        try
        {
            if (isThere == _server is not null)
                return;
            if (!isThere)
            {
                await _running!.CancelAsync();
                await _work.ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
                _running.Dispose();
                (_server, _running) = (null, null);
                return;
            }
            if (Port == 0)
                Port = FreePort();
            var services = new ServiceProvider();
            services.Add(new Mailbox(this));
            _server = new(
                new SmtpServerOptionsBuilder()
                    .ServerName("mail.maltings.test")
                    .MaxMessageSize(LongestMail)
                    .Endpoint(e => e.Endpoint(new IPEndPoint(IPAddress.Loopback, Port)))
                    .Build(),
                services
            );
            _running = new();
            _work = _server.StartAsync(_running.Token);
        }
        finally
        {
            _switch.Release();
        }
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        await ListenAsync(false);
        _switch.Dispose();
    }

    private static int FreePort()
    {
        using var socket = new TcpListener(IPAddress.Loopback, 0);
        socket.Start();
        return ((IPEndPoint)socket.LocalEndpoint).Port;
    }

    private SmtpResponse Take(ReadOnlySequence<byte> bytes, IEnumerable<string> to)
    {
        if (Refuses)
            return SmtpResponse.MailboxUnavailable;
        using var stream = new MemoryStream(bytes.ToArray());
        using var message = MimeMessage.Load(stream);
        var mail = new ReceivedMail(clock.GetUtcNow(), string.Join(", ", to), message.Subject ?? "", message.TextBody ?? "");
        ImmutableInterlocked.Update(ref _mails, mails =>
            mails.Count >= Kept ? mails.RemoveAt(Kept - 1).Insert(0, mail) : mails.Insert(0, mail)
        );
        return SmtpResponse.Ok;
    }

    private sealed class Mailbox(MailReceiver receiver) : MessageStore
    {
        public override Task<SmtpResponse> SaveAsync(
            ISessionContext context,
            IMessageTransaction transaction,
            ReadOnlySequence<byte> buffer,
            CancellationToken cancellationToken
        ) => Task.FromResult(receiver.Take(buffer, transaction.To.Select(m => $"{m.User}@{m.Host}")));
    }
}
