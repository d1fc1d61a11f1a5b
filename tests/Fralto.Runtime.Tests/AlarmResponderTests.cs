using System.Collections.Concurrent;
using System.Net;
using Fralto.Core.Alarms;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Microsoft.Extensions.Logging.Abstractions;

namespace Fralto.Runtime.Tests;

/// <summary>What alarms set off: by name, priority and label; once a raise and once a return; and what came of it stands in the
/// log.</summary>
public sealed class AlarmResponderTests : IAsyncLifetime
{
    private readonly Plant _plant = new();
    private readonly Receiver _receiver = new();
    private readonly CancellationTokenSource _stop = new();
    private AlarmResponder _responder = null!;
    private Task _logging = Task.CompletedTask;

    public async ValueTask InitializeAsync()
    {
        await _plant.BegunAsync();
        var log = new AlarmLog(_plant.Store.Run, _plant.Workspace, _plant.Clock, NullLogger<AlarmLog>.Instance);
        _logging = log.RunAsync(_stop.Token);
        _responder = new(
            _plant.Runtime,
            _plant.Workspace,
            new(_plant.Workspace, _plant.Runtime, _plant.Store.Run, _plant.Clock),
            log,
            new HttpClient(_receiver),
            _plant.Clock,
            NullLogger<AlarmResponder>.Instance
        );
    }

    public async ValueTask DisposeAsync()
    {
        await _responder.DisposeAsync();
        await _stop.CancelAsync();
        await _logging;
        await _plant.DisposeAsync();
        _stop.Dispose();
        _receiver.Dispose();
    }

    [Fact]
    public async Task An_alarm_and_its_return_are_published_and_called_with_what_is_said()
    {
        _plant.Do(_ => new SaveResponses([
            new("Display", ResponseKind.Publish, "two {place}/alarms", "{property} {limit} {value} {unit}")
            {
                ClearText = "{path} is back",
                Priorities = [2],
            },
            new("All of it", ResponseKind.Call, "http://127.0.0.1:1/shift") { Priorities = [2] },
            new("Urgent", ResponseKind.Call, "http://127.0.0.1:1/urgent") { Priorities = [1] },
            new("Early", ResponseKind.Publish, "two early/alarms", "x") { Priorities = [2], Label = "crew=early" },
        ]));
        await Say(95);
        await Until(() => Results().Length == 2);
        var link = _plant.Driver["two"];
        link.Published.ShouldBe([("C/K1/alarms", "AirOn H 95.0 ")]);
        var (path, body) = _receiver.Calls.Single();
        path.ShouldBe("/shift");
        body.ShouldContain("\"path\":\"C/K1/AirOn\"");
        body.ShouldContain("\"value\":95");
        await Say(60);
        await Until(() => link.Published.Count == 2);
        link.Published.Last().ShouldBe(("C/K1/alarms", "C/K1/AirOn is back"));
        await Until(() => Results().Length == 3);
        Results()
            .Order(StringComparer.Ordinal)
            .ShouldBe([
                "ResponseDone All of it: answered 200",
                "ResponseDone Display: the broker has taken it for C/K1/alarms",
                "ResponseDone Display: the broker has taken it for C/K1/alarms",
            ]);
    }

    [Fact]
    public async Task What_could_not_be_done_is_said_in_the_log_with_its_reason()
    {
        _receiver.Status = HttpStatusCode.InternalServerError;
        _plant.Do(_ => new SaveResponses([
            new("Gone", ResponseKind.Publish, "nowhere a/b", "x") { Priorities = [2] },
            new("Lost", ResponseKind.Write, "{place}/Nothing", "1") { Priorities = [2] },
            new("Busy", ResponseKind.Call, "http://127.0.0.1:1/") { Priorities = [2] },
        ]));
        await Say(95);
        await Until(() => Results().Length == 3);
        Results()
            .Order(StringComparer.Ordinal)
            .ShouldBe([
                "ResponseFailed Busy: answered 500",
                "ResponseFailed Gone: there is no controller nowhere",
                "ResponseFailed Lost: nothing has the path C/K1/Nothing",
            ]);
    }

    [Theory]
    [InlineData("silo-hub", "Give the topic")]
    [InlineData("silo-hub a/#", "wildcard")]
    [InlineData("silo-hub $SYS/x", "belong to the broker")]
    public void A_topic_that_cannot_be_published_to_is_refused(string target, string words) =>
        new SaveResponses([new("P", ResponseKind.Publish, target, "x")])
            .On(_plant.Model)
            .Problems.ShouldContain(p => p.Field == "Target" && p.Message.Contains(words));

    private string[] Results() =>
        [
            .. _plant
                .Store.Run.AlarmEvents(50)
                .Where(e => e.Cause is AlarmCause.ResponseDone or AlarmCause.ResponseFailed)
                .Select(e => $"{e.Cause} {e.Who}: {e.Comment}"),
        ];

    private async Task Say(double raw)
    {
        _plant.Driver["one"].Read("T1", raw);
        await _plant.Until(() => _plant.ValueOf("K1").Value.Equals(raw), turns: true);
    }

    /// <summary>Turns until something holds; what waits for the clock gets it.</summary>
    private Task Until(Func<bool> holds) => _plant.Until(holds, turns: true);

    private sealed class Receiver : HttpMessageHandler
    {
        public ConcurrentQueue<(string Path, string Body)> Calls { get; } = new();

        public HttpStatusCode Status { get; set; } = HttpStatusCode.OK;

        protected override async Task<HttpResponseMessage> SendAsync(HttpRequestMessage request, CancellationToken cancellationToken)
        {
            Calls.Enqueue((request.RequestUri!.AbsolutePath, await request.Content!.ReadAsStringAsync(cancellationToken)));
            return new(Status);
        }
    }
}
