using System.Buffers;
using System.Collections.Concurrent;
using Fralto.Core.Controllers;
using Fralto.Core.Quality;

namespace Fralto.Links.Mqtt;

/// <summary>What links over a broker share: messages become samples one after the other, and go to the engine in batches.</summary>
public abstract class BrokerLink(Controller controller, IReadOnlyList<Tag> tags, SampleMailbox mailbox, TimeProvider clock)
    : Link(controller, tags, mailbox, clock)
{
    private static readonly TimeSpan FlushEvery = TimeSpan.FromMilliseconds(20);

    /// <summary>How often what has become due is looked for while nothing is heard.</summary>
    private static readonly TimeSpan TendEvery = TimeSpan.FromMilliseconds(250);
    private readonly ConcurrentDictionary<long, Awaited> _awaited = new();
    private volatile bool _isRetagged;
    private volatile MqttSession? _session;
    private List<Sample> _pending = [];
    private TaskCompletionSource _heard = Signal();

    /// <summary>The connection while there is one.</summary>
    private protected MqttSession? Session => _session;

    /// <summary>Guards what messages change.</summary>
    protected Lock Gate { get; } = new();

    public override void Retag(IReadOnlyList<Tag> tags)
    {
        base.Retag(tags);
        _isRetagged = true;
        lock (Gate)
            _heard.TrySetResult();
    }

    /// <summary>Connects, with a last will where the protocol wants one.</summary>
    private protected abstract Task<MqttSession> ConnectAsync(
        Action<string, ReadOnlySequence<byte>, bool> received,
        CancellationToken stop
    );

    /// <summary>Asks for what is wanted, once connected.</summary>
    private protected abstract Task BeginAsync(MqttSession session, CancellationToken stop);

    /// <summary>Does what has become due; called after what was heard, and a few times a second while nothing is.</summary>
    /// <param name="session">The connection.</param>
    /// <param name="isRetagged">True when the tags are others than before.</param>
    /// <param name="stop">Cancels.</param>
    private protected abstract Task TendAsync(MqttSession session, bool isRetagged, CancellationToken stop);

    /// <summary>Takes leave, before the connection is closed.</summary>
    private protected virtual Task EndAsync(MqttSession session) => Task.CompletedTask;

    /// <summary>Makes samples of a message; called with the gate held.</summary>
    protected abstract void Hear(string topic, ReadOnlySpan<byte> payload, bool isRetained, List<Sample> into);

    protected override async Task ServeAsync(Action connected, CancellationToken stop)
    {
        _isRetagged = false;
        await using var session = await ConnectAsync(Receive, stop);
        _session = session;
        try
        {
            await BeginAsync(session, stop);
            connected();
            while (!session.Ended.IsCompleted)
            {
                // What comes within the next milliseconds goes to the engine with the first; where nothing comes nothing is done.
                var heard = _heard.Task;
                if (await Task.WhenAny(heard, session.Ended, Task.Delay(TendEvery, Clock, stop)) == heard)
                    await Task.Delay(FlushEvery, Clock, stop);
                stop.ThrowIfCancellationRequested();
                Flush();
                var isRetagged = _isRetagged;
                if (isRetagged)
                    _isRetagged = false;
                await TendAsync(session, isRetagged, stop);
            }
            throw new LinkException(StatusCode.BadNotConnected, await session.Ended);
        }
        finally
        {
            _session = null;
            Flush();
            if (stop.IsCancellationRequested && !session.Ended.IsCompleted)
                await EndAsync(session);
        }
    }

    /// <summary>Sends a command and waits for the value that shows it was carried out.</summary>
    /// <param name="write">What is written.</param>
    /// <param name="send">Sends it; null when it was taken, else why not.</param>
    /// <param name="silence">What to say when nothing comes back.</param>
    /// <param name="stop">Cancels.</param>
    private protected async Task<WriteResult> CommandAsync(
        TagWrite write,
        Func<MqttSession, Task<string?>> send,
        string silence,
        CancellationToken stop
    )
    {
        if (_session is not { } session)
            return WriteResult.Refused($"nothing was sent: {Status.Reason ?? "not connected"}");
        var awaited = new Awaited(write);
        _awaited[write.Tag.Id] = awaited;
        try
        {
            if (await send(session) is { } refused)
                return WriteResult.Refused(refused);
            await awaited.Seen.Task.WaitAsync(ReadBackWithin, Clock, stop);
            return WriteResult.Confirmed;
        }
        catch (TimeoutException)
        {
            return WriteResult.NotConfirmed($"{silence} within {ReadBackWithin.TotalSeconds:0} s");
        }
        catch (LinkException e)
        {
            return WriteResult.NotConfirmed(e.Message);
        }
        finally
        {
            _awaited.TryRemove(KeyValuePair.Create(write.Tag.Id, awaited));
        }
    }

    /// <summary>Posts samples that no message has brought.</summary>
    protected void Say(Action<List<Sample>> say)
    {
        lock (Gate)
        {
            say(_pending);
            _heard.TrySetResult();
        }
    }

    private void Receive(string topic, ReadOnlySequence<byte> payload, bool isRetained)
    {
        CountRequest();
        CountBytes(payload.Length + topic.Length);
        lock (Gate)
        {
            _heard.TrySetResult();
            var first = _pending.Count;
            try
            {
                Hear(topic, payload.IsSingleSegment ? payload.FirstSpan : payload.ToArray(), isRetained, _pending);
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                // A message we stumble over is ours to mend; it must be seen, and the next ones must be heard.
                Note($"{topic}: a message could not be understood ({e.GetType().Name}: {e.Message})");
            }
            if (_awaited.IsEmpty)
                return;
            for (var i = first; i < _pending.Count; i++)
                if (_awaited.TryGetValue(_pending[i].TagId, out var awaited) && awaited.IsMet(_pending[i]))
                    awaited.Seen.TrySetResult();
        }
    }

    private static TaskCompletionSource Signal() => new(TaskCreationOptions.RunContinuationsAsynchronously);

    private void Flush()
    {
        List<Sample> full;
        lock (Gate)
        {
            if (_heard.Task.IsCompleted)
                _heard = Signal();
            if (_pending.Count == 0)
                return;
            full = _pending;
            _pending = new(full.Count);
        }
        Post([.. full]);
    }

    /// <summary>A command and the value that shows that it was carried out.</summary>
    private sealed class Awaited(TagWrite write)
    {
        private const double Same = 1e-6;

        public TaskCompletionSource Seen { get; } = new(TaskCreationOptions.RunContinuationsAsynchronously);

        public bool IsMet(Sample sample) =>
            !sample.Status.IsBad
            && (write.Text is { } text ? sample.Text == text : Math.Abs(sample.Raw - write.Raw) <= Same * Math.Abs(write.Raw));
    }
}
