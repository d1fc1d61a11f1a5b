using Fralto.Core.Alarms;
using Fralto.Core.Notices;
using Fralto.Core.Plant;
using Fralto.Core.Rules;
using Fralto.Runtime.Views;
using Fralto.Store;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime.Notices;

/// <summary>Tells people of alarms by mail, as the lists of the model say. On a task of its own: a mail server may be slow or gone, the
/// plant runs on. What comes together goes in one mail; what came of it stands in the alarm log.</summary>
/// <remarks>Whom an alarm is to be told is kept before a mail is sent, that he was told after it: after a kill somebody may be told
/// twice, and nobody is forgotten.</remarks>
public sealed class AlarmNotifier : IRuntimeSink, IAsyncDisposable
{
    private const int MostWaiting = 50_000;
    private const int Tries = 4;
    private const int LongestReason = 200;
    private static readonly TimeSpan LookEvery = TimeSpan.FromSeconds(1),
        Between = TimeSpan.FromSeconds(10),
        FirstBackOff = TimeSpan.FromSeconds(2);

    private readonly Lock _lock = new();
    private readonly ModelWorkspace _workspace;
    private readonly LinkKeeping _keeping;
    private readonly RunStore _store;
    private readonly AlarmLog _log;
    private readonly IMailSender _sender;
    private readonly TimeProvider _clock;
    private readonly ILogger<AlarmNotifier> _logger;
    private readonly NoticeBook _book;
    private readonly Dictionary<string, Outbox> _outboxes = [];
    private readonly Dictionary<(AlarmKey Key, string List), NoticeState?> _unkept = [];
    private readonly CancellationTokenSource _stopping = new();
    private readonly Task _work;
    private List<AlarmEvent> _steps = [];
    private EngineSnapshot _snapshot = EngineSnapshot.Empty;

    public AlarmNotifier(
        PlantRuntime runtime,
        ModelWorkspace workspace,
        LinkKeeping keeping,
        RunStore store,
        AlarmLog log,
        IMailSender sender,
        TimeProvider clock,
        ILogger<AlarmNotifier> logger
    )
    {
        (_workspace, _keeping, _store, _log, _sender, _clock, _logger) = (workspace, keeping, store, log, sender, clock, logger);
        _book = new(store.Notices());
        _work = Task.Run(WorkAsync);
        runtime.Attach(this);
    }

    /// <summary>What one list has still to be told.</summary>
    private sealed class Outbox
    {
        public List<Notice> Notices { get; } = [];
        public int Tried { get; set; }
        public DateTimeOffset NotBefore { get; set; }
    }

    /// <inheritdoc/>
    public void Take(RuntimeOutput output)
    {
        lock (_lock)
        {
            _snapshot = output.Snapshot;
            if (output.Events.IsEmpty)
                return;
            var room = MostWaiting - _steps.Count;
            if (room < output.Events.Length)
                _logger.LogError("{Count} steps of alarms come faster than lists can be told of them", output.Events.Length - room);
            _steps.AddRange(output.Events.Take(room));
        }
    }

    /// <summary>Sends a mail that says nothing but that it can be sent.</summary>
    /// <param name="list">Who gets it.</param>
    /// <returns>Why it could not; null when the server took it.</returns>
    public Task<string?> TryAsync(NoticeList list) =>
        SendAsync(
            list,
            new("A trial from Fralto", $"Whoever reads this is told of alarms by the list {list.Name}. There is nothing to do.\n"),
            _stopping.Token
        );

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        await _stopping.CancelAsync();
        await _work.ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        _stopping.Dispose();
    }

    private async Task WorkAsync()
    {
        using var timer = new PeriodicTimer(LookEvery, _clock);
        while (await timer.WaitForNextTickAsync(_stopping.Token))
            try
            {
                await LookAsync();
            }
            catch (Exception e) when (e is not OutOfMemoryException && !_stopping.IsCancellationRequested)
            {
                _logger.LogError(e, "Nobody could be told of alarms this time");
            }
    }

    private async Task LookAsync()
    {
        List<AlarmEvent> steps;
        EngineSnapshot snapshot;
        lock (_lock)
            (steps, _steps, snapshot) = (_steps, [], _snapshot);
        var (model, now) = (_workspace.Released, _clock.GetUtcNow());
        var setup = model.AlarmSetup;
        if (setup.Lists.IsEmpty && _book.Count == 0)
            return;
        // What is the same for all alarms is worked out once.
        var (byName, local) = (setup.Lists.ToDictionary(l => l.Name), Local(model, now));
        var onDuty = setup.Lists.Where(l => l.IsOnDuty(local)).ToHashSet(ReferenceEqualityComparer.Instance);
        var asked = setup.Lists.Where(onDuty.Contains).Select(l => (List: l, Filter: FilterOf(l))).ToArray();
        foreach (var step in steps)
            _book.Take(step, asked.Where(a => a.Filter.Takes(model, step.Key.EquipmentId, step.Priority)).Select(a => a.List));
        if (steps.Count > 0)
            Keep();
        foreach (var notice in _book.Due(now, byName.GetValueOrDefault, onDuty.Contains))
        {
            if (!_outboxes.TryGetValue(notice.List, out var outbox))
                _outboxes[notice.List] = outbox = new();
            outbox.Notices.Add(notice);
        }
        foreach (var (name, outbox) in _outboxes)
            if (outbox.Notices.Count > 0 && now >= outbox.NotBefore)
                await EmptyAsync(model, snapshot, byName.GetValueOrDefault(name), outbox, now);
        if (_outboxes.Values.All(o => o.Notices.Count == 0))
            Keep();
    }

    private async Task EmptyAsync(PlantModel model, EngineSnapshot snapshot, NoticeList? list, Outbox outbox, DateTimeOffset now)
    {
        if (list is null)
        {
            outbox.Notices.Clear();
            return;
        }
        var mail = NoticeMail.Of(
            list,
            outbox.Notices,
            step => double.IsFinite(step.Value) && PointOf(snapshot, step.Key) is { } point ? point.WithUnit(step.Value, null) : "",
            key => snapshot.Find(key.EquipmentId, key.PropertyId)?.Point.LimitOf(key.Condition)?.Says,
            at => Local(model, at)
        );
        var problem = await SendAsync(list, mail, _stopping.Token);
        outbox.Tried++;
        if (problem is not null && outbox.Tried < Tries)
        {
            outbox.NotBefore = now + FirstBackOff * Math.Pow(2, outbox.Tried - 1);
            return;
        }
        foreach (var notice in outbox.Notices)
            Note(notice, problem ?? $"told by mail: {string.Join(", ", list.Addresses)}", problem is null);
        if (problem is not null)
            _logger.LogWarning("{List} could not be told of {Count} alarms: {Reason}", list.Name, outbox.Notices.Count, problem);
        outbox.Notices.Clear();
        outbox.Tried = 0;
        // A flood is not a flood of mails.
        outbox.NotBefore = now + Between;
    }

    private async Task<string?> SendAsync(NoticeList list, NoticeMail mail, CancellationToken stop)
    {
        var setup = _workspace.Released.AlarmSetup;
        return setup.Mail is { } server
            ? await _sender.SendAsync(server, _keeping.MailPassword(setup.Id, server), list.Addresses, mail, stop)
            : "there is no mail server; say one under Alarms, Who is told";
    }

    private static Core.Planning.PlanPoint? PointOf(EngineSnapshot snapshot, AlarmKey key) =>
        snapshot.Find(key.EquipmentId, key.PropertyId)?.Point switch
        {
            { Watch.Subject: >= 0 and var subject } => snapshot.Plan.Points[subject],
            var point => point,
        };

    private static AlarmFilter FilterOf(NoticeList list) =>
        new()
        {
            Places = list.PlaceId is { } place ? [place] : [],
            Labels = list.Label is { } label ? [label] : [],
            Priorities = list.Priorities,
        };

    private static DateTime Local(PlantModel model, DateTimeOffset at) => model.Calendar.Local(at.UtcTicks);

    private void Note(Notice notice, string result, bool isDone) =>
        _log.Note(
            notice.Step with
            {
                Time = _clock.GetUtcNow(),
                Cause = isDone ? AlarmCause.ResponseDone : AlarmCause.ResponseFailed,
                Value = double.NaN,
                Who = notice.List,
                Comment = result.Length > LongestReason ? result[..LongestReason] : result,
                SourceTime = null,
            }
        );

    /// <summary>Keeps what has changed; what cannot be kept now is kept the next time.</summary>
    private void Keep()
    {
        foreach (var (key, state) in _book.TakeChanges())
            _unkept[key] = state;
        if (_unkept.Count == 0)
            return;
        try
        {
            _store.KeepNotices(_unkept);
            _unkept.Clear();
        }
        catch (StoreException)
        {
            // The store says what is wrong, once.
        }
    }
}
