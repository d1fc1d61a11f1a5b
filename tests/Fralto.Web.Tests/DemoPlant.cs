namespace Fralto.Web.Tests;

/// <summary>A demo for all tests of a class.</summary>
public sealed class DemoPlant : IAsyncLifetime
{
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-demo-").FullName;

    internal RunningFralto Fralto { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Fralto = await RunningFralto.DemoAsync(_directory);

    public async ValueTask DisposeAsync()
    {
        await Fralto.DisposeAsync();
        Directory.Delete(_directory, recursive: true);
    }
}
