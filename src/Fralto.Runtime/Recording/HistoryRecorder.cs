using System.Threading.Channels;
using Fralto.Core.Engine;
using Fralto.Core.History;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Recording;
using Fralto.Core.Scaling;
using Fralto.Store;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime.Recording;

/// <summary>Records what the running plant puts out, beside the engine: packs values into chunks, makes them durable once a second,
/// rolls closed
/// chunks up, and forgets what is older than is kept.</summary>
/// <remarks>
/// A value is durable when the entry of the journal it stands in is: what came within the last second before the process is killed is
/// lost, and
/// nothing else. Closed chunks and the journal are kept in one transaction, so that nothing is there twice.
/// </remarks>
public sealed class HistoryRecorder : IRuntimeSink, IAsyncDisposable
{
    private const long MostWaiting = 4_000_000;
    private const long JournalBytes = 16 << 20;
    private const int MostLate = 256;
    private const int PastAtOnce = 500_000;

    /// <summary>The most that is said to be made of the past before all of it is kept.</summary>
    private const double NearlyMade = 0.99;
    private const string NotRunning = "not recorded: Fralto did not run";
    private const long LongestHold = 2 * TimeSpan.TicksPerSecond;
    private static readonly TimeSpan KeepEvery = TimeSpan.FromSeconds(1);
    private static readonly TimeSpan BeginAnewEvery = TimeSpan.FromMinutes(10);
    private static readonly TimeSpan ForgetEvery = TimeSpan.FromMinutes(10);

    private readonly HistoryStore _store;
    private readonly TimeProvider _clock;
    private readonly ILogger<HistoryRecorder> _logger;
    private readonly Channel<RuntimeOutput> _outputs = Channel.CreateUnbounded<RuntimeOutput>(new() { SingleReader = true });
    private readonly Lock _lock = new();
    private readonly SeriesBook _series;
    private readonly RecordedScalings _scalings;
    private readonly JournalWriter _journal = new();
    private readonly List<HistoryChunk> _closed = [];
    private readonly RollupKeeper _rollups;
    private readonly List<(int Series, long From, long To)> _rework = [];
    private readonly CancellationTokenSource _stopping = new();
    private RecordingMap _map = RecordingMap.None;
    private byte[]? _unkept;
    private long _journalId;
    private long _journalSize;
    private long _waiting;
    private long _recorded;
    private long _lost;
    private long _keptAt;
    private long _begunAnew;
    private long _forgotten;
    private long _measured;
    private long _measuredCount;
    private double _perSecond;
    private DateTimeOffset? _kept;
    private Task _work = Task.CompletedTask;
    private int _isEnded;

    public HistoryRecorder(HistoryStore store, TimeProvider clock, ILogger<HistoryRecorder> logger)
    {
        (_store, _clock, _logger) = (store, clock, logger);
        (_rollups, _scalings, _series) = (new(store), new(store, logger), new(store));
    }

    /// <summary>How recording stands.</summary>
    public RecorderState State
    {
        get
        {
            lock (_lock)
                return new(
                    _map.Series.Count(s => s?.Rule is not null),
                    _perSecond,
                    _recorded,
                    Interlocked.Read(ref _lost),
                    _journal.Count,
                    _kept
                );
        }
    }

    /// <summary>How much of the past has been recorded that is made before anything else, 0 to 1; 1 when there is none.</summary>
    public double PastMade { get; private set; } = 1;

    /// <summary>Takes up what an earlier run has left, and begins.</summary>
    /// <param name="past">Values of the past that are recorded before those of now; null for none.</param>
    public void Start(PastToMake? past = null)
    {
        Load();
        _begunAnew = _forgotten = _keptAt = _measured = _clock.GetTimestamp();
        PastMade = past is null ? 1 : 0;
        _work = Task.Run(async () =>
        {
            if (past is not null)
                Make(past);
            await WorkAsync();
        });
    }

    private void Make(PastToMake past)
    {
        try
        {
            var since = 0;
            foreach (var (batch, share) in past.Steps)
            {
                if (_stopping.IsCancellationRequested)
                    return;
                lock (_lock)
                {
                    Add(batch, EngineSnapshot.Empty);
                    if ((since += batch.Records.Count) > PastAtOnce)
                    {
                        // Chunks alone are kept: what is open is kept with the end.
                        Keep();
                        since = 0;
                    }
                }
                PastMade = Math.Min(share, NearlyMade);
            }
            bool isKept;
            lock (_lock)
            {
                isKept = BeginAnew();
                // What comes now follows on what was: the values between are not known.
                (_recorded, _measuredCount) = (0, 0);
            }
            if (isKept)
                past.Kept();
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            _logger.LogError(e, "The past could not be made; recording begins with now");
        }
        finally
        {
            PastMade = 1;
        }
    }

    public void Take(RuntimeOutput output)
    {
        if (output.Records.IsDefaultOrEmpty && output.Past.IsDefaultOrEmpty)
            return;
        var count = CountOf(output);
        if (Interlocked.Add(ref _waiting, count) > MostWaiting)
        {
            Interlocked.Add(ref _waiting, -count);
            Interlocked.Add(ref _lost, count);
            return;
        }
        _outputs.Writer.TryWrite(output);
    }

    /// <summary>What is not in a closed chunk yet, in the property's unit, in the order it came.</summary>
    /// <param name="equipmentId">The instance.</param>
    /// <param name="propertyId">The property.</param>
    /// <param name="series">Its series; 0 where nothing was ever recorded.</param>
    /// <param name="asNow">The chain numbers are to be read with; null for the one that was in force.</param>
    internal List<HistorySample> OpenOf(long equipmentId, long propertyId, out int series, Chain? asNow = null)
    {
        var samples = new List<HistorySample>();
        lock (_lock)
        {
            if (!_series.TryFind(equipmentId, propertyId, out var open))
            {
                series = 0;
                return samples;
            }
            series = open.Id;
            // A chunk that is closed and not kept yet is read from here.
            foreach (var chunk in _closed)
                if (chunk.Series == open.Id)
                    ReadScaled(chunk.Data, chunk.Scaling, samples, asNow);
            if (open.Chunk.Count > 0)
                ReadScaled(open.Chunk.ToBytes(), open.Scaling, samples, asNow);
            foreach (var late in open.Late ?? [])
                samples.Add(_scalings.Scaled(late, open.Scaling, asNow));
        }
        return samples;
    }

    /// <summary>The series of a point; 0 where nothing was ever recorded.</summary>
    public int SeriesIdOf(long equipmentId, long propertyId)
    {
        lock (_lock)
            return _series.TryFind(equipmentId, propertyId, out var open) ? open.Id : 0;
    }

    /// <summary>The time that has come late to a series and is not summed up yet, in ticks: from the first to the last value; null for
    /// none.</summary>
    internal (long From, long To)? LateOf(long equipmentId, long propertyId)
    {
        lock (_lock)
            return _series.TryFind(equipmentId, propertyId, out var open) && open.Late is { Count: > 0 } late
                ? (late.Min(s => s.Ticks), late.Max(s => s.Ticks))
                : null;
    }

    /// <summary>Reads a chunk into values of the property's unit.</summary>
    /// <returns>What is wrong with it; null when it is whole.</returns>
    internal string? ReadScaled(byte[] data, int scaling, List<HistorySample> into, Chain? asNow = null) =>
        _scalings.Read(data, scaling, into, asNow);

    /// <summary>Closes what is open and keeps everything; for the end, and for tests.</summary>
    internal void KeepAll()
    {
        lock (_lock)
            Keep();
    }

    /// <summary>Keeps values somebody hands in, in the property's unit.</summary>
    /// <param name="point">The property.</param>
    /// <param name="samples">The values, in any order.</param>
    /// <param name="who">Whoever hands them in.</param>
    /// <exception cref="StoreException">Nothing was kept.</exception>
    public void Enter(PlanPoint point, IReadOnlyList<HistorySample> samples, string who)
    {
        lock (_lock)
        {
            var open = _series.Of(point);
            if (open.Rule is null)
                (open.IsStepped, open.HasStates) = (
                    point.Recording?.IsStepped ?? point.Type != PropertyType.Number,
                    point.States is not null
                );
            Keep();
            var (chunks, writer) = (new List<HistoryChunk>(), new ChunkWriter());
            foreach (var sample in samples.OrderBy(s => s.Ticks))
                if (!writer.TryAdd(in sample))
                {
                    chunks.Add(ChunkOf(open.Id, writer, 0, isLate: true));
                    writer.Clear();
                    writer.TryAdd(in sample);
                }
            if (writer.Count > 0)
                chunks.Add(ChunkOf(open.Id, writer, 0, isLate: true));
            _store.KeepEntry(chunks, [], _clock.GetUtcNow(), who);
            Rework(open.Id, samples.Min(s => s.Ticks), samples.Max(s => s.Ticks));
        }
    }

    /// <summary>Takes out all that was recorded of a point.</summary>
    /// <exception cref="StoreException">Nothing was taken out.</exception>
    public void TakeOut(long equipmentId, long propertyId)
    {
        lock (_lock)
        {
            if (!_series.TryFind(equipmentId, propertyId, out var open))
                return;
            Keep();
            _store.TakeOut(open.Id);
            open.Chunk.Clear();
            open.Gate.Reset();
            (open.Late, open.Before, open.Part, open.ClosedTicks, open.Last) = (null, null, null, 0, default);
            // The journal still holds what has gone: it begins anew.
            BeginAnew();
        }
    }

    /// <summary>Forgets what of a point ended before a time.</summary>
    /// <exception cref="StoreException">Not all was forgotten.</exception>
    public void Clear(long equipmentId, long propertyId, DateTimeOffset before)
    {
        lock (_lock)
        {
            if (_series.TryFind(equipmentId, propertyId, out var open))
                while (_store.Forget(open.Id, before.UtcTicks, before.UtcTicks) > 0) { }
        }
    }

    /// <summary>Keeps what has come, and ends; also when it has ended before.</summary>
    public async ValueTask DisposeAsync()
    {
        if (Interlocked.Exchange(ref _isEnded, 1) != 0)
        {
            await _work;
            return;
        }
        _outputs.Writer.TryComplete();
        await _stopping.CancelAsync();
        await _work;
        _stopping.Dispose();
    }

    private async Task WorkAsync()
    {
        using var timer = new PeriodicTimer(TimeSpan.FromMilliseconds(250), _clock);
        while (true)
        {
            var isLast = _stopping.IsCancellationRequested;
            try
            {
                Work(isLast);
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                _logger.LogError(e, "Recording has met what it does not know; it goes on with the next values");
            }
            if (isLast)
                return;
            try
            {
                await timer.WaitForNextTickAsync(_stopping.Token);
            }
            catch (OperationCanceledException)
            {
                // What has come until then is kept, and that is the end.
            }
        }
    }

    private void Work(bool isLast)
    {
        var isDue = isLast || _clock.GetElapsedTime(_keptAt) >= KeepEvery;
        while (_outputs.Reader.TryRead(out var output))
        {
            var count = CountOf(output);
            try
            {
                lock (_lock)
                {
                    foreach (var batch in output.Records)
                        Add(batch, output.Snapshot);
                    foreach (var batch in output.Past)
                        AddPast(batch, output.Snapshot.Plan);
                }
            }
            catch (StoreException)
            {
                // Points that are new cannot be kept yet; the store says why, and they are tried again with the next values.
                Interlocked.Add(ref _lost, count);
            }
            finally
            {
                Interlocked.Add(ref _waiting, -count);
            }
        }
        if (!isDue)
            return;
        lock (_lock)
        {
            AddTimed();
            Keep();
            if (isLast || _journalSize > JournalBytes || _clock.GetElapsedTime(_begunAnew) > BeginAnewEvery)
                BeginAnew();
            var took = _clock.GetElapsedTime(_measured).TotalSeconds;
            if (took >= 5)
                (_perSecond, _measured, _measuredCount) = ((_recorded - _measuredCount) / took, _clock.GetTimestamp(), _recorded);
        }
        if (_clock.GetElapsedTime(_forgotten) > ForgetEvery)
            Forget();
    }

    private static int CountOf(RuntimeOutput output) => output.Records.Sum(r => r.Records.Count) + output.Past.Sum(b => b.Samples.Length);

    /// <summary>Values of the past that a source hands in later: all of them, where they belong.</summary>
    internal void AddPast(SampleBatch batch, Plan plan)
    {
        Follow(plan, _clock.GetUtcNow().UtcTicks);
        foreach (var sample in batch.Samples)
        {
            var tag = plan.TagIndexOf(sample.TagId);
            if (tag < 0 || tag + sample.Element >= plan.Tags.Length || plan.Tags[tag + sample.Element].TagId != sample.TagId)
                continue;
            foreach (var index in plan.PointsOfTag(tag + sample.Element))
            {
                if (_map.Series[index] is not { Rule: not null } open)
                    continue;
                var (point, scaling) = (plan.Points[index], _map.Scalings[index]);
                var result =
                    sample.Status.IsBad ? new ChainResult(double.NaN, sample.Status)
                    : sample.Text is { } text ? (point.Type == PropertyType.Text ? new(double.NaN, sample.Status) : point.OfText(text))
                    : point.Chain.Compute(sample.Raw);
                var status = sample.Status.IsGood && result.Status != StatusCode.Good ? result.Status : sample.Status;
                Append(
                    open,
                    new(
                        sample.TimeTicks,
                        status.IsBad ? double.NaN
                            : scaling != 0 ? sample.Raw
                            : result.Value,
                        status,
                        status.IsGood ? null : sample.Reason ?? point.Reason(sample.Raw, sample.Text, status),
                        point.Type == PropertyType.Text && !status.IsBad ? sample.Text : null
                    ),
                    scaling
                );
            }
        }
    }

    internal void Add(RecordBatch batch, EngineSnapshot snapshot)
    {
        Follow(batch.Plan, batch.At ?? _clock.GetUtcNow().UtcTicks);
        var map = _map;
        foreach (ref readonly var record in System.Runtime.InteropServices.CollectionsMarshal.AsSpan(batch.Records))
        {
            if (map.Series[record.Point] is not { Rule: { } rule } open)
                continue;
            if (map.Whiles[record.Point] is >= 0 and var condition && IsHeldBack(open, rule, condition, snapshot, record.Ticks))
                continue;
            var point = batch.Plan.Points[record.Point];
            var scaling = map.Scalings[record.Point];
            var sample = new HistorySample(
                record.Ticks,
                record.Status.IsBad || record.Text is not null ? double.NaN
                    : scaling != 0 ? record.Raw
                    : record.Value,
                record.Status,
                record.Status.IsGood ? null : record.Reason ?? point.Reason(record.Raw, record.Text, record.Status),
                record.Text
            );
            Add(open, rule, in sample, record.Value, record.HeldTicks, scaling);
        }
    }

    private void Add(OpenSeries open, RecordingRule rule, in HistorySample sample, double value, long held, int scaling)
    {
        var passed = open.Gate.PassedTicks > 0 ? open.Passed : default;
        if (!open.Gate.Takes(rule, value, sample.Status, sample.Ticks, sample.Text is not null && sample.Text != open.Last.Text))
        {
            open.Passed = sample;
            return;
        }
        // A line is drawn from value to value: where it stayed for a while, the line has to stay as well.
        if (!rule.IsStepped && open.Last.Ticks > 0 && scaling == open.Scaling)
        {
            if (passed.Ticks > open.Last.Ticks && held <= passed.Ticks && passed.Ticks < sample.Ticks)
                Append(open, in passed, scaling);
            else if (held > open.Last.Ticks && held < sample.Ticks)
                Append(open, (passed.Ticks > open.Last.Ticks ? passed : open.Last) with { Ticks = held }, scaling);
        }
        Append(open, in sample, scaling);
    }

    private void Append(OpenSeries open, in HistorySample sample, int scaling)
    {
        if (scaling != open.Scaling)
        {
            Close(open);
            CloseLate(open);
            open.Scaling = scaling;
        }
        var isLate = open.Chunk.Count > 0 ? sample.Ticks < open.Chunk.LastTicks : sample.Ticks <= open.ClosedTicks;
        if (!isLate && !open.Chunk.TryAdd(in sample))
        {
            Close(open);
            // Of two at one time the second puts right what is closed by now.
            isLate = sample.Ticks <= open.ClosedTicks;
            if (!isLate)
                open.Chunk.TryAdd(in sample);
        }
        if (isLate)
        {
            if (open.Late is { Count: >= MostLate })
                CloseLate(open);
            (open.Late ??= []).Add(sample);
            (open.LateFrom, open.LateTo) = (Math.Min(open.LateFrom, sample.Ticks), Math.Max(open.LateTo, sample.Ticks));
        }
        else
        {
            open.Last = sample;
            open.IsChanged = true;
        }
        _recorded++;
        // What is made of the past is kept in chunks, and made again when that breaks off.
        if (PastMade >= 1)
            _journal.Add(open.Id, scaling, in sample, isLate);
    }

    /// <summary>True while what a point is recorded with does not hold; the moment it ends is recorded as having no value.</summary>
    private bool IsHeldBack(OpenSeries open, RecordingRule rule, int condition, EngineSnapshot snapshot, long ticks)
    {
        if (!ReferenceEquals(snapshot.Plan, _map.Plan))
            return false;
        var value = snapshot.Points[condition];
        var holds = !value.Status.IsBad && (double.IsNaN(rule.WhileValue) ? value.Value != 0 : value.Value == rule.WhileValue);
        if (!holds && !open.IsHeldBack && open.Last.Ticks > 0 && ticks > open.Last.Ticks)
        {
            Append(open, new(ticks, double.NaN, StatusCode.BadNoData, $"not recorded: {rule.While} does not hold"), open.Scaling);
            open.Gate.Reset();
        }
        open.IsHeldBack = !holds;
        return !holds;
    }

    /// <summary>What is recorded at an interval, and has not moved.</summary>
    private void AddTimed()
    {
        var now = _clock.GetUtcNow().UtcTicks;
        now -= now % TimeSpan.TicksPerMillisecond;
        foreach (var (open, point) in _map.Timed)
        {
            var last = open.Gate.PassedTicks > 0 ? open.Passed : open.Last;
            if (
                open.Rule is { } rule
                && last.Ticks > 0
                && !last.Status.IsBad
                && !open.IsHeldBack
                && now - open.Gate.RecordedTicks >= rule.Every * TimeSpan.TicksPerSecond
            )
            {
                var value = _scalings.Scaled(last, _map.Scalings[point]).Number;
                if (open.Gate.Takes(rule, value, last.Status, now, false))
                    Append(open, last with { Ticks = now }, open.Scaling);
            }
        }
    }

    private void Close(OpenSeries open)
    {
        if (open.Chunk.Count == 0)
            return;
        var chunk = ChunkOf(open.Id, open.Chunk, open.Scaling, isLate: false);
        _closed.Add(chunk);
        var samples = new List<HistorySample>(open.Chunk.Count + 1);
        if (open.Before is { } before)
            samples.Add(before);
        else if (open.ClosedTicks > 0)
            AddBefore(open, samples);
        var from = open.Before is { } newest ? newest.Ticks : 0;
        ReadScaled(chunk.Data, chunk.Scaling, samples);
        // A source may say two values at one time: the later one counts, as it does when they are read.
        HistoryMerge.InOrder(samples);
        if (from == 0)
            from =
                samples[0].Ticks < chunk.First ? Math.Max(samples[0].Ticks, RollupStep.All[0].StartOf(open.ClosedTicks)) : samples[0].Ticks;
        open.Part = _rollups.Add(open.Id, samples, from, open.Part, open.IsStepped, open.HasStates);
        open.Before = samples[^1];
        open.ClosedTicks = chunk.Last;
        // What came late into its time is rolled up with it, once both are kept.
        CloseLate(open);
        if (open.LateTo > 0)
            _rework.Add((open.Id, open.LateFrom, open.LateTo));
        (open.LateFrom, open.LateTo) = (long.MaxValue, 0);
        open.Chunk.Clear();
        open.IsChanged = false;
    }

    /// <summary>What an earlier run had closed of the minute in which it ended, for the first chunk of this one.</summary>
    private void AddBefore(OpenSeries open, List<HistorySample> samples)
    {
        foreach (var chunk in _store.Chunks(open.Id, RollupStep.All[0].StartOf(open.ClosedTicks), open.ClosedTicks, int.MaxValue))
            ReadScaled(chunk.Data, chunk.Scaling, samples);
        HistoryMerge.InOrder(samples);
    }

    private void CloseLate(OpenSeries open)
    {
        if (open.Late is not { Count: > 0 } late)
            return;
        var writer = new ChunkWriter();
        foreach (var sample in late.OrderBy(s => s.Ticks))
            if (!writer.TryAdd(in sample))
            {
                _closed.Add(ChunkOf(open.Id, writer, open.Scaling, isLate: true));
                writer.Clear();
                writer.TryAdd(in sample);
            }
        _closed.Add(ChunkOf(open.Id, writer, open.Scaling, isLate: true));
        _rework.Add((open.Id, late.Min(s => s.Ticks), late.Max(s => s.Ticks)));
        open.Late = null;
    }

    private static HistoryChunk ChunkOf(int series, ChunkWriter chunk, int scaling, bool isLate) =>
        new(series, chunk.FirstTicks, chunk.LastTicks, chunk.Count, isLate, scaling, chunk.ToBytes());

    /// <summary>Makes durable what has come; what cannot be kept waits, up to a bound.</summary>
    private void Keep()
    {
        _keptAt = _clock.GetTimestamp();
        if (_journal.Count == 0 && _closed.Count == 0 && _unkept is null && _rework.Count == 0)
            return;
        try
        {
            if (_unkept is not null)
            {
                _journalId = _store.Keep([], [], _unkept);
                _unkept = null;
            }
            var count = _journal.Count;
            if (count > 0 || _closed.Count > 0)
            {
                var bytes = count > 0 ? _journal.Take() : null;
                _unkept = bytes;
                var id = _store.Keep(_closed, _rollups.Changed, bytes);
                _unkept = null;
                _journalSize += bytes?.Length ?? 0;
                if (id > 0)
                    _journalId = id;
                _closed.Clear();
                _rollups.Kept();
                _kept = _clock.GetUtcNow();
            }
            while (_rework.Count > 0)
            {
                var (series, from, to) = _rework[^1];
                Rework(series, from, to);
                _rework.Remove((series, from, to));
            }
        }
        catch (StoreException)
        {
            // The store says what is wrong. Chunks and the journal wait; when that takes too long, recording pauses.
            if (_journal.Count > MostWaiting / 4)
            {
                Interlocked.Add(ref _lost, _journal.Count);
                _journal.Take();
            }
        }
    }

    /// <summary>Keeps the open chunks as they are, so that the journal can begin anew; false when they could not be kept.</summary>
    private bool BeginAnew()
    {
        _begunAnew = _clock.GetTimestamp();
        foreach (var open in _series.All)
            if (open.Late is { Count: > 0 })
                CloseLate(open);
        Keep();
        if (_unkept is not null || _closed.Count > 0)
            return false;
        var changed = _series.All.Where(s => s.IsChanged && s.Chunk.Count > 0).ToArray();
        try
        {
            _store.KeepOpen([.. changed.Select(s => ChunkOf(s.Id, s.Chunk, s.Scaling, isLate: false))], _journalId);
            foreach (var open in changed)
                open.IsChanged = false;
            _journalSize = 0;
            return true;
        }
        catch (StoreException)
        {
            // The journal goes on; it begins anew the next time.
            return false;
        }
    }

    private void Rework(int series, long from, long to)
    {
        if (!_series.TryFind(series, out var open))
            return;
        var samples = new List<HistorySample>();
        var (begin, end) = (RollupStep.All[0].StartOf(from), RollupStep.All[0].StartOf(to) + RollupStep.All[0].Ticks);
        foreach (var chunk in _store.Chunks(series, begin, end, int.MaxValue))
            ReadScaled(chunk.Data, chunk.Scaling, samples);
        if (open.Chunk.Count > 0)
            ReadScaled(open.Chunk.ToBytes(), open.Scaling, samples);
        HistoryMerge.InOrder(samples);
        // What came late holds until the next value: the minute in which that lies is another, too.
        var next = samples.FindIndex(s => s.Ticks > to);
        if (next >= 0)
            end = Math.Max(end, RollupStep.All[0].StartOf(samples[next].Ticks) + RollupStep.All[0].Ticks);
        // What nobody has recorded is rolled up as far as it goes.
        var rolledTo = open.ClosedTicks > 0 || open.Chunk.Count > 0 ? open.ClosedTicks : end;
        _rollups.Anew(series, samples, begin, end, rolledTo, open.IsStepped, open.HasStates);
        _store.Keep([], _rollups.Changed, null);
        _rollups.Kept();
        // The minute that is not over is rolled up from what is kept, with what came late.
        if (to >= RollupStep.All[0].StartOf(open.ClosedTicks))
            (open.Before, open.Part) = (null, null);
    }

    private void Forget()
    {
        _forgotten = _clock.GetTimestamp();
        OpenSeries[] all;
        lock (_lock)
            all = [.. _series.All];
        var now = _clock.GetUtcNow().UtcTicks;
        foreach (var open in all)
        {
            if (open.Rule is not { } rule)
                continue;
            try
            {
                var before = now - (long)(rule.KeepDays * TimeSpan.TicksPerDay);
                if (rule.KeepCount is { } count && _store.Beyond(open.Id, count) is { } beyond)
                    before = Math.Max(before, beyond);
                // A little at a time: whoever writes meanwhile goes between.
                var summed = now - (long)(rule.KeepSummedDays * TimeSpan.TicksPerDay);
                while (
                    !_stopping.IsCancellationRequested
                    && _store.HasOlder(open.Id, before, summed)
                    && _store.Forget(open.Id, before, summed) > 0
                ) { }
            }
            catch (StoreException)
            {
                return;
            }
        }
    }

    /// <summary>Looks up how the points of a plan are recorded, where it is another than the last.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="since">Since when its limits are in force, in ticks.</param>
    private void Follow(Plan plan, long since)
    {
        if (!ReferenceEquals(plan, _map.Plan))
            _map = _map.Next(plan, since, _series, _scalings, _store);
    }

    /// <summary>Takes up open chunks and the journal of an earlier run.</summary>
    internal void Load()
    {
        lock (_lock)
        {
            _scalings.Load();
            _series.Load();
            foreach (var (id, scaling, data) in _store.OpenChunks())
            {
                var samples = new List<HistorySample>();
                if (!_series.TryFind(id, out var open))
                    continue;
                if (ChunkReader.Read(data, samples) is { } problem)
                    _logger.LogError("A chunk that was open is lost, since {Problem}", problem);
                foreach (var sample in samples.Where(s => s.Ticks > open.ClosedTicks))
                    AppendAgain(open, in sample, scaling);
            }
            foreach (var (id, data) in _store.Journal())
            {
                _journalId = id;
                _journalSize += data.Length;
                if (!JournalWriter.Read(data, (series, scaling, sample, isLate) =>
                    {
                        // What came in its order and lies before what is closed is in a chunk that was closed.
                        if (_series.TryFind(series, out var open) && (isLate || sample.Ticks > open.ClosedTicks))
                            AppendAgain(open, in sample, scaling);
                    }))
                    _logger.LogError("An entry of the journal of history is damaged; a second of values is lost");
            }
            EndWhatWas();
            _recorded = 0;
        }
    }

    /// <summary>Nobody recorded while Fralto did not run: what held when it stopped is not known to have held on.</summary>
    private void EndWhatWas()
    {
        var newest = _series.All.Select(s => Math.Max(s.Last.Ticks, s.ClosedTicks)).DefaultIfEmpty(0).Max();
        if (newest == 0 || _clock.GetUtcNow().UtcTicks - newest < LongestHold)
            return;
        var at = newest - newest % TimeSpan.TicksPerMillisecond + TimeSpan.TicksPerMillisecond;
        foreach (var open in _series.All)
            if (open.Last.Ticks > 0 && !open.Last.Status.IsBad)
                Append(open, new(at, double.NaN, StatusCode.BadNoData, NotRunning), open.Scaling);
    }

    /// <summary>Adds a value of an earlier run, which stands in the journal already.</summary>
    private void AppendAgain(OpenSeries open, in HistorySample sample, int scaling)
    {
        Append(open, in sample, scaling);
        _journal.Take();
    }
}
