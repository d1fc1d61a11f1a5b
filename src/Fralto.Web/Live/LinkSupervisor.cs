using System.Threading.Channels;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Plant;
using Fralto.Links;
using Fralto.Links.Modbus;

namespace Fralto.Web.Live;

/// <summary>Keeps one running link for each controller of the model; a link is restarted only when its controller or tags change.</summary>
public sealed class LinkSupervisor(ChannelWriter<Sample[]> samples, TimeProvider clock, ILogger logger)
{
    private readonly Dictionary<long, Running> _links = [];
    private readonly Lock _lock = new();

    /// <summary>How a controller's link stands; null when it has none yet.</summary>
    public LinkStatus? StatusOf(long controllerId)
    {
        lock (_lock) return _links.TryGetValue(controllerId, out var running) ? running.Link.Status : null;
    }

    /// <summary>The words a tag's newest reading was made of; null when its link has none.</summary>
    public ushort[]? WordsOf(Tag tag)
    {
        lock (_lock) return _links.TryGetValue(tag.ControllerId, out var running) ? running.Link.WordsOf(tag.Id) : null;
    }

    /// <summary>Makes the running links those of a model.</summary>
    public async Task FollowAsync(PlantModel model)
    {
        var stopping = new List<Running>();
        lock (_lock)
        {
            foreach (var (id, running) in _links.Where(l => !IsCurrent(l.Value, model)).ToArray())
            {
                stopping.Add(running);
                _links.Remove(id);
            }
        }
        await StopAsync(stopping);
        lock (_lock)
        {
            foreach (var controller in model.Controllers.Values.Where(c => !_links.ContainsKey(c.Id)))
            {
                var tags = model.Index.TagsOf(controller.Id).ToArray();
                var stop = new CancellationTokenSource();
                var link = new ModbusTcpLink(controller, tags, samples, clock);
                logger.LogInformation("Link to {Controller} starts with {Tags} tags", controller.Name, tags.Length);
                _links[controller.Id] = new Running(controller, tags, link, stop, Task.Run(() => GuardAsync(link, controller.Name, stop.Token)));
            }
        }
    }

    /// <summary>Stops every link.</summary>
    public async Task StopAsync()
    {
        Running[] all;
        lock (_lock)
        {
            all = [.. _links.Values];
            _links.Clear();
        }
        await StopAsync(all);
    }

    private static bool IsCurrent(Running running, PlantModel model) =>
        model.Controllers.TryGetValue(running.Controller.Id, out var controller)
        && controller == running.Controller
        && model.Index.TagsOf(controller.Id).SequenceEqual(running.Tags);

    private static async Task StopAsync(IReadOnlyCollection<Running> links)
    {
        foreach (var running in links) await running.Stop.CancelAsync();
        foreach (var running in links)
        {
            await running.Task;
            running.Stop.Dispose();
        }
    }

    /// <summary>A fault in one link must not end the others; it is logged and the link begins again.</summary>
    private async Task GuardAsync(ModbusTcpLink link, string name, CancellationToken stop)
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

    private sealed record Running(Controller Controller, Tag[] Tags, ILink Link, CancellationTokenSource Stop, Task Task);
}
