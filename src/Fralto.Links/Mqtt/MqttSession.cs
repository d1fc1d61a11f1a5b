using System.Buffers;
using System.Globalization;
using System.Net.Security;
using System.Net.Sockets;
using System.Security.Authentication;
using System.Security.Cryptography.X509Certificates;
using Fralto.Core.Mqtt;
using Fralto.Core.Quality;
using MQTTnet;
using MQTTnet.Diagnostics.Logger;
using MQTTnet.Exceptions;
using MQTTnet.Formatter;
using MQTTnet.Packets;
using MQTTnet.Protocol;

namespace Fralto.Links.Mqtt;

/// <summary>One connection to a broker.</summary>
internal sealed class MqttSession : IAsyncDisposable
{
    private const int TopicsAtOnce = 200;

    /// <summary>The largest packet taken from a broker, in bytes: larger than any batch of values, small enough that a broker cannot fill
    /// the machine.</summary>
    public const uint LargestPacket = 4 * 1024 * 1024;

    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(5),
        ToBeSaid = TimeSpan.FromMilliseconds(500);
    private readonly IMqttClient _client;
    private readonly string _where;
    private readonly TaskCompletionSource<string> _ended = new(TaskCreationOptions.RunContinuationsAsynchronously);

    private MqttSession(IMqttClient client, string where) => (_client, _where) = (client, where);

    /// <summary>Ends with the reason when the connection does.</summary>
    public Task<string> Ended => _ended.Task;

    /// <summary>Connects to a broker.</summary>
    /// <param name="connection">Where, and who we are.</param>
    /// <param name="password">The password; null for none.</param>
    /// <param name="suffix">Comes after the client id, so that a second connection does not throw out the first.</param>
    /// <param name="received">Called for each message, one after the other: topic, payload, and whether the broker had kept it.</param>
    /// <param name="will">What the broker says when this connection breaks; null for nothing.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="passedOver">Is told of messages too large to be taken.</param>
    /// <exception cref="LinkException">The broker cannot be reached, or does not let us in.</exception>
    public static async Task<MqttSession> ConnectAsync(
        MqttConnection connection,
        string? password,
        string suffix,
        Action<string, ReadOnlySequence<byte>, bool> received,
        MqttApplicationMessage? will,
        CancellationToken stop,
        Action<string>? passedOver = null
    )
    {
        var where = $"{connection.Host}:{connection.Port.ToString(CultureInfo.InvariantCulture)}";
        var client = new MqttClientFactory(
            new MqttNetNullLogger(),
            new LimitedChannel.Factory(LargestPacket, passedOver ?? (_ => { }))
        ).CreateMqttClient();
        var session = new MqttSession(client, where);
        client.ApplicationMessageReceivedAsync += args =>
        {
            received(args.ApplicationMessage.Topic, args.ApplicationMessage.Payload, args.ApplicationMessage.Retain);
            return Task.CompletedTask;
        };
        client.DisconnectedAsync += args =>
        {
            session._ended.TrySetResult(
                args.Exception is { } e && Violation(e) is { } wrong ? NoMqtt(wrong)
                : args.ReasonString is { Length: > 0 } said ? $"connection lost: the broker says {said}"
                : "connection lost: the broker closed it, or gives no sign of life"
            );
            return Task.CompletedTask;
        };
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(stop);
        limit.CancelAfter(Patience);
        try
        {
            var result = await client.ConnectAsync(Options(connection, password, suffix, will), limit.Token);
            if (result.ResultCode == MqttClientConnectResultCode.Success)
                return session;
            client.Dispose();
            throw Refused(result.ResultCode, where);
        }
        catch (Exception e)
            when ((limit.IsCancellationRequested || e is MqttCommunicationTimedOutException) && !stop.IsCancellationRequested)
        {
            client.Dispose();
            throw new LinkException(
                StatusCode.BadNotConnected,
                $"timed out: {where} did not answer within {Patience.TotalSeconds:0} s; check the address and whether a broker is there"
            );
        }
        catch (Exception e)
            when (e
                    is MqttCommunicationException
                        or MqttProtocolViolationException
                        or SocketException
                        or IOException
                        or AuthenticationException
                        or NotSupportedException
            )
        {
            client.Dispose();
            throw new LinkException(
                StatusCode.BadNotConnected,
                Violation(e) is { } wrong ? $"{where} does not answer as a broker does: {wrong}" : Explain(e, connection, where),
                e
            );
        }
        catch
        {
            client.Dispose();
            throw;
        }
    }

    /// <summary>Listens to topics.</summary>
    public async Task SubscribeAsync(IEnumerable<string> filters, MqttQualityOfServiceLevel qos, CancellationToken stop)
    {
        foreach (var some in filters.Chunk(TopicsAtOnce))
        {
            var options = new MqttClientSubscribeOptions
            {
                TopicFilters = [.. some.Select(f => new MqttTopicFilter { Topic = f, QualityOfServiceLevel = qos })],
            };
            var result = await GuardAsync("SUBSCRIBE", limit => _client.SubscribeAsync(options, limit), stop);
            if (result.Items.FirstOrDefault(i => (int)i.ResultCode >= 0x80) is { } refused)
                throw new LinkException(
                    StatusCode.BadUserAccessDenied,
                    $"{_where} does not let this user listen to {refused.TopicFilter.Topic} ({refused.ResultCode})"
                );
        }
    }

    /// <summary>Listens to topics no longer.</summary>
    public async Task UnsubscribeAsync(IEnumerable<string> filters, CancellationToken stop)
    {
        foreach (var some in filters.Chunk(TopicsAtOnce))
            await GuardAsync(
                "UNSUBSCRIBE",
                limit => _client.UnsubscribeAsync(new MqttClientUnsubscribeOptions { TopicFilters = [.. some] }, limit),
                stop
            );
    }

    /// <summary>Sends a message.</summary>
    /// <returns>Null when the broker has taken it, else why not.</returns>
    public async Task<string?> PublishAsync(
        string topic,
        byte[] payload,
        MqttQualityOfServiceLevel qos,
        bool retain,
        CancellationToken stop
    )
    {
        var message = new MqttApplicationMessage
        {
            Topic = topic,
            PayloadSegment = payload,
            QualityOfServiceLevel = qos,
            Retain = retain,
        };
        var result = await GuardAsync("PUBLISH", limit => _client.PublishAsync(message, limit), stop);
        return result.IsSuccess ? null : $"the broker refuses it: {result.ReasonCode}";
    }

    public async ValueTask DisposeAsync()
    {
        try
        {
            if (_client.IsConnected)
                await _client.DisconnectAsync(new MqttClientDisconnectOptions(), CancellationToken.None).WaitAsync(TimeSpan.FromSeconds(1));
        }
        catch (Exception e)
            when (e
                    is MqttCommunicationException
                        or TimeoutException
                        or OperationCanceledException
                        or InvalidOperationException
                        or ObjectDisposedException
            )
        {
            // The other end is gone already.
        }
        _client.Dispose();
    }

    /// <summary>Asks the broker for something and waits for its answer, but not for ever.</summary>
    private async Task<T> GuardAsync<T>(string what, Func<CancellationToken, Task<T>> ask, CancellationToken stop)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(stop);
        limit.CancelAfter(Patience);
        try
        {
            return await ask(limit.Token);
        }
        catch (Exception e)
            when ((limit.IsCancellationRequested || e is MqttCommunicationTimedOutException) && !stop.IsCancellationRequested)
        {
            throw new LinkException(
                StatusCode.BadNotConnected,
                $"timed out: {_where} did not answer {what} within {Patience.TotalSeconds:0} s",
                e
            );
        }
        catch (Exception e)
            when (e
                    is MqttCommunicationException
                        or MqttProtocolViolationException
                        or InvalidOperationException
                        or TimeoutException
                        // The library has forgotten its connection when that breaks just as something is sent.
                        or NullReferenceException
            )
        {
            // Where the connection broke meanwhile, why it did says more than that the answer is missing; it may be about to be said.
            if (Violation(e) is null)
                await Task.WhenAny(_ended.Task, Task.Delay(ToBeSaid, CancellationToken.None));
            throw new LinkException(
                StatusCode.BadNotConnected,
                _ended.Task.IsCompletedSuccessfully ? _ended.Task.Result
                    : Violation(e) is { } wrong ? NoMqtt(wrong)
                    : e is NullReferenceException ? "connection lost"
                    : $"connection lost: {e.GetBaseException().Message}",
                e
            );
        }
    }

    private static string NoMqtt(string wrong) => $"answers wrongly: what the broker sent is no MQTT ({wrong})";

    /// <summary>What in an answer is against the protocol; null when it is something else that failed.</summary>
    private static string? Violation(Exception e)
    {
        for (var inner = e; inner is not null; inner = inner.InnerException)
            if (inner is MqttProtocolViolationException or NotSupportedException)
                return inner.Message;
        return null;
    }

    private static MqttClientOptions Options(MqttConnection connection, string? password, string suffix, MqttApplicationMessage? will)
    {
        var id =
            connection.ClientId.Length > 0 ? connection.ClientId + suffix : $"fralto{suffix}-{Guid.NewGuid().ToString("N", null)[..10]}";
        var options = new MqttClientOptionsBuilder()
            .WithTcpServer(connection.Host, connection.Port)
            .WithClientId(id)
            .WithCleanSession()
            .WithKeepAlivePeriod(TimeSpan.FromSeconds(connection.KeepAlive))
            .WithTimeout(Patience * 2)
            .WithMaximumPacketSize(connection.IsVersion5 ? LargestPacket : 0u)
            .WithProtocolVersion(connection.IsVersion5 ? MqttProtocolVersion.V500 : MqttProtocolVersion.V311);
        if (connection.User.Length > 0)
            options = options.WithCredentials(connection.User, password ?? "");
        if (will is not null)
            options = options
                .WithWillTopic(will.Topic)
                .WithWillPayload(will.Payload.ToArray())
                .WithWillQualityOfServiceLevel(will.QualityOfServiceLevel)
                .WithWillRetain(will.Retain);
        if (connection.UsesTls)
        {
            options = options.WithTlsOptions(tls =>
            {
                tls.UseTls();
                tls.WithTargetHost(connection.Host);
                if (connection.Authority.Length > 0)
                    tls.WithCertificateValidationHandler(args => IsSignedBy(connection.Authority, args));
            });
        }
        return options.Build();
    }

    /// <summary>True when the broker's certificate is that of its host and signed by the authority that was given.</summary>
    private static bool IsSignedBy(string authority, MqttClientCertificateValidationEventArgs args)
    {
        if ((args.SslPolicyErrors & (SslPolicyErrors.RemoteCertificateNameMismatch | SslPolicyErrors.RemoteCertificateNotAvailable)) != 0)
            return false;
        var trusted = new X509Certificate2Collection();
        trusted.ImportFromPem(authority);
        using var chain = new X509Chain();
        chain.ChainPolicy.TrustMode = X509ChainTrustMode.CustomRootTrust;
        chain.ChainPolicy.CustomTrustStore.AddRange(trusted);
        chain.ChainPolicy.RevocationMode = X509RevocationMode.NoCheck;
        return chain.Build(new X509Certificate2(args.Certificate));
    }

    private static LinkException Refused(MqttClientConnectResultCode code, string where) =>
        code switch
        {
            MqttClientConnectResultCode.BadUserNameOrPassword => new(
                StatusCode.BadUserAccessDenied,
                $"{where} does not know this user and password"
            ),
            MqttClientConnectResultCode.NotAuthorized => new(
                StatusCode.BadUserAccessDenied,
                $"{where} does not let this user in; check user and password"
            ),
            MqttClientConnectResultCode.ClientIdentifierNotValid => new(
                StatusCode.BadNotConnected,
                $"{where} does not accept the client id"
            ),
            MqttClientConnectResultCode.UnsupportedProtocolVersion => new(
                StatusCode.BadNotSupported,
                $"{where} does not speak this version of MQTT; choose the other"
            ),
            _ => new(StatusCode.BadNotConnected, $"{where} refuses the connection: {code}"),
        };

    private static string Explain(Exception e, MqttConnection connection, string where)
    {
        for (var inner = e; inner is not null; inner = inner.InnerException!)
        {
            if (inner is SocketException socket)
                return socket.SocketErrorCode switch
                {
                    SocketError.ConnectionRefused => $"connection refused by {where}: the host is there, but nothing listens on this port",
                    SocketError.HostNotFound or SocketError.NoData or SocketError.TryAgain => $"no host is called {connection.Host}",
                    SocketError.HostUnreachable or SocketError.NetworkUnreachable => $"{connection.Host} cannot be reached from here",
                    var code => $"cannot connect to {where}: {code}",
                };
            if (inner is AuthenticationException)
                return connection.Authority.Length > 0
                    ? $"the certificate of {where} is not signed by the authority given, or is for another host"
                    : $"the certificate of {where} is not trusted by this machine; give the certificate of the authority that signed it";
        }
        return connection.UsesTls
            ? $"{where} does not answer as a broker with TLS does"
            : $"{where} does not answer as a broker does; perhaps it wants TLS";
    }
}
