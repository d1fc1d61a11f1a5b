namespace Fralto.Web.Tests;

/// <summary>A plant with nothing in it, served for as long as the tests that ask it.</summary>
public sealed class EmptyPlant : IAsyncLifetime
{
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-empty-").FullName;

    internal RunningFralto Fralto { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Fralto = await RunningFralto.ServeAsync(_directory);

    public async ValueTask DisposeAsync()
    {
        await Fralto.DisposeAsync();
        Directory.Delete(_directory, recursive: true);
    }
}
