using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using System.Text.RegularExpressions;

namespace Fralto.Web.Tests;

/// <summary>Fralto as its own process on its own port and data directory, driven over HTTP as a browser would.</summary>
internal sealed partial class RunningFralto : IAsyncDisposable
{
    private readonly Process _process;
    private readonly HttpClientHandler _handler = new() { AllowAutoRedirect = false, UseProxy = false };

    private RunningFralto(Process process, int port)
    {
        (_process, Port) = (process, port);
        Http = new HttpClient(_handler) { BaseAddress = new Uri($"http://127.0.0.1:{port}"), Timeout = TimeSpan.FromSeconds(20) };
    }

    public int Port { get; }

    public HttpClient Http { get; }

    /// <summary>Starts "fralto serve" and waits until its engine runs.</summary>
    public static async Task<RunningFralto> ServeAsync(string directory)
    {
        var port = FreePort();
        var start = new ProcessStartInfo("dotnet", [Program(), "serve", "--data", directory, "--port", $"{port}"])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        var process = Process.Start(start)!;
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        var fralto = new RunningFralto(process, port);
        for (var tries = 0; ; tries++)
        {
            try
            {
                if ((await fralto.Http.GetAsync("/healthz")).IsSuccessStatusCode) return fralto;
            }
            catch (HttpRequestException) when (tries < 200 && !process.HasExited)
            {
                // Not listening yet.
            }
            await Task.Delay(50);
        }
    }

    /// <summary>The program as it was built beside its wwwroot, in the configuration of this test.</summary>
    private static string Program()
    {
        var configuration = AppContext.BaseDirectory.Contains("/Release/", StringComparison.Ordinal) ? "Release" : "Debug";
        return Path.Combine(ArchitectureTests.Root(), "src/Fralto.Web/bin", configuration, "net10.0/Fralto.Web.dll");
    }

    public static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
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

    public Task<HttpResponseMessage> PostAsync(string page, string handler, string token, params (string Field, string Value)[] fields) => Http.PostAsync(
        $"{page}{(page.Contains('?', StringComparison.Ordinal) ? '&' : '?')}handler={handler}",
        new FormUrlEncodedContent(fields.Append(("__RequestVerificationToken", token)).Select(f => KeyValuePair.Create(f.Item1, f.Item2))));

    public async Task<string> TokenOfAsync(string page) => Token().Match(await Http.GetStringAsync(page)).Groups[1].Value;

    public async ValueTask DisposeAsync()
    {
        if (!_process.HasExited) await KillAsync();
        _process.Dispose();
        Http.Dispose();
        _handler.Dispose();
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Token();
}
