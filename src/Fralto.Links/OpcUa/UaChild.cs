using System.Collections.Concurrent;
using System.ComponentModel;
using System.Diagnostics;
using System.Text.Json;
using System.Text.Json.Nodes;
using Fralto.Core.OpcUa;
using Fralto.Core.Quality;

namespace Fralto.Links.OpcUa;

/// <summary>The child process that speaks OPC UA: one JSON object a line goes in and comes out.</summary>
/// <remarks>What it is asked and answers is written at the top of child/client.mjs.</remarks>
internal sealed class UaChild : IAsyncDisposable
{
    /// <summary>Longest line that is taken: what a publish of many long texts needs, and no more.</summary>
    private const int LongestLine = 64 * 1024 * 1024;

    private const int LongestWords = 300;

    /// <summary>What the library says at every start, and nobody can do anything about.</summary>
    private static readonly string[] IdleWords = ["NODE-OPCUA-W", "--security-revert"];

    private static readonly TimeSpan EndsWithin = TimeSpan.FromSeconds(5);
    private static readonly TimeSpan LoggedEvery = TimeSpan.FromSeconds(1);

    private readonly Process _process;
    private readonly ConcurrentDictionary<long, Waiting> _waiting = new();
    private readonly SemaphoreSlim _writing = new(1);
    private readonly Action<JsonElement> _heard;
    private readonly Action<string>? _log;
    private readonly TaskCompletionSource _gone = new(TaskCreationOptions.RunContinuationsAsynchronously);
    private readonly Task _reading;
    private readonly Task _complaining;
    private long _next;
    private volatile string _lastWords = "";
    private long _bytes;

    private UaChild(Process process, Action<JsonElement> heard, Action<string>? log)
    {
        (_process, _heard, _log) = (process, heard, log);
        _reading = Task.Run(ReadAsync);
        _complaining = Task.Run(ComplainAsync);
    }

    /// <summary>Characters it has sent.</summary>
    public long Bytes => Interlocked.Read(ref _bytes);

    /// <summary>Ends when the process is gone.</summary>
    public Task Gone => _gone.Task;

    /// <summary>True once the process is gone.</summary>
    public bool IsGone => _gone.Task.IsCompleted;

    /// <summary>The last it said that was no protocol; why it ended, as a rule.</summary>
    public string LastWords => _lastWords;

    /// <summary>Starts it.</summary>
    /// <param name="name">What it is started for, so that a list of processes says so.</param>
    /// <param name="heard">Takes what it says without being asked: data, and that the connection is lost. Called one line after the
    /// other.</param>
    /// <param name="log">Takes what it has to say beside the protocol; null where nobody reads it.</param>
    /// <exception cref="LinkException">There is no Node.js, or the program is missing.</exception>
    public static UaChild Start(string name, Action<JsonElement> heard, Action<string>? log = null)
    {
        var program = Path.Combine(AppContext.BaseDirectory, "ua-client.cjs");
        if (!File.Exists(program))
            throw new LinkException(
                StatusCode.BadConfigurationError,
                "the OPC UA client, ua-client.cjs, is missing beside Fralto; build it again"
            );
        var start = new ProcessStartInfo("node")
        {
            ArgumentList = { "--max-old-space-size=512", program, name },
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            UseShellExecute = false,
            StandardOutputEncoding = System.Text.Encoding.UTF8,
            StandardInputEncoding = new System.Text.UTF8Encoding(false),
        };
        try
        {
            return new(Process.Start(start)!, heard, log);
        }
        catch (Win32Exception e)
        {
            throw new LinkException(
                StatusCode.BadConfigurationError,
                "OPC UA is spoken by a program in Node.js, and there is no node on this machine; install Node.js 20 or later",
                e
            );
        }
    }

    /// <summary>Asks for something and waits for the answer.</summary>
    /// <param name="op">What is asked for.</param>
    /// <param name="ask">Its arguments.</param>
    /// <param name="within">How long the answer, or its next part, may take.</param>
    /// <param name="stop">Cancels the waiting; the child goes on.</param>
    /// <param name="part">Takes what comes in parts.</param>
    /// <exception cref="LinkException">It was refused, took too long, or the child is gone.</exception>
    public async Task<JsonElement> AskAsync(
        string op,
        JsonObject ask,
        TimeSpan within,
        CancellationToken stop,
        Action<JsonElement>? part = null
    )
    {
        var id = Interlocked.Increment(ref _next);
        (ask["id"], ask["op"]) = (id, op);
        var waiting = new Waiting(part);
        _waiting[id] = waiting;
        try
        {
            if (IsGone)
                throw Ended();
            await _writing.WaitAsync(stop);
            try
            {
                await _process.StandardInput.WriteLineAsync(ask.ToJsonString().AsMemory(), stop);
                await _process.StandardInput.FlushAsync(stop);
            }
            catch (IOException)
            {
                throw Ended();
            }
            finally
            {
                _writing.Release();
            }
            for (var seen = waiting.Parts; ; seen = waiting.Parts)
            {
                try
                {
                    return await waiting.Answer.Task.WaitAsync(within, stop);
                }
                catch (TimeoutException) when (waiting.Parts != seen)
                {
                    // It is still coming, part by part.
                }
                catch (TimeoutException e)
                {
                    throw new LinkException(StatusCode.BadTimeout, $"the server did not answer within {within.TotalSeconds:0} s", e);
                }
            }
        }
        finally
        {
            _waiting.TryRemove(id, out _);
        }
    }

    public async ValueTask DisposeAsync()
    {
        try
        {
            _process.StandardInput.Close();
        }
        catch (IOException)
        {
            // It is gone already.
        }
        using var patience = new CancellationTokenSource(EndsWithin);
        try
        {
            await _process.WaitForExitAsync(patience.Token);
        }
        catch (OperationCanceledException)
        {
            _process.Kill(entireProcessTree: true);
        }
        await Task.WhenAll(_reading, _complaining).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        _process.Dispose();
        _writing.Dispose();
    }

    private LinkException Ended() =>
        new(StatusCode.BadDeviceFailure, $"the OPC UA client ended{(LastWords.Length > 0 ? $": {LastWords}" : "")}; it is started again");

    private async Task ReadAsync()
    {
        try
        {
            while (await _process.StandardOutput.ReadLineAsync() is { } line)
            {
                Interlocked.Add(ref _bytes, line.Length);
                if (line.Length > LongestLine)
                    break;
                Take(line);
            }
        }
        catch (Exception e) when (e is IOException or InvalidOperationException or JsonException)
        {
            _lastWords = e.Message;
        }
        finally
        {
            if (!_process.HasExited)
                _process.Kill(entireProcessTree: true);
            _gone.TrySetResult();
            foreach (var waiting in _waiting.Values)
                waiting.Answer.TrySetException(Ended());
        }
    }

    private void Take(string line)
    {
        using var document = JsonDocument.Parse(line);
        var said = document.RootElement;
        if (!said.TryGetProperty("id", out var id))
            _heard(said);
        else if (_waiting.TryGetValue(id.GetInt64(), out var waiting))
        {
            if (said.TryGetProperty("part", out var part))
                waiting.Take(part);
            else if (said.TryGetProperty("ok", out var answer))
                waiting.Answer.TrySetResult(answer.Clone());
            else
            {
                StatusCode? status =
                    said.TryGetProperty("status", out var code) && code.TryGetUInt32(out var number) && new StatusCode(number).IsBad
                        ? new(number)
                        : null;
                var message = said.TryGetProperty("error", out var error) ? error.GetString() : null;
                waiting.Answer.TrySetException(
                    new LinkException(
                        status ?? StatusCode.BadDeviceFailure,
                        said.TryGetProperty("ours", out _) && message is not null ? message : Words(status, message)
                    )
                );
            }
        }
    }

    /// <summary>What a refusal of the server says: the words of its status where it has some, else what the library says.</summary>
    private static string Words(StatusCode? status, string? message)
    {
        var known = status is { } code ? UaStatusText.Words(code) : null;
        return known is null || known.StartsWith("the server says ", StringComparison.Ordinal) && message is { Length: > 0 }
            ? message ?? "no reason was given"
            : known;
    }

    /// <summary>What it has to say beside the protocol is read, so that it never waits for a reader; its last words are kept, and logged
    /// one a second at most.</summary>
    private async Task ComplainAsync()
    {
        var logged = 0L;
        try
        {
            while (await _process.StandardError.ReadLineAsync() is { } line)
                if (line.Trim() is { Length: > 0 } said && !IdleWords.Any(w => said.Contains(w, StringComparison.Ordinal)))
                {
                    _lastWords = said.Length > LongestWords ? said[..LongestWords] : said;
                    // A library that cannot stop complaining does not fill the disk.
                    if (logged > 0 && Stopwatch.GetElapsedTime(logged) < LoggedEvery)
                        continue;
                    logged = Stopwatch.GetTimestamp();
                    _log?.Invoke(_lastWords);
                }
        }
        catch (Exception e) when (e is IOException or InvalidOperationException)
        {
            // It is gone.
        }
    }

    private sealed class Waiting(Action<JsonElement>? part)
    {
        private int _parts;

        public TaskCompletionSource<JsonElement> Answer { get; } = new(TaskCreationOptions.RunContinuationsAsynchronously);

        public int Parts => Volatile.Read(ref _parts);

        public void Take(JsonElement one)
        {
            Interlocked.Increment(ref _parts);
            part?.Invoke(one);
        }
    }
}
