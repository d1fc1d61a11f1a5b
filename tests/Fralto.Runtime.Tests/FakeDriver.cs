using System.Collections.Concurrent;
using Fralto.Core.Controllers;
using Fralto.Core.Quality;
using Fralto.Links;

namespace Fralto.Runtime.Tests;

/// <summary>Links without devices: a test says what they read, when they fail and when they end.</summary>
internal sealed class FakeDriver(Protocol protocol = Protocol.Modbus) : IProtocolDriver
{
    public Protocol Protocol => protocol;

    /// <summary>All links made so far, in order.</summary>
    public ConcurrentQueue<FakeLink> Made { get; } = new();

    /// <summary>True lets links go on after they were told to stop, until <see cref="FakeLink.End"/>.</summary>
    public bool Lingers { get; set; }

    /// <summary>What the next link that is made fails with when it is first run.</summary>
    public Exception? NextFailsWith { get; set; }

    /// <summary>Told of each link before it is made.</summary>
    public Action<LinkSetup>? Making { get; set; }

    public FakeLink this[string controller] => Made.Last(l => l.Setup.Controller.Name == controller);

    public ILink Create(LinkSetup setup)
    {
        Making?.Invoke(setup);
        var link = new FakeLink(setup, Lingers) { FailsWith = NextFailsWith };
        NextFailsWith = null;
        Made.Enqueue(link);
        return link;
    }

    public Task<LinkTest> TestAsync(Connection connection, string? password, Tag? probe, CancellationToken stop) =>
        Task.FromResult(new LinkTest(true, ""));

    internal sealed class FakeLink(LinkSetup setup, bool lingers) : ILink, IPublisher
    {
        private readonly TaskCompletionSource _end = new(TaskCreationOptions.RunContinuationsAsynchronously);

        public LinkSetup Setup => setup;

        public LinkStatus Status { get; private set; } = new(LinkState.Connecting, default);

        public int Runs { get; private set; }

        public bool HasEnded { get; private set; }

        public IReadOnlyList<Tag> Tags { get; private set; } = setup.Tags;

        public Exception? FailsWith { get; set; }

        public TimeSpan Offset { get; set; }

        public ushort[]? WordsOf(long tagId) => null;

        public TimeSpan ClockOffsetOf(Tag tag) => Offset;

        public void Retag(IReadOnlyList<Tag> tags) => Tags = tags;

        public async Task RunAsync(CancellationToken stop)
        {
            Runs++;
            Status = new(LinkState.Up, default);
            if (FailsWith is { } failure)
            {
                FailsWith = null;
                throw failure;
            }
            var stopped = new TaskCompletionSource();
            using var registration = stop.Register(() => stopped.TrySetResult());
            await (lingers ? _end.Task : Task.WhenAny(_end.Task, stopped.Task));
            HasEnded = true;
            if (!stop.IsCancellationRequested)
                await stopped.Task;
        }

        public Task<WriteResult> WriteAsync(TagWrite write, CancellationToken stop) => Task.FromResult(WriteResult.Confirmed);

        public Task<BrowseResult> BrowseAsync(BrowseRequest request, CancellationToken stop) => Task.FromResult(new BrowseResult([], null));

        /// <summary>What was published, as topic and text.</summary>
        public ConcurrentQueue<(string Topic, string Text)> Published { get; } = new();

        public Task<string?> PublishAsync(string topic, byte[] payload, CancellationToken stop)
        {
            Published.Enqueue((topic, System.Text.Encoding.UTF8.GetString(payload)));
            return Task.FromResult<string?>(null);
        }

        public void End() => _end.TrySetResult();

        /// <summary>Reads a raw number of a tag now.</summary>
        public void Read(string tag, double raw, DateTimeOffset? source = null, bool isHistorical = false) =>
            setup.Mailbox.Post(
                new(
                    [new Sample(Tags.Single(t => t.Name == tag).Id, raw, StatusCode.Good, (source ?? setup.Clock.GetUtcNow()).UtcTicks)],
                    setup.Clock.Moment(),
                    isHistorical
                )
            );
    }
}
