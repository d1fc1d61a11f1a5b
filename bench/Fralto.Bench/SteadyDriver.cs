using Fralto.Core.Controllers;
using Fralto.Core.Quality;
using Fralto.Links;

namespace Fralto.Bench;

/// <summary>Links that reach no device: once all tags have a value, a share of them changes every second, spread evenly over it.</summary>
internal sealed class SteadyDriver(double shareASecond) : IProtocolDriver
{
    public Protocol Protocol => Protocol.Modbus;

    public ILink Create(LinkSetup setup) => new SteadyLink(setup, shareASecond);

    public Task<LinkTest> TestAsync(Connection connection, string? password, Tag? probe, CancellationToken stop) =>
        Task.FromResult(new LinkTest(true, ""));

    private sealed class SteadyLink(LinkSetup setup, double share) : Link(setup.Controller, setup.Tags, setup.Mailbox, setup.Clock)
    {
        private const double TurnsASecond = 10;

        public override Task<WriteResult> WriteAsync(TagWrite write, CancellationToken stop) => Task.FromResult(WriteResult.Confirmed);

        protected override async Task ServeAsync(Action connected, CancellationToken stop)
        {
            var random = new Random(Controller.Name.Length);
            var told = 0;
            Enter(LinkState.Up, null);
            connected();
            using var timer = new PeriodicTimer(TimeSpan.FromSeconds(1 / TurnsASecond), Clock);
            double owed = 0;
            while (await timer.WaitForNextTickAsync(stop))
            {
                var (tags, at) = (Tags, Now);
                if (tags.Count == 0)
                    continue;
                if (told != tags.Count)
                {
                    told = tags.Count;
                    Post([.. tags.Select(t => new Sample(t.Id, random.Next(8000, 20_000), StatusCode.Good, at))]);
                    continue;
                }
                owed += tags.Count * share / TurnsASecond;
                var now = (int)owed;
                owed -= now;
                Post([
                    .. Enumerable
                        .Range(0, now)
                        .Select(_ => new Sample(tags[random.Next(tags.Count)].Id, random.Next(8000, 20_000), StatusCode.Good, at)),
                ]);
            }
        }
    }
}
