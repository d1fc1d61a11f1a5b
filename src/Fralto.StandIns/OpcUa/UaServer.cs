using System.ComponentModel;
using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Fralto.StandIns.OpcUa;

/// <summary>The OPC UA server of the stand-ins: a child process on Node.js that is told what the simulation says.</summary>
public sealed class UaServer : IAsyncDisposable
{
    private static readonly TimeSpan EndsWithin = TimeSpan.FromSeconds(5);

    private readonly int _port;
    private readonly string _directory;
    private readonly JsonObject _setup;
    private readonly Lock _lock = new();
    private readonly Dictionary<string, bool> _faults = [];
    private readonly TaskCompletionSource _ready = new(TaskCreationOptions.RunContinuationsAsynchronously);
    private readonly Dictionary<string, TaskCompletionSource> _doing = [];
    private Process? _process;
    private volatile string _lastWords = "";
    private Task _reading = Task.CompletedTask;

    /// <param name="port">Where it listens; 0 lets the system choose.</param>
    /// <param name="directory">Where it keeps its key and certificate.</param>
    /// <param name="many">How many further variables it has, for measuring.</param>
    /// <param name="isOdd">Whether it also has what servers seldom have: levels without end, a clock that is off, limits it does not keep
    /// to, an old way to secure a connection; for trying clients.</param>
    public UaServer(int port, string directory, int many = 0, bool isOdd = false) =>
        (_port, _directory, _setup) = (port, directory, new() { ["many"] = many, ["odd"] = isOdd });

    /// <summary>Where it listens, once it does; before that the port it was given.</summary>
    public int Port { get; private set; }

    /// <summary>Its certificate, once it listens.</summary>
    public byte[]? Certificate { get; private set; }

    /// <summary>Ends when it listens; fails when it could not be started.</summary>
    public Task Ready => _ready.Task;

    /// <summary>Takes what a client writes: its name in the simulation, and the number.</summary>
    public Action<string, double> Written { get; set; } = (_, _) => { };

    /// <summary>Called whenever it listens anew, with the certificate it shows now.</summary>
    public Action<byte[]> Listens { get; set; } = _ => { };

    /// <summary>True while a fault is switched on.</summary>
    public bool IsOn(string fault)
    {
        lock (_lock)
            return _faults.GetValueOrDefault(fault);
    }

    /// <summary>Starts it; <see cref="Ready"/> ends when it listens.</summary>
    public void Start()
    {
        Port = _port;
        Directory.CreateDirectory(_directory);
        var start = new ProcessStartInfo("node")
        {
            ArgumentList =
            {
                Path.Combine(AppContext.BaseDirectory, "ua-server.cjs"),
                _port.ToString(CultureInfo.InvariantCulture),
                _directory,
                _setup.ToJsonString(),
            },
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            UseShellExecute = false,
        };
        try
        {
            _process = Process.Start(start)!;
        }
        catch (Win32Exception e)
        {
            _ready.TrySetException(new InvalidOperationException("The stand-in utility-ua needs Node.js 20 or later.", e));
            return;
        }
        _reading = Task.WhenAll(ReadAsync(_process), DrainAsync(_process));
    }

    /// <summary>Tells it what the simulation says.</summary>
    public Task SayAsync(JsonObject values) => WriteAsync(new() { ["values"] = values });

    /// <summary>Breaks or mends something, and waits until it is so.</summary>
    public async Task SetFaultAsync(string fault, bool on)
    {
        var done = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
        lock (_lock)
        {
            _faults[fault] = on;
            _doing[fault] = done;
        }
        await WriteAsync(new() { ["fault"] = fault, ["on"] = on });
        await done.Task.WaitAsync(TimeSpan.FromSeconds(30));
    }

    public async ValueTask DisposeAsync()
    {
        if (_process is not { } process)
            return;
        try
        {
            process.StandardInput.Close();
        }
        catch (IOException)
        {
            // It is gone already.
        }
        using var patience = new CancellationTokenSource(EndsWithin);
        try
        {
            await process.WaitForExitAsync(patience.Token);
        }
        catch (OperationCanceledException)
        {
            process.Kill(entireProcessTree: true);
        }
        await _reading.ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        process.Dispose();
    }

    private async Task WriteAsync(JsonObject line)
    {
        if (_process is not { HasExited: false } process)
            return;
        try
        {
            await process.StandardInput.WriteLineAsync(line.ToJsonString());
            await process.StandardInput.FlushAsync();
        }
        catch (Exception e) when (e is IOException or ObjectDisposedException or InvalidOperationException)
        {
            // It ended; whoever reads it learns so.
        }
    }

    private async Task ReadAsync(Process process)
    {
        while (await process.StandardOutput.ReadLineAsync() is { } line)
        {
            using var said = JsonDocument.Parse(line);
            var root = said.RootElement;
            if (root.TryGetProperty("ready", out var port))
            {
                Port = port.GetInt32();
                Certificate = root.GetProperty("certificate").GetBytesFromBase64();
                Listens(Certificate);
                _ready.TrySetResult();
            }
            else if (root.TryGetProperty("written", out var written))
                foreach (var one in written.EnumerateObject())
                    Written(one.Name, one.Value.GetDouble());
            else if (root.TryGetProperty("done", out var done))
                Done(done.GetString()!);
            else if (root.TryGetProperty("failed", out var failed))
                Done(failed.GetString()!);
        }
        _ready.TrySetException(new InvalidOperationException($"The stand-in utility-ua ended before it listened. {_lastWords}"));
    }

    private void Done(string fault)
    {
        lock (_lock)
            if (_doing.Remove(fault, out var doing))
                doing.TrySetResult();
    }

    private async Task DrainAsync(Process process)
    {
        while (await process.StandardError.ReadLineAsync() is { } line)
            if (line.Trim().Length > 0)
                _lastWords = line.Trim();
    }
}
