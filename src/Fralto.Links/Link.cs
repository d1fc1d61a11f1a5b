using Fralto.Core.Controllers;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Links;

/// <summary>What the links of all protocols share: state, counters, and the way to the engine.</summary>
public abstract class Link(Controller controller, IReadOnlyList<Tag> tags, SampleMailbox mailbox, TimeProvider clock) : ILink
{
    /// <summary>How long a written value may take to read back.</summary>
    protected static readonly TimeSpan ReadBackWithin = TimeSpan.FromSeconds(3);

    private static readonly TimeSpan LongestBackOff = TimeSpan.FromSeconds(5);
    private static readonly TimeSpan HasHeld = TimeSpan.FromSeconds(10);
    private static readonly TimeSpan FirstBackOff = TimeSpan.FromMilliseconds(200);

    private LinkStatus _status = new(LinkState.Connecting, clock.GetUtcNow());
    private IReadOnlyList<Tag> _tags = tags;
    private long _requests;
    private long _errors;
    private long _bytes;

    public LinkStatus Status =>
        Volatile.Read(ref _status) with
        {
            Requests = Interlocked.Read(ref _requests),
            Errors = Interlocked.Read(ref _errors),
            Bytes = Interlocked.Read(ref _bytes),
            Dropped = mailbox.Dropped,
        };

    /// <summary>The controller it is of.</summary>
    protected Controller Controller => controller;

    /// <summary>The tags it follows.</summary>
    protected IReadOnlyList<Tag> Tags => Volatile.Read(ref _tags);

    protected TimeProvider Clock => clock;

    /// <summary>The time by our own clock, in UTC ticks: that of samples whose source gives none.</summary>
    protected long Now => clock.GetUtcNow().UtcTicks;

    public virtual ushort[]? WordsOf(long tagId) => null;

    public virtual TimeSpan ClockOffsetOf(Tag tag) => TimeSpan.Zero;

    public virtual void Retag(IReadOnlyList<Tag> tags) => Volatile.Write(ref _tags, tags);

    public async Task RunAsync(CancellationToken stop)
    {
        var backOff = FirstBackOff;
        // What answers and then breaks off again and again is asked ever more seldom, as one that does not answer at all; only a
        // connection that has held for a while counts as one that is well.
        long? begun = null;
        while (!stop.IsCancellationRequested)
        {
            try
            {
                begun = null;
                await ServeAsync(() => begun ??= clock.GetTimestamp(), stop);
            }
            catch (LinkException e)
            {
                Fail(e);
                if (begun is { } since && clock.GetElapsedTime(since) >= HasHeld)
                    backOff = FirstBackOff;
                await Task.Delay(backOff, clock, stop).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
                backOff = backOff * 2 < LongestBackOff ? backOff * 2 : LongestBackOff;
            }
            catch (OperationCanceledException) when (stop.IsCancellationRequested)
            {
                // Stopping is how a link ends.
            }
        }
    }

    public abstract Task<WriteResult> WriteAsync(TagWrite write, CancellationToken stop);

    public virtual Task<BrowseResult> BrowseAsync(BrowseRequest request, CancellationToken stop) =>
        Task.FromResult(
            new BrowseResult(
                [],
                $"{controller.Protocol.Words()} has no way to list what a device holds. Import a tag list, or generate tags from a layout."
            )
        );

    /// <summary>Connects and serves the tags until the connection breaks or it is cancelled.</summary>
    /// <param name="connected">Called once the device has answered.</param>
    /// <param name="stop">Cancels.</param>
    /// <exception cref="LinkException">The connection is of no more use; it is made anew after a while.</exception>
    protected abstract Task ServeAsync(Action connected, CancellationToken stop);

    /// <summary>Called when the connection is lost, before it is made anew.</summary>
    protected virtual void Lost() { }

    /// <summary>Sends samples to the engine; they arrive now.</summary>
    protected void Post(Sample[] samples, bool isHistorical = false) => mailbox.Post(new(samples, clock.Moment(), isHistorical));

    protected void CountRequest(int requests = 1) => Interlocked.Add(ref _requests, requests);

    protected void CountError() => Interlocked.Increment(ref _errors);

    protected void CountBytes(long bytes) => Interlocked.Add(ref _bytes, bytes);

    /// <summary>Samples that make every element of some tags Bad.</summary>
    protected static void AddBad(List<Sample> into, IEnumerable<Tag> tags, StatusCode status, long at, string reason)
    {
        foreach (var tag in tags)
            for (var i = 0; i < tag.Elements; i++)
                into.Add(new(tag.Id, double.NaN, status, at, reason, i));
    }

    /// <summary>Makes all tags Bad.</summary>
    protected void AllBad(StatusCode status, string reason)
    {
        var bad = new List<Sample>(Tags.Count);
        AddBad(bad, Tags, status, Now, reason);
        Post([.. bad]);
    }

    protected void Enter(LinkState state, string? reason)
    {
        var now = clock.GetUtcNow();
        Set(s =>
            s with
            {
                State = state,
                Since = s.State == state ? s.Since : now,
                Reason = reason,
                LastError = reason ?? s.LastError,
                LastErrorAt = reason is null ? s.LastErrorAt : now,
            }
        );
    }

    /// <summary>What is told of the clocks of sources, the one that is furthest off in front; null where none is off.</summary>
    protected static string? WordsOfClocks(IEnumerable<(string Source, SourceClock Clock)> clocks)
    {
        var off = clocks
            .Select(c => (c.Source, c.Clock.Offset))
            .Where(c => c.Offset != TimeSpan.Zero)
            .OrderByDescending(c => c.Offset.Duration())
            .ToArray();
        if (off.Length == 0)
            return null;
        var (source, offset) = off[0];
        return $"the clock of {source} is {Words(offset.Duration())} "
            + $"{(offset > TimeSpan.Zero ? "behind" : "ahead")}{(off.Length == 1 ? "" : $", those of {off.Length - 1} more are off too")}";
    }

    private static string Words(TimeSpan span) =>
        span.TotalSeconds < 120 ? $"{span.TotalSeconds:0} s"
        : span.TotalMinutes < 120 ? $"{span.TotalMinutes:0} min"
        : span.TotalHours < 48 ? $"{span.TotalHours:0} h"
        : $"{span.TotalDays:0} d";

    /// <summary>Notes an error that leaves the state as it is.</summary>
    protected void Note(string error)
    {
        CountError();
        Set(s => s with { LastError = error, LastErrorAt = clock.GetUtcNow() });
    }

    protected void Set(Func<LinkStatus, LinkStatus> change)
    {
        LinkStatus before;
        do before = Volatile.Read(ref _status);
        while (Interlocked.CompareExchange(ref _status, change(before), before) != before);
    }

    private void Fail(LinkException e)
    {
        Lost();
        AllBad(e.Status, e.Message);
        CountError();
        Enter(LinkState.Down, e.Message);
    }
}
