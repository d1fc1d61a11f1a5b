using System.Threading.Channels;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime;

/// <summary>A sink that wants to know how things stand, and not all that happened on the way: it looks at the newest snapshot, on a task of
/// its own, as often as it can.</summary>
public abstract class SnapshotSink : IRuntimeSink, IAsyncDisposable
{
    private readonly Channel<EngineSnapshot> _newest = Channel.CreateBounded<EngineSnapshot>(
        new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropOldest, SingleReader = true }
    );

    private readonly ILogger _logger;
    private readonly Task _work;

    protected SnapshotSink(ILogger logger)
    {
        _logger = logger;
        _work = Task.Run(WorkAsync);
    }

    public void Take(RuntimeOutput output) => _newest.Writer.TryWrite(output.Snapshot);

    public async ValueTask DisposeAsync()
    {
        _newest.Writer.TryComplete();
        await _work;
        GC.SuppressFinalize(this);
    }

    /// <summary>Looks at how things stand.</summary>
    protected abstract void Look(EngineSnapshot snapshot);

    private async Task WorkAsync()
    {
        await foreach (var snapshot in _newest.Reader.ReadAllAsync())
        {
            try
            {
                Look(snapshot);
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                // Whoever shows values may fail; the plant runs on, and the next time may go well.
                _logger.LogError(e, "{Sink} could not follow the running plant", GetType().Name);
            }
        }
    }
}
