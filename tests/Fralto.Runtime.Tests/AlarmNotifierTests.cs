using System.Collections.Concurrent;
using Fralto.Core.Alarms;
using Fralto.Core.Edits;
using Fralto.Core.Notices;
using Fralto.Core.Rules;
using Fralto.Runtime.Notices;
using Microsoft.Extensions.Logging.Abstractions;

namespace Fralto.Runtime.Tests;

/// <summary>Who is told of alarms: as the lists say, through a server that may be slow or gone, and over a restart.</summary>
public sealed class AlarmNotifierTests : IAsyncLifetime
{
    private readonly Plant _plant = new();
    private readonly Sender _sender = new();
    private AlarmNotifier _notifier = null!;

    public async ValueTask InitializeAsync()
    {
        await _plant.BegunAsync();
        _notifier = Make();
        _plant.Do(_ => new SaveMailServer(new("mail.maltings.test", 25, MailSecurity.None, "plant@maltings.test")));
    }

    public async ValueTask DisposeAsync()
    {
        await _notifier.DisposeAsync();
        await _plant.DisposeAsync();
    }

    [Fact]
    public async Task A_list_is_told_of_what_is_below_its_place_with_its_priority_in_its_hours()
    {
        _plant.Do(_ => new SaveNoticeLists([
            new("All", ["all@maltings.test"]),
            new("First", ["first@maltings.test"]) { PlaceId = Id("K1") },
            new("Second", ["second@maltings.test"]) { PlaceId = Id("K2") },
            new("Urgent", ["urgent@maltings.test"]) { Priorities = [1] },
            new("Label", ["label@maltings.test"]) { Label = "crew=early" },
            new("Night", ["night@maltings.test"]) { From = new(22, 0), Until = new(6, 0) },
            new("Further", ["further@maltings.test"]) { OnlyEscalated = true },
        ]));
        await Say("one", "T1", 95);
        await Until(() => _sender.Mails.Count == 2);
        _sender.Mails.Select(m => m.To).Order().ShouldBe(["all@maltings.test", "first@maltings.test"]);
        _sender.Mails.First().Mail.Subject.ShouldBe("priority 2: C/K1/AirOn H");
        await Until(() => _plant.Store.Run.AlarmEvents(10).Count(e => e.Cause == AlarmCause.ResponseDone) == 2);
        _plant.Store.Run.AlarmEvents(10).First(e => e.Who == "First").Comment.ShouldBe("told by mail: first@maltings.test");
    }

    [Fact]
    public async Task A_server_that_is_gone_is_tried_again_and_what_came_of_it_is_logged()
    {
        _plant.Do(_ => new SaveNoticeLists([new("All", ["all@maltings.test"])]));
        _sender.Fails = 2;
        await Say("one", "T1", 95);
        await Until(() => _sender.Mails.Count == 1);
        _sender.Tries.ShouldBe(3);
        _sender.Fails = 100;
        await Say("two", "T2", 95);
        await Until(() => _plant.Store.Run.AlarmEvents(20).Any(e => e.Cause == AlarmCause.ResponseFailed));
        _sender.Tries.ShouldBe(7);
        _plant.Store.Run.AlarmEvents(20).First(e => e.Cause == AlarmCause.ResponseFailed).Comment.ShouldBe("nobody answers");
        _plant.Do(_ => new SaveMailServer(null));
        (await _notifier.TryAsync(_plant.Model.AlarmSetup.Lists[0])).ShouldBe("there is no mail server; say one under Alarms, Who is told");
    }

    [Fact]
    public async Task After_a_restart_nobody_is_told_twice_and_nobody_is_forgotten()
    {
        _plant.Do(_ => new SaveNoticeLists([new("All", ["all@maltings.test"]) { RepeatAfter = TimeSpan.FromMinutes(5), Repeats = 1 }]));
        await Say("one", "T1", 95);
        await Until(() => _sender.Mails.Count == 1);
        await Until(() => _plant.Store.Run.Notices() is [{ Told: 1 }]);
        await _notifier.DisposeAsync();
        await _plant.RestartedAsync();
        _notifier = Make();
        await Say("one", "T1", 95);
        _plant.Clock.Advance(TimeSpan.FromMinutes(1));
        await Until(() => _sender.Mails.Count == 2, seconds: 20);
        _sender
            .Mails.Select(m => m.Mail.Text.Split('\n')[0])
            .ShouldBe(["Priority 2: C/K1/AirOn H", "Still not acknowledged: Priority 2: C/K1/AirOn H"]);
    }

    [Fact]
    public async Task What_comes_together_goes_in_one_mail_and_then_waits()
    {
        _plant.Do(_ => new SaveNoticeLists([new("All", ["all@maltings.test"])]));
        await Say("one", "T1", 95);
        await Say("two", "T2", 96);
        await Until(() => _sender.Mails.Sum(m => m.Mail.Text.Split("raised ").Length - 1) == 2);
        _sender.Mails.Count.ShouldBeLessThanOrEqualTo(2);
    }

    private long Id(string code) => _plant.Model.Equipment.Values.Single(e => e.Code == code).Id;

    private AlarmNotifier Make()
    {
        var log = new AlarmLog(_plant.Store.Run, _plant.Workspace, _plant.Clock, NullLogger<AlarmLog>.Instance);
        _ = log.RunAsync(TestContext.Current.CancellationToken);
        return new(
            _plant.Runtime,
            _plant.Workspace,
            new(_plant.Store.Run, new MirrorProtector(), _plant.Clock),
            _plant.Store.Run,
            log,
            _sender,
            _plant.Clock,
            NullLogger<AlarmNotifier>.Instance
        );
    }

    private async Task Say(string controller, string tag, double value)
    {
        _plant.Driver[controller].Read(tag, value);
        var kiln = tag == "T1" ? "K1" : "K2";
        await _plant.Until(() => _plant.Runtime.Snapshot.Alarms.Any(a => a.Key == _plant.HighOf(kiln)), turns: true);
    }

    /// <summary>Lets a second pass at a time until something holds.</summary>
    private async Task Until(Func<bool> holds, double seconds = 1)
    {
        for (var tries = 0; tries == 0 || !holds(); tries++)
        {
            tries.ShouldBeLessThan(1000);
            _plant.Clock.Advance(TimeSpan.FromSeconds(seconds));
            await Task.Delay(10, TestContext.Current.CancellationToken);
        }
    }

    private sealed class Sender : IMailSender
    {
        public ConcurrentQueue<(string To, NoticeMail Mail)> Mails { get; } = new();

        public int Tries { get; private set; }

        public int Fails { get; set; }

        public Task<string?> SendAsync(
            MailServer server,
            string? password,
            IReadOnlyCollection<string> addresses,
            NoticeMail mail,
            CancellationToken stop
        )
        {
            Tries++;
            if (Fails > 0)
            {
                Fails--;
                return Task.FromResult<string?>("nobody answers");
            }
            Mails.Enqueue((string.Join(", ", addresses), mail));
            return Task.FromResult<string?>(null);
        }
    }
}
