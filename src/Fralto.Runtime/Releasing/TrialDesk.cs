using System.Threading.Channels;
using Fralto.Core.Planning;
using Fralto.Core.Review;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime.Releasing;

/// <summary>Tries the working model beside the running one for a chosen time, on the same samples: nothing is written, sent or raised for
/// it. Each edit lets it begin anew.</summary>
public sealed class TrialDesk : IRuntimeSink, IAsyncDisposable
{
    /// <summary>The shortest trial.</summary>
    public static readonly TimeSpan Shortest = TimeSpan.FromSeconds(5);

    /// <summary>The longest trial.</summary>
    public static readonly TimeSpan Longest = TimeSpan.FromDays(7);

    private readonly Channel<RuntimeOutput> _waiting = Channel.CreateBounded<RuntimeOutput>(
        new BoundedChannelOptions(64) { FullMode = BoundedChannelFullMode.DropOldest, SingleReader = true }
    );
    private readonly ILogger<TrialDesk> _logger;
    private readonly Lock _lock = new();
    private readonly Task _work;
    private TimeSpan _for;
    private DateTimeOffset _until;
    private bool _isOn;
    private TrialBook? _book;
    private Plan? _reported;
    private TrialReport? _report;
    private EngineSnapshot? _released;
    private EngineSnapshot? _working;

    public TrialDesk(PlantRuntime runtime, ILogger<TrialDesk> logger)
    {
        _logger = logger;
        _work = Task.Run(WorkAsync);
        runtime.Attach(this);
    }

    /// <summary>How it stands.</summary>
    public TrialState State
    {
        get
        {
            lock (_lock)
                return new(_isOn, _for, _until, _book?.Report() ?? _report);
        }
    }

    /// <summary>Begins to try, anew when it is being tried.</summary>
    /// <param name="duration">For how long.</param>
    /// <returns>Why it cannot; null when it can.</returns>
    public string? Start(TimeSpan duration)
    {
        if (duration < Shortest || duration > Longest)
            return $"A trial lasts {Shortest.TotalSeconds} s to {Longest.TotalDays} d.";
        lock (_lock)
            (_isOn, _for, _until, _book, _report, _reported) = (true, duration, default, null, null, null);
        return null;
    }

    /// <summary>Ends the trial; what it has shown until now stays.</summary>
    public void Stop()
    {
        lock (_lock)
            End();
    }

    /// <summary>What a trial has shown of a model that is about to be released, when it was of that model.</summary>
    /// <param name="working">The plan of the model.</param>
    public TrialReport? ReportOf(Plan working)
    {
        lock (_lock)
            return _book is { } book && ReferenceEquals(book.Working, working) ? book.Report()
                : ReferenceEquals(_reported, working) ? _report
                : null;
    }

    public void Take(RuntimeOutput output) => _waiting.Writer.TryWrite(output);

    public async ValueTask DisposeAsync()
    {
        _waiting.Writer.TryComplete();
        await _work;
    }

    private async Task WorkAsync()
    {
        await foreach (var output in _waiting.Reader.ReadAllAsync())
        {
            try
            {
                lock (_lock)
                    Look(output);
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                _logger.LogError(e, "The trial could not look at what was put out");
            }
        }
    }

    private void Look(RuntimeOutput output)
    {
        if (output.Working is not { } working)
        {
            // Released, taken back or discarded: there is nothing to be tried any more.
            (_isOn, _book) = (false, null);
            if (_reported is not null && !ReferenceEquals(_reported, output.Snapshot.Plan))
                (_report, _reported) = (null, null);
            return;
        }
        if (_reported is not null && !ReferenceEquals(_reported, working.Plan))
            (_report, _reported) = (null, null);
        if (!_isOn)
            return;
        var now = output.At;
        if (_book is null || !ReferenceEquals(_book.Working, working.Plan) || !ReferenceEquals(_book.Released, output.Snapshot.Plan))
        {
            _book = new(output.Snapshot.Plan, working.Plan, now);
            _until = now + _for;
            (_released, _working) = (null, null);
            _book.Stand(output.Snapshot.Standing, working.Standing);
        }
        else
        {
            _book.Take(output.Events, isWorking: false);
            _book.Take(output.WouldHappen, isWorking: true);
        }
        _book.Look(
            output.Snapshot.ValueOf,
            working.ValueOf,
            Changed(output.Snapshot, _released, output.Snapshot.ChangedPoints),
            Changed(working, _working, working.ChangedPoints),
            now
        );
        (_released, _working) = (output.Snapshot, working);
        if (now >= _until)
            End();
    }

    /// <summary>What has changed since the snapshot that was looked at last; null when that is not known.</summary>
    private static int[]? Changed(EngineSnapshot now, EngineSnapshot? last, int[]? changed) =>
        last is null ? null
        : ReferenceEquals(last, now) ? []
        : now.IsRightAfter(last) ? changed
        : null;

    private void End()
    {
        if (_book is { } book)
            (_report, _reported) = (book.Report(), book.Working);
        (_isOn, _book) = (false, null);
    }
}
