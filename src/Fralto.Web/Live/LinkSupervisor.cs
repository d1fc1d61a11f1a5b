using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Plant;
using Fralto.Links;
using Fralto.Links.Memory;
using Fralto.Links.Modbus;
using Fralto.Links.Mqtt;
using Fralto.Links.Sparkplug;

namespace Fralto.Web.Live;

/// <summary>Keeps one running link for each controller of the model. A link is restarted only when its controller changes; other tags it just follows.</summary>
/// <remarks>Each link has a mailbox of its own, and the engine takes from all in turn: one that floods or fails costs the others nothing.</remarks>
public sealed class LinkSupervisor(TimeProvider clock, ILogger logger, LinkKeeping keeping)
{
    /// <summary>Samples taken from one link before the next has its turn.</summary>
    private const int SamplesATurn = 20_000;

    private static readonly TimeSpan RatesOver = TimeSpan.FromSeconds(2);

    private readonly Dictionary<long, Running> _links = [];
    private readonly Lock _lock = new();
    private readonly List<Sample[]> _taken = [];
    private volatile Running[] _running = [];
    private long _measuredAt;

    /// <summary>Samples of all links that were overtaken by newer ones before the engine took them.</summary>
    public long Dropped => _running.Sum(r => r.Mailbox.Dropped);

    /// <summary>How a controller's link stands; null when it has none yet.</summary>
    public LinkStatus? StatusOf(long controllerId) => Find(controllerId)?.Link.Status;

    /// <summary>What a controller's link does in a second; null when it has none yet.</summary>
    public LinkRates? RatesOf(long controllerId) => Find(controllerId)?.Rates;

    /// <summary>The words a tag's newest reading was made of; null when its link has none.</summary>
    public ushort[]? WordsOf(Tag tag) => Find(tag.ControllerId)?.Link.WordsOf(tag.Id);

    /// <summary>Writes a raw value to a controller and waits until it reads back.</summary>
    public async Task<WriteResult> WriteAsync(TagWrite write, CancellationToken stop) =>
        Find(write.Tag.ControllerId) is { } running ? await running.Link.WriteAsync(write, stop) : WriteResult.Refused("nothing was sent: the link has not started yet");

    /// <summary>Lists what a controller has told of itself.</summary>
    public async Task<BrowseResult> BrowseAsync(long controllerId, string filter, CancellationToken stop) =>
        Find(controllerId) is { } running ? await running.Link.BrowseAsync(filter, stop) : new BrowseResult([], "The link has not started yet; try again.");

    /// <summary>Makes the running links those of a model.</summary>
    public async Task FollowAsync(PlantModel model)
    {
        var stopping = new List<Running>();
        lock (_lock)
        {
            foreach (var (id, running) in _links.Where(l => !model.Controllers.TryGetValue(l.Key, out var now) || !now.Equals(l.Value.Controller) || keeping.Password(l.Key, now.Connection) != l.Value.Password).ToArray())
            {
                stopping.Add(running);
                _links.Remove(id);
            }
            _running = [.. _links.Values];
        }
        await StopAsync(stopping);
        lock (_lock)
        {
            foreach (var controller in model.Controllers.Values)
            {
                var tags = model.Index.TagsOf(controller.Id);
                if (_links.TryGetValue(controller.Id, out var running))
                {
                    if (ReferenceEquals(running.Tags, tags)) continue;
                    var list = tags.ToArray();
                    running.Tags = tags;
                    if (!list.SequenceEqual(running.List)) running.Link.Retag(running.List = list);
                    continue;
                }
                _links[controller.Id] = Start(controller, tags);
            }
            _running = [.. _links.Values];
        }
    }

    /// <summary>Gives the engine what the links have read, some of each in turn until all is taken.</summary>
    public void Take(Action<Sample[]> step)
    {
        foreach (var running in _running)
        {
            _taken.Clear();
            running.Mailbox.Take(SamplesATurn, _taken);
            foreach (var batch in _taken) step(batch);
        }
    }

    /// <summary>Measures what the links do in a second, when it is time.</summary>
    /// <param name="changesOf">How many changes the engine has counted at the tags of a controller.</param>
    public void Measure(Func<long, long> changesOf)
    {
        var passed = clock.GetElapsedTime(_measuredAt);
        if (_measuredAt != 0 && passed < RatesOver) return;
        foreach (var running in _running) running.Measure(changesOf(running.Controller.Id), _measuredAt == 0 ? 0 : passed.TotalSeconds);
        _measuredAt = clock.GetTimestamp();
    }

    /// <summary>Stops every link.</summary>
    public async Task StopAsync()
    {
        Running[] all;
        lock (_lock)
        {
            all = [.. _links.Values];
            _links.Clear();
            _running = [];
        }
        await StopAsync(all);
    }

    private static async Task StopAsync(IReadOnlyCollection<Running> links)
    {
        foreach (var running in links) await running.Stop.CancelAsync();
        foreach (var running in links)
        {
            await running.Task;
            running.Stop.Dispose();
        }
    }

    private Running? Find(long controllerId)
    {
        lock (_lock) return _links.GetValueOrDefault(controllerId);
    }

    private Running Start(Controller controller, IReadOnlyCollection<Tag> tags)
    {
        var list = tags.ToArray();
        var (mailbox, stop, password) = (new SampleMailbox(), new CancellationTokenSource(), keeping.Password(controller.Id, controller.Connection));
        ILink link = controller.Connection switch
        {
            SparkplugConnection => new SparkplugLink(controller, list, mailbox, clock, password),
            MqttConnection => new MqttLink(controller, list, mailbox, clock, password),
            MemoryConnection => new MemoryLink(controller, list, mailbox, clock, keeping.Load, keeping.Keep),
            _ => new ModbusTcpLink(controller, list, mailbox, clock),
        };
        logger.LogInformation("Link to {Controller} starts with {Tags} tags", controller.Name, list.Length);
        return new(controller, link, mailbox, stop, password, Task.Run(() => GuardAsync(link, controller.Name, stop.Token))) { Tags = tags, List = list };
    }

    /// <summary>A fault in one link must not end the others; it is logged and the link begins again.</summary>
    private async Task GuardAsync(ILink link, string name, CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
        {
            try
            {
                await link.RunAsync(stop);
            }
            catch (Exception e) when (e is not OperationCanceledException)
            {
                logger.LogError(e, "Link to {Controller} failed and begins again", name);
                await Task.Delay(TimeSpan.FromSeconds(1), clock, CancellationToken.None);
            }
        }
    }

    private sealed class Running(Controller controller, ILink link, SampleMailbox mailbox, CancellationTokenSource stop, string? password, Task task)
    {
        private (long Requests, long Bytes, long Changes) _before;

        public Controller Controller => controller;

        public ILink Link => link;

        public SampleMailbox Mailbox => mailbox;

        public CancellationTokenSource Stop => stop;

        public string? Password => password;

        public Task Task => task;

        public required IReadOnlyCollection<Tag> Tags { get; set; }

        public required Tag[] List { get; set; }

        public LinkRates? Rates { get; private set; }

        public void Measure(long changes, double seconds)
        {
            var status = link.Status;
            if (seconds > 0) Rates = new((status.Requests - _before.Requests) / seconds, Math.Max(0, changes - _before.Changes) / seconds, (status.Bytes - _before.Bytes) / seconds);
            _before = (status.Requests, status.Bytes, changes);
        }
    }
}
