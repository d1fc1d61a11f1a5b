using System.Diagnostics;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Fralto.Links.Tests;

namespace Fralto.Web.Tests;

/// <summary>Fralto as its own process on its own port and data directory, driven over HTTP as a browser would.</summary>
internal sealed partial class RunningFralto : IAsyncDisposable
{
    /// <summary>A demo starts in ten seconds of a processor, which one of many on a machine that is taken away waits long for.</summary>
    private static readonly TimeSpan LongestStart = TimeSpan.FromMinutes(3);

    private readonly Process _process;
    private readonly List<string> _log = [];
    private readonly HttpClientHandler _handler = new() { AllowAutoRedirect = false, UseProxy = false };

    private RunningFralto(Process process, int port)
    {
        (_process, Port) = (process, port);
        Http = new HttpClient(_handler) { BaseAddress = new Uri($"http://127.0.0.1:{port}"), Timeout = TimeSpan.FromSeconds(60) };
    }

    public int Port { get; }

    public HttpClient Http { get; }

    /// <summary>Starts "fralto serve" and waits until its engine runs.</summary>
    public static Task<RunningFralto> ServeAsync(string directory) => StartAsync("dotnet", [Program(), "serve", "--data", directory]);

    /// <summary>Starts "fralto demo" with its stand-ins and waits until its engine runs.</summary>
    /// <param name="directory">The data directory.</param>
    /// <param name="isReleased">False lets whatever is edited run at once, for tests of other things than releases.</param>
    /// <param name="pastDays">How many days of the past it makes first.</param>
    public static async Task<RunningFralto> DemoAsync(string directory, bool isReleased = false, int pastDays = 0)
    {
        var fralto = await StartAsync(
            "dotnet",
            [
                Program(),
                "demo",
                "--data",
                directory,
                "--stand-in-ports",
                $"{Ports.ForProgram()}",
                "--past-days",
                $"{pastDays}",
                "--without",
                "utility-ua",
            ]
        );
        if (!isReleased)
            (await fralto.Http.PutAsJsonAsync("/api/v1/releases/automatic", new { automatic = true })).EnsureSuccessStatusCode();
        return fralto;
    }

    /// <summary>Starts "fralto serve" by a shell, with what the shell is told before.</summary>
    public static Task<RunningFralto> ServeAfterAsync(string directory, string shell) =>
        StartAsync("bash", ["-c", $"{shell}; exec \"$@\"", "bash", "dotnet", Program(), "serve", "--data", directory]);

    private static async Task<RunningFralto> StartAsync(string program, string[] arguments)
    {
        var port = Ports.ForProgram();
        var start = new ProcessStartInfo(program, [.. arguments, "--port", $"{port}"])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        var process = Process.Start(start)!;
        var fralto = new RunningFralto(process, port);
        process.OutputDataReceived += (_, line) => fralto.Said(line.Data);
        process.ErrorDataReceived += (_, line) => fralto.Said(line.Data);
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        try
        {
            await fralto.ListensAsync();
            return fralto;
        }
        catch
        {
            // Nobody else knows of it.
            await fralto.DisposeAsync();
            throw;
        }
    }

    private async Task ListensAsync()
    {
        for (var since = Stopwatch.StartNew(); ; await Task.Delay(50))
        {
            try
            {
                if ((await Http.GetAsync("/healthz")).IsSuccessStatusCode)
                    return;
            }
            catch (HttpRequestException) when (since.Elapsed < LongestStart)
            {
                // Not listening yet.
            }
            if (_process.HasExited)
                throw new InvalidOperationException($"Fralto ended: {string.Join('\n', Log)}");
        }
    }

    private void Said(string? line)
    {
        if (line is null)
            return;
        lock (_log)
            _log.Add(line);
    }

    /// <summary>What it has written so far, line by line.</summary>
    public IReadOnlyList<string> Log
    {
        get
        {
            lock (_log)
                return [.. _log];
        }
    }

    /// <summary>The number of its process.</summary>
    public int ProcessId => _process.Id;

    /// <summary>Ends it as a service manager does, and waits until it has ended.</summary>
    public async Task<int> StopAsync()
    {
        using (Process.Start("kill", ["-TERM", $"{_process.Id}"]))
            await _process.WaitForExitAsync();
        return _process.ExitCode;
    }

    /// <summary>The program as it was built beside its wwwroot, in the configuration of this test.</summary>
    internal static string Program()
    {
        var configuration = AppContext.BaseDirectory.Contains("/Release/", StringComparison.Ordinal) ? "Release" : "Debug";
        return Path.Combine(ArchitectureTests.Root(), "src/Fralto.Web/bin", configuration, "net10.0/Fralto.Web.dll");
    }

    /// <summary>Ends the process as kill -9 does: it gets no chance to finish anything.</summary>
    public async Task KillAsync()
    {
        _process.Kill();
        await _process.WaitForExitAsync();
    }

    /// <summary>Posts a form of a page, with the token the page gave.</summary>
    public async Task<HttpResponseMessage> PostAsync(string page, string handler, params (string Field, string Value)[] fields)
    {
        var token = Token().Match(await Http.GetStringAsync(page)).Groups[1].Value;
        return await PostAsync(page, handler, token, fields);
    }

    public Task<HttpResponseMessage> PostAsync(string page, string handler, string token, params (string Field, string Value)[] fields) =>
        Http.PostAsync(
            $"{page}{(page.Contains('?', StringComparison.Ordinal) ? '&' : '?')}handler={handler}",
            new FormUrlEncodedContent(
                fields.Append(("__RequestVerificationToken", token)).Select(f => KeyValuePair.Create(f.Item1, f.Item2))
            )
        );

    public async Task<string> TokenOfAsync(string page) => TokenIn(await Http.GetStringAsync(page));

    /// <summary>A list of the interface, whole, however many pages it comes in.</summary>
    public async Task<JsonArray> ListAsync(string address)
    {
        var all = new JsonArray();
        var mark = address.Contains('?', StringComparison.Ordinal) ? '&' : '?';
        for (string? cursor = null; ; )
        {
            var page = (
                await Http.GetFromJsonAsync<JsonObject>(cursor is null ? address : $"{address}{mark}cursor={Uri.EscapeDataString(cursor)}")
            )!;
            foreach (var item in page["items"]!.AsArray())
                all.Add(item!.DeepClone());
            cursor = page["next"]?.GetValue<string>();
            if (cursor is null)
                return all;
        }
    }

    /// <summary>The token in the forms of a page.</summary>
    public static string TokenIn(string html) => Token().Match(html).Groups[1].Value;

    public async ValueTask DisposeAsync()
    {
        if (!_process.HasExited)
            await KillAsync();
        _process.Dispose();
        Http.Dispose();
        _handler.Dispose();
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Token();
}
