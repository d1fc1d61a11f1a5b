using System.Collections.Concurrent;
using System.Globalization;
using Fralto.Core.Controllers;
using Fralto.Core.Memory;
using Fralto.Core.Quality;

namespace Fralto.Links.Memory;

/// <summary>Tags without a device: they hold what is written to them, over a restart where they say so.</summary>
/// <param name="load">What was kept of a tag; null for nothing.</param>
/// <param name="keep">Keeps what a tag holds; why it could not be kept, or null.</param>
public sealed class MemoryLink(
    Controller controller,
    IReadOnlyList<Tag> tags,
    SampleMailbox mailbox,
    TimeProvider clock,
    Func<long, string?> load,
    Func<long, string, string?> keep
) : Link(controller, tags, mailbox, clock)
{
    private readonly ConcurrentDictionary<long, TagWrite> _held = new();

    public override void Retag(IReadOnlyList<Tag> tags)
    {
        base.Retag(tags);
        Publish();
    }

    public override Task<WriteResult> WriteAsync(TagWrite write, CancellationToken stop)
    {
        var tag = write.Tag;
        if (write.Slice is { FirstBit: not null })
            write = new TagWrite(tag, write.Into(_held.TryGetValue(tag.Id, out var now) && double.IsFinite(now.Raw) ? now.Raw : 0));
        // What is to be there after a restart is kept first: a value that is shown and then forgotten would be a lie.
        if (
            tag.Address is MemoryAddress { IsRetained: true }
            && keep(tag.Id, write.Text ?? write.Raw.ToString("R", CultureInfo.InvariantCulture)) is { } unkept
        )
            return Task.FromResult(WriteResult.Refused($"it could not be kept: {unkept}"));
        _held[tag.Id] = write;
        CountRequest();
        Post([SampleOf(write)]);
        return Task.FromResult(WriteResult.Confirmed);
    }

    protected override async Task ServeAsync(Action connected, CancellationToken stop)
    {
        Publish();
        Enter(LinkState.Up, null);
        connected();
        await Task.Delay(Timeout.InfiniteTimeSpan, Clock, stop);
    }

    /// <summary>Says what every tag holds: what was written, else what was kept, else its start value.</summary>
    private void Publish()
    {
        var samples = new List<Sample>(Tags.Count);
        foreach (var tag in Tags)
        {
            if (_held.TryGetValue(tag.Id, out var held) && held.Tag.Type != tag.Type)
                _held.TryRemove(tag.Id, out held);
            if (
                held is null
                && tag.Address is MemoryAddress address
                && (address.IsRetained ? load(tag.Id) ?? address.Start : address.Start) is { } text
                && TagWrite.Read(tag, text, out _) is { } read
            )
                _held[tag.Id] = held = read;
            samples.Add(
                held is null
                    ? new(tag.Id, double.NaN, StatusCode.BadWaitingForInitialData, Now, "nothing has been written to it yet")
                    : SampleOf(held)
            );
        }
        Post([.. samples]);
    }

    private Sample SampleOf(TagWrite held) => new(held.Tag.Id, held.Raw, StatusCode.Good, Now, null, 0, held.Text);
}
