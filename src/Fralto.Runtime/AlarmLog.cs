using System.Threading.Channels;
using Fralto.Core.Alarms;
using Fralto.Store;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime;

/// <summary>Keeps every step of every alarm, beside the engine and not on its loop: the engine says what happened, this writes it in the
/// order it came.</summary>
/// <remarks>While nothing can be written it tries again with back-off; what happens meanwhile is remembered, up to a bound, and where
/// alarms stand always is.</remarks>
public sealed class AlarmLog(RunStore store, ModelWorkspace workspace, TimeProvider clock, ILogger<AlarmLog> logger)
{
    private const int MostWaiting = 20_000;
    private const int MostForgotten = 5_000;
    private static readonly TimeSpan ForgetEvery = TimeSpan.FromHours(1);
    private static readonly TimeSpan FirstBackOff = TimeSpan.FromMilliseconds(500);
    private static readonly TimeSpan LongestBackOff = TimeSpan.FromSeconds(30);

    private readonly Lock _lock = new();
    private readonly Channel<bool> _news = Channel.CreateBounded<bool>(
        new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite }
    );
    private List<AlarmEvent> _events = [];
    private Dictionary<AlarmKey, Alarm?> _now = [];
    private List<TaskCompletionSource> _told = [];
    private long _dropped;
    private DateTimeOffset _forgotten;

    /// <summary>Steps that were not kept, since nothing could be written for too long.</summary>
    public long Dropped => Interlocked.Read(ref _dropped);

    /// <summary>Takes what happened; returns at once.</summary>
    /// <param name="events">The steps.</param>
    /// <param name="stands">Where the alarm of a key stands now; null when it is normal.</param>
    /// <returns>Ends when it is kept.</returns>
    public Task Take(IReadOnlyCollection<AlarmEvent> events, Func<AlarmKey, Alarm?> stands)
    {
        Task kept;
        lock (_lock)
        {
            _events.AddRange(events);
            if (_events.Count > MostWaiting)
            {
                Interlocked.Add(ref _dropped, _events.Count - MostWaiting);
                _events.RemoveRange(0, _events.Count - MostWaiting);
            }
            foreach (var e in events)
                _now[e.Key] = stands(e.Key);
            // What waits together is kept together.
            if (_told.Count == 0)
                _told.Add(new(TaskCreationOptions.RunContinuationsAsynchronously));
            kept = _told[^1].Task;
        }
        _news.Writer.TryWrite(true);
        return kept;
    }

    /// <summary>Takes note of what an alarm has set off; returns at once. It moves no alarm.</summary>
    public void Note(AlarmEvent note)
    {
        lock (_lock)
        {
            if (_events.Count >= MostWaiting)
                Interlocked.Increment(ref _dropped);
            else
                _events.Add(note);
        }
        _news.Writer.TryWrite(true);
    }

    /// <summary>Writes until it is cancelled, and then what is left, once.</summary>
    public async Task RunAsync(CancellationToken stop)
    {
        var backOff = FirstBackOff;
        while (!stop.IsCancellationRequested)
        {
            try
            {
                await _news.Reader.ReadAsync(stop);
                while (!Write())
                {
                    await Task.Delay(backOff, clock, stop);
                    backOff = backOff * 2 < LongestBackOff ? backOff * 2 : LongestBackOff;
                }
                backOff = FirstBackOff;
                Forget();
            }
            catch (OperationCanceledException)
            {
                // Stopping is how it ends.
            }
        }
        if (!Write())
            logger.LogError("Alarms could not be kept when Fralto stopped: {Trouble}", store.Trouble?.Words);
    }

    /// <summary>Forgets what is older than is kept, a little at a time.</summary>
    private void Forget()
    {
        if (clock.GetUtcNow() - _forgotten < ForgetEvery)
            return;
        try
        {
            var kept = TimeSpan.FromDays(workspace.Released.AlarmSetup.LogDays);
            if (store.ForgetAlarmEvents(clock.GetUtcNow() - kept, MostForgotten) < MostForgotten)
                _forgotten = clock.GetUtcNow();
        }
        catch (StoreException)
        {
            // The store says what is wrong; what is too old goes the next time.
        }
    }

    private bool Write()
    {
        List<AlarmEvent> events;
        Dictionary<AlarmKey, Alarm?> now;
        List<TaskCompletionSource> told;
        lock (_lock)
        {
            (events, now, told) = (_events, _now, _told);
            (_events, _now, _told) = ([], [], []);
        }
        if (events.Count == 0 && now.Count == 0)
            return true;
        try
        {
            store.KeepAlarms(events, now);
            foreach (var one in told)
                one.TrySetResult();
            return true;
        }
        catch (StoreException)
        {
            // The store says what is wrong, once; what was to be written goes back in front of what has come since.
            lock (_lock)
            {
                events.AddRange(_events);
                foreach (var (key, alarm) in _now)
                    now[key] = alarm;
                told.AddRange(_told);
                (_events, _now, _told) = (events, now, told);
            }
            return false;
        }
    }
}
