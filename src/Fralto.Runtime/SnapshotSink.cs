using System.Threading.Channels;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime;

/// <summary>A sink that wants to know how things stand, and not all that happened on the way: it looks at the newest snapshot, on a task of
/// its own, as often as it can.</summary>
public abstract class SnapshotSink : IRuntimeSink, IAsyncDisposable
{
    private readonly Channel<RuntimeOutput> _newest = Channel.CreateBounded<RuntimeOutput>(
        new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropOldest, SingleReader = true }
    );

    private readonly ILogger _logger;
    private readonly Task _work;

    protected SnapshotSink(ILogger logger)
    {
        _logger = logger;
        _work = Task.Run(WorkAsync);
    }

    public void Take(RuntimeOutput output) => _newest.Writer.TryWrite(output);

    public async ValueTask DisposeAsync()
    {
        _newest.Writer.TryComplete();
        await _work;
        GC.SuppressFinalize(this);
    }

    /// <summary>Looks at how things stand.</summary>
    /// <param name="snapshot">What the running plant knows.</param>
    /// <param name="working">What the working model knows at the same moment; the same while nothing is unreleased.</param>
    protected abstract void Look(EngineSnapshot snapshot, EngineSnapshot working);

    private async Task WorkAsync()
    {
        await foreach (var output in _newest.Reader.ReadAllAsync())
        {
            try
            {
                Look(output.Snapshot, output.Working ?? output.Snapshot);
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                // Whoever shows values may fail; the plant runs on, and the next time may go well.
                _logger.LogError(e, "{Sink} could not follow the running plant", GetType().Name);
            }
        }
    }
}
