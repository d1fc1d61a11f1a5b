using System.Collections.Immutable;
using System.Net;
using System.Net.Sockets;

namespace Fralto.StandIns.Http;

/// <summary>Receives the calls that alarms set off, and keeps the last of them; may answer 500, or not at all.</summary>
public sealed class CallReceiver(int port, TimeProvider clock) : IAsyncDisposable
{
    private const int Kept = 20;
    private const int LongestBody = 2_000;
    private HttpListener? _listener;
    private Task _work = Task.CompletedTask;
    private ImmutableList<ReceivedCall> _calls = [];

    /// <summary>The port it listens on.</summary>
    public int Port { get; private set; } = port;

    /// <summary>True while it answers 500 to everything.</summary>
    public bool AnswersWithErrors { get; set; }

    /// <summary>True while it takes calls and answers none.</summary>
    public bool Hangs { get; set; }

    /// <summary>The last calls, the newest first.</summary>
    public IReadOnlyList<ReceivedCall> Calls => Volatile.Read(ref _calls);

    /// <summary>Begins to listen.</summary>
    public void Open()
    {
        if (Port == 0)
            Port = FreePort();
        var listener = new HttpListener();
        listener.Prefixes.Add($"http://127.0.0.1:{Port}/");
        listener.Start();
        _listener = listener;
        _work = Task.Run(() => ListenAsync(listener));
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        _listener?.Close();
        await _work;
    }

    private static int FreePort()
    {
        using var socket = new TcpListener(IPAddress.Loopback, 0);
        socket.Start();
        return ((IPEndPoint)socket.LocalEndpoint).Port;
    }

    private async Task ListenAsync(HttpListener listener)
    {
        while (true)
        {
            HttpListenerContext context;
            try
            {
                context = await listener.GetContextAsync();
            }
            catch (Exception e) when (e is HttpListenerException or ObjectDisposedException)
            {
                // Closing is how it ends.
                return;
            }
            try
            {
                await AnswerAsync(context);
            }
            catch (Exception e) when (e is HttpListenerException or IOException or ObjectDisposedException)
            {
                // Whoever called has gone.
            }
        }
    }

    private async Task AnswerAsync(HttpListenerContext context)
    {
        using var reader = new StreamReader(context.Request.InputStream);
        var buffer = new char[LongestBody];
        var read = await reader.ReadBlockAsync(buffer);
        var call = new ReceivedCall(clock.GetUtcNow(), context.Request.Url?.AbsolutePath ?? "/", new string(buffer, 0, read));
        ImmutableInterlocked.Update(ref _calls, calls =>
            calls.Count >= Kept ? calls.RemoveAt(Kept - 1).Insert(0, call) : calls.Insert(0, call)
        );
        if (Hangs)
            return;
        context.Response.StatusCode = AnswersWithErrors ? 500 : 204;
        context.Response.Close();
    }
}
