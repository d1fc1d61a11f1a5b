using System.Text;

namespace Fralto.Web.Tests;

/// <summary>A plant with nothing in it, served for as long as the tests of a class that asks it: starting one costs more than most tests
/// do.</summary>
public sealed class EmptyPlant : IAsyncLifetime
{
    private const string Nothing = """{ "format": "fralto-model", "version": 1 }""";

    internal string Place { get; private set; } = "";

    internal RunningFralto Fralto { get; private set; } = null!;

    public async ValueTask InitializeAsync()
    {
        Place = Directory.CreateTempSubdirectory("fralto-empty-").FullName;
        Fralto = await RunningFralto.ServeAsync(Place);
    }

    public async ValueTask DisposeAsync()
    {
        await Fralto.DisposeAsync();
        Directory.Delete(Place, recursive: true);
    }

    /// <summary>Takes out whatever another test has left in it.</summary>
    internal async Task<RunningFralto> EmptiedAsync()
    {
        var answer = await Fralto.Http.PutAsync("/api/v1/model", new StringContent(Nothing, Encoding.UTF8, "application/json"));
        answer.IsSuccessStatusCode.ShouldBeTrue(await answer.Content.ReadAsStringAsync());
        return Fralto;
    }

    /// <summary>Ends it, unless it has ended, and serves the same data again.</summary>
    /// <param name="ended">Done to the data in between.</param>
    internal async Task<RunningFralto> RestartedAsync(Action? ended = null)
    {
        await Fralto.DisposeAsync();
        ended?.Invoke();
        return Fralto = await RunningFralto.ServeAsync(Place);
    }

    /// <summary>Begins with other data, after a test that has spoiled what there was.</summary>
    internal async Task BeginAnewAsync()
    {
        await DisposeAsync();
        await InitializeAsync();
    }
}
