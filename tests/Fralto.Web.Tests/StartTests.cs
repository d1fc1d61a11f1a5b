using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using Fralto.Links.Tests;

namespace Fralto.Web.Tests;

/// <summary>What stands in the way of a start is said in one line, and the process ends.</summary>
public sealed class StartTests : IDisposable
{
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-start-").FullName;

    public void Dispose() => Directory.Delete(_directory, recursive: true);

    [Fact]
    public async Task A_second_process_on_one_data_directory_is_told_who_has_it_and_ends()
    {
        await using var first = await RunningFralto.ServeAsync(_directory);
        var (code, said) = await EndsAsync("serve", "--data", _directory, "--port", $"{Ports.ForProgram()}");
        code.ShouldBe(1);
        said.Trim().Split('\n').Length.ShouldBe(1, said);
        said.ShouldContain($"fralto serve on port {first.Port}");
        said.ShouldContain($"process {first.ProcessId}");
        // The first goes on as if nothing had been; and once it has ended, however it did, the next may.
        (await first.Http.GetAsync("/healthz")).StatusCode.ShouldBe(HttpStatusCode.OK);
        await first.KillAsync();
        await using var next = await RunningFralto.ServeAsync(_directory);
    }

    [Fact]
    public async Task A_used_port_a_damaged_file_and_keys_that_cannot_be_read_get_a_line_each()
    {
        using var other = new TcpListener(IPAddress.Loopback, 0);
        other.Start();
        var port = ((IPEndPoint)other.LocalEndpoint).Port;
        await EndsWithLine($"Port {port}", "serve", "--data", _directory, "--port", $"{port}");

        var damaged = Directory.CreateDirectory(Path.Combine(_directory, "damaged")).FullName;
        await using (await RunningFralto.ServeAsync(damaged))
        {
            // A whole plant, before it is damaged.
        }
        var bytes = await File.ReadAllBytesAsync(Path.Combine(damaged, "plant.db"));
        Array.Fill(bytes, (byte)0x5A, 100, Math.Min(40_000, bytes.Length - 100));
        await File.WriteAllBytesAsync(Path.Combine(damaged, "plant.db"), bytes);
        foreach (var rest in Directory.GetFiles(damaged, "plant.db-*"))
            File.Delete(rest);
        await EndsWithLine("damaged", "serve", "--data", damaged, "--port", $"{Ports.ForProgram()}");

        var keyless = Directory.CreateDirectory(Path.Combine(_directory, "keyless", "keys")).FullName;
        await File.WriteAllTextAsync(Path.Combine(keyless, "key-1.xml"), "<no");
        await EndsWithLine("keys", "serve", "--data", Path.GetDirectoryName(keyless)!, "--port", $"{Ports.ForProgram()}");

        await File.WriteAllTextAsync(Path.Combine(_directory, "file"), "");
        await EndsWithLine("cannot be opened", "serve", "--data", Path.Combine(_directory, "file"), "--port", $"{Ports.ForProgram()}");
    }

    /// <summary>Cookies know no ports: what one instance sets, the browser sends to the other.</summary>
    [Fact]
    public async Task Two_instances_on_one_host_do_not_break_each_others_forms()
    {
        await using var one = await RunningFralto.ServeAsync(Path.Combine(_directory, "one"));
        await using var two = await RunningFralto.ServeAsync(Path.Combine(_directory, "two"));
        using var browser = new HttpClientHandler { AllowAutoRedirect = false };
        using var http = new HttpClient(browser);
        async Task<HttpStatusCode> SaveAsync(RunningFralto at, string token, string name) =>
            (
                await http.PostAsync(
                    $"http://127.0.0.1:{at.Port}/units?handler=Save",
                    new FormUrlEncodedContent([
                        KeyValuePair.Create("__RequestVerificationToken", token),
                        KeyValuePair.Create("Code", name),
                        KeyValuePair.Create("Symbol", name),
                        KeyValuePair.Create("Name", name),
                        KeyValuePair.Create("Factor", "2"),
                        KeyValuePair.Create("Of", "KGM"),
                    ])
                )
            ).StatusCode;
        async Task<string> TokenAsync(RunningFralto at) =>
            RunningFralto.TokenIn(await http.GetStringAsync($"http://127.0.0.1:{at.Port}/controllers"));
        var first = await TokenAsync(one);
        var second = await TokenAsync(two);
        (await SaveAsync(one, first, "BAG1")).ShouldBeOneOf(HttpStatusCode.Redirect, HttpStatusCode.UnprocessableEntity);
        (await SaveAsync(two, second, "BAG2")).ShouldBeOneOf(HttpStatusCode.Redirect, HttpStatusCode.UnprocessableEntity);
        browser
            .CookieContainer.GetCookies(new Uri($"http://127.0.0.1:{one.Port}"))
            .Select(c => c.Name)
            .Count(n => n.StartsWith("fralto-forms-", StringComparison.Ordinal))
            .ShouldBe(2);
    }

    private static async Task EndsWithLine(string words, params string[] arguments)
    {
        var (code, said) = await EndsAsync(arguments);
        code.ShouldBe(1, said);
        said.ShouldContain(words, Case.Insensitive);
        said.Trim().Split('\n').Length.ShouldBe(1, said);
    }

    private static async Task<(int Code, string Said)> EndsAsync(params string[] arguments)
    {
        using var process = Process.Start(
            new ProcessStartInfo("dotnet", [RunningFralto.Program(), .. arguments])
            {
                RedirectStandardError = true,
                RedirectStandardOutput = true,
            }
        )!;
        var (errors, output) = (process.StandardError.ReadToEndAsync(), process.StandardOutput.ReadToEndAsync());
        using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(60));
        await process.WaitForExitAsync(limit.Token);
        return (process.ExitCode, await errors + await output);
    }
}
