using System.Threading.Channels;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Plant;
using Fralto.Links;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime;

/// <summary>Keeps one running link for each controller of the model. A link is restarted only when its controller changes; other tags it
/// just follows.</summary>
/// <remarks>
/// Each link has a mailbox of its own, and the engine takes from all in turn: one that floods or fails costs the others nothing. What takes
/// time, a link that
/// ends, a password to be read, is done by a task of this class, one model after the other; whoever brings a model goes on at once.
/// </remarks>
public sealed class LinkSupervisor
{
    /// <summary>Samples taken from one link before the next has its turn.</summary>
    private const int SamplesATurn = 20_000;

    private static readonly TimeSpan RatesOver = TimeSpan.FromSeconds(2);
    private static readonly TimeSpan PauseAfterFault = TimeSpan.FromSeconds(1);

    private readonly TimeProvider _clock;
    private readonly ILogger<LinkSupervisor> _logger;
    private readonly LinkKeeping _keeping;
    private readonly ProtocolDrivers _drivers;
    private readonly Dictionary<long, Running> _links = [];
    private readonly Lock _lock = new();
    private readonly List<Task> _ending = [];
    private readonly Channel<PlantModel> _wanted = Channel.CreateBounded<PlantModel>(
        new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropOldest }
    );
    private readonly Task _following;
    private volatile Running[] _running = [];
    private long _measuredAt;

    public LinkSupervisor(ProtocolDrivers drivers, LinkKeeping keeping, TimeProvider clock, ILogger<LinkSupervisor> logger)
    {
        (_drivers, _keeping, _clock, _logger) = (drivers, keeping, clock, logger);
        _following = Task.Run(FollowAllAsync);
    }

    /// <summary>Samples of all links that were overtaken by newer ones before the engine took them.</summary>
    public long Dropped => _running.Sum(r => r.Mailbox.Dropped);

    /// <summary>How a controller's link stands; null when it has none yet.</summary>
    public LinkStatus? StatusOf(long controllerId) => Find(controllerId)?.Link.Status;

    /// <summary>What a controller's link does in a second; null when it has none yet.</summary>
    public LinkRates? RatesOf(long controllerId) => Find(controllerId)?.Rates;

    /// <summary>The words a tag's newest reading was made of; null when its link has none.</summary>
    public ushort[]? WordsOf(Tag tag) => Find(tag.ControllerId)?.Link.WordsOf(tag.Id);

    /// <summary>How much later it is here than where the times of a tag come from.</summary>
    public TimeSpan ClockOffsetOf(Tag tag) => Find(tag.ControllerId)?.Link.ClockOffsetOf(tag) ?? TimeSpan.Zero;

    /// <summary>Writes a raw value to a controller and waits until it reads back.</summary>
    public async Task<WriteResult> WriteAsync(TagWrite write, CancellationToken stop) =>
        Find(write.Tag.ControllerId) is { } running
            ? await running.Link.WriteAsync(write, stop)
            : WriteResult.Refused("nothing was sent: the link has not started yet");

    /// <summary>Publishes a message to a broker.</summary>
    /// <returns>Why it was not taken; null when it was.</returns>
    public async Task<string?> PublishAsync(long controllerId, string topic, byte[] payload, CancellationToken stop) =>
        Find(controllerId)?.Link switch
        {
            null => "nothing was sent: the link has not started yet",
            IPublisher publisher => await publisher.PublishAsync(topic, payload, stop),
            _ => "nothing can be published there; that needs a controller that speaks MQTT",
        };

    /// <summary>Lists what a controller has told of itself.</summary>
    public async Task<BrowseResult> BrowseAsync(long controllerId, BrowseRequest request, CancellationToken stop) =>
        Find(controllerId) is { } running
            ? await running.Link.BrowseAsync(request, stop)
            : new BrowseResult([], "The link has not started yet; try again.");

    /// <summary>A controller's link where it knows types of objects; null where it does not, or has none yet.</summary>
    public ITypeSource? TypesOf(long controllerId) => Find(controllerId)?.Link as ITypeSource;

    /// <summary>A controller's link where its objects form a tree; null where they do not, or it has none yet.</summary>
    public INodeTree? TreeOf(long controllerId) => Find(controllerId)?.Link as INodeTree;

    /// <summary>Makes the running links those of a model, soon; of several models that come while one is being followed only the newest
    /// is.</summary>
    public void Follow(PlantModel model) => _wanted.Writer.TryWrite(model);

    /// <summary>Takes what the links have read, some of each in turn.</summary>
    /// <returns>When the oldest of what had to be left arrived, in engine time; null when nothing was left.</returns>
    public long? Take(List<SampleBatch> into)
    {
        long? oldest = null;
        foreach (var running in _running)
            if (running.Mailbox.Take(SamplesATurn, into) is { } left && (oldest is null || left < oldest))
                oldest = left;
        return oldest;
    }

    /// <summary>Measures what the links do in a second, when it is time.</summary>
    /// <param name="changesOf">How many changes the engine has counted at the tags of a controller.</param>
    public void Measure(Func<long, long> changesOf)
    {
        var passed = _clock.GetElapsedTime(_measuredAt);
        if (_measuredAt != 0 && passed < RatesOver)
            return;
        foreach (var running in _running)
            running.Measure(changesOf(running.Controller.Id), _measuredAt == 0 ? 0 : passed.TotalSeconds);
        _measuredAt = _clock.GetTimestamp();
    }

    /// <summary>Stops every link, and waits until they have ended.</summary>
    public async Task StopAsync()
    {
        _wanted.Writer.TryComplete();
        await _following;
        Running[] all;
        lock (_lock)
        {
            all = [.. _links.Values];
            _links.Clear();
            _running = [];
        }
        foreach (var running in all)
            _ = End(running);
        await Task.WhenAll(_ending);
    }

    private async Task FollowAllAsync()
    {
        await foreach (var model in _wanted.Reader.ReadAllAsync())
        {
            try
            {
                Become(model);
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                // The links there are go on; the next model may do better.
                _logger.LogError(e, "The links could not follow the model");
            }
        }
    }

    /// <summary>Ends what has no controller any more, starts what has no link yet, and lets the others follow their tags. Nobody waits for
    /// a link that ends but the one that takes its place.</summary>
    private void Become(PlantModel model)
    {
        var passwords = model.Controllers.Values.ToDictionary(c => c.Id, c => _keeping.Password(c.Id, c.Connection));
        lock (_lock)
        {
            var ended = new Dictionary<long, Task>();
            foreach (
                var (id, running) in _links
                    .Where(l =>
                        !model.Controllers.TryGetValue(l.Key, out var now)
                        || !now.Equals(l.Value.Controller)
                        || passwords[l.Key] != l.Value.Password
                    )
                    .ToArray()
            )
            {
                ended[id] = End(running);
                _links.Remove(id);
            }
            foreach (var controller in model.Controllers.Values)
            {
                var tags = model.Index.TagsOf(controller.Id);
                if (_links.TryGetValue(controller.Id, out var running))
                    running.Follow(tags);
                else
                    _links[controller.Id] = Start(
                        controller,
                        tags,
                        passwords[controller.Id],
                        ended.GetValueOrDefault(controller.Id, Task.CompletedTask)
                    );
            }
            _running = [.. _links.Values];
        }
    }

    private Task End(Running running)
    {
        var ended = EndAsync(running);
        _ending.RemoveAll(t => t.IsCompletedSuccessfully);
        _ending.Add(ended);
        return ended;
    }

    private static async Task EndAsync(Running running)
    {
        await running.Stop.CancelAsync();
        await running.Task;
        running.Stop.Dispose();
    }

    private Running? Find(long controllerId)
    {
        lock (_lock)
            return _links.GetValueOrDefault(controllerId);
    }

    private Running Start(Controller controller, IReadOnlyCollection<Tag> tags, string? password, Task predecessor)
    {
        var list = tags.ToArray();
        var (mailbox, stop) = (new SampleMailbox(), new CancellationTokenSource());
        var link = _drivers
            .For(controller.Connection)
            .Create(
                new(controller, list, mailbox, _clock)
                {
                    Password = password,
                    Log = said => _logger.LogInformation("Beside the link to {Controller}: {Said}", controller.Name, said),
                    LoadMemory = _keeping.Load,
                    KeepMemory = _keeping.Keep,
                }
            );
        _logger.LogInformation("Link to {Controller} starts with {Tags} tags", controller.Name, list.Length);
        return new(
            controller,
            link,
            mailbox,
            stop,
            password,
            Task.Run(() => GuardAsync(link, controller.Name, predecessor, stop.Token)),
            tags,
            list
        );
    }

    /// <summary>A fault in one link must not end the others; it is logged and the link begins again.</summary>
    private async Task GuardAsync(ILink link, string name, Task predecessor, CancellationToken stop)
    {
        await predecessor.ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        while (!stop.IsCancellationRequested)
        {
            try
            {
                await link.RunAsync(stop);
            }
            catch (Exception e) when (e is not OperationCanceledException)
            {
                _logger.LogError(e, "Link to {Controller} failed and begins again", name);
                await Task.Delay(PauseAfterFault, _clock, stop).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            }
            catch (OperationCanceledException)
            {
                // Stopping is how a link ends.
            }
        }
    }

    private sealed class Running(
        Controller controller,
        ILink link,
        SampleMailbox mailbox,
        CancellationTokenSource stop,
        string? password,
        Task task,
        IReadOnlyCollection<Tag> tags,
        Tag[] list
    )
    {
        private IReadOnlyCollection<Tag> _tags = tags;
        private Tag[] _list = list;
        private (long Requests, long Bytes, long Changes) _before;

        public Controller Controller => controller;

        public ILink Link => link;

        public SampleMailbox Mailbox => mailbox;

        public CancellationTokenSource Stop => stop;

        public string? Password => password;

        public Task Task => task;

        public LinkRates? Rates { get; private set; }

        public void Follow(IReadOnlyCollection<Tag> tags)
        {
            if (ReferenceEquals(_tags, tags))
                return;
            _tags = tags;
            var list = tags.ToArray();
            if (!list.SequenceEqual(_list))
                link.Retag(_list = list);
        }

        public void Measure(long changes, double seconds)
        {
            var status = link.Status;
            if (seconds > 0)
                Rates = new(
                    (status.Requests - _before.Requests) / seconds,
                    Math.Max(0, changes - _before.Changes) / seconds,
                    (status.Bytes - _before.Bytes) / seconds
                );
            _before = (status.Requests, status.Bytes, changes);
        }
    }
}
