using System.Text.Json;
using System.Text.Json.Nodes;
using Fralto.Core.Controllers;
using Fralto.Core.OpcUa;
using Fralto.Links.OpcUa;

namespace Fralto.Links.Tests;

/// <summary>OPC UA with a server that is large, old and odd, and over a wire that breaks.</summary>
[Trait("source", "npm node-opcua-server 2.140.0")]
public sealed class OpcUaOddTests(UaOddFixture ua) : IClassFixture<UaOddFixture>
{
    private const string Own = "nsu=urn:corvane:utilities;";

    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_server_that_takes_fewer_a_call_than_it_says_is_browsed_to_the_bottom_and_round_its_circles()
    {
        var heard = ua.Shared;
        await Heard.Eventually(() => heard.Link.Status.State is LinkState.Up, 30, () => $"{heard.Link.Status}");
        var result = await heard.Link.BrowseAsync(new($"{Own}s=Odd"), Stop);
        (result.Problem, result.Continuation).ShouldBe((null, null));
        var items = result.Items.ToDictionary(i => i.PathText);
        items["Odd/" + string.Join('/', Enumerable.Range(1, 80).Select(n => $"L{n}")) + "/Bottom"].Value.ShouldBe("80");
        items.Keys.Count(k => k.EndsWith("/Round", StringComparison.Ordinal)).ShouldBe(1);
        items["Odd/Long"].Value.Length.ShouldBeLessThan(100);

        // What is named oddly is found again by the address it is kept under.
        var odd = items["Odd/ns=2;s=odd; name | element 1 %3B 'ü'"];
        heard.Link.Retag([
            UaFixture.TagOf(odd, 1),
            UaFixture.Tag(2, odd.Address.ToString()),
            UaFixture.TagOf(items["Odd/Long"], 3),
            UaFixture.TagOf(items["Odd/Wide"], 4),
        ]);
        await heard.Holds(1, 4);
        await heard.Holds(2, 4);
        await heard.Holds(4, (1L << 53) - 1);
        await Heard.Eventually(() => heard[3] is { Status.IsGood: true, Text: { } text } && text.Length == Tag.MostElements);
    }

    [Fact]
    public async Task Browsing_is_stopped_with_what_it_has_found_and_gone_on_with()
    {
        var heard = ua.Shared;
        await Heard.Eventually(() => heard.Link.Status.State is LinkState.Up, 30, () => $"{heard.Link.Status}");
        var all = new BrowseResult([], null, null);
        for (var round = 0; round < 3; round++)
        {
            using var enough = new CancellationTokenSource();
            var found = new List<int>();
            var some = await heard.Link.BrowseAsync(
                new("", all.Continuation)
                {
                    Found = n =>
                    {
                        found.Add(n);
                        enough.Cancel();
                    },
                    Enough = enough.Token,
                },
                Stop
            );
            some.Items.Count.ShouldBeInRange(1, UaOddFixture.Many - 1);
            found.ShouldBe(found.Order());
            found[^1].ShouldBe(some.Items.Count);
            some.Continuation.ShouldNotBeNull();
            var before = all.Items.Count;
            all = all.With(some);
            all.Items.Count.ShouldBe(before + some.Items.Count);
        }
    }

    [Fact]
    public async Task The_tree_is_walked_level_by_level_and_back()
    {
        var heard = ua.Shared;
        await Heard.Eventually(() => heard.Link.Status.State is LinkState.Up, 30, () => $"{heard.Link.Status}");
        var tree = (INodeTree)heard.Link;
        var top = await tree.LevelAsync("", Stop);
        top.Above.ShouldBeEmpty();
        top.Objects.Select(o => o.Name).ShouldBe(["Locations", "Utilities", "Odd"], ignoreOrder: true);
        var odd = top.Objects.Single(o => o.Name == "Odd");
        (odd.Objects, odd.Variables).ShouldBe((2, 6));
        var at = odd;
        for (var n = 1; n <= 80; n++)
            at = (await tree.LevelAsync(at.Node, Stop)).Objects.Single(o => o.Name == $"L{n}");
        var bottom = await tree.LevelAsync(at.Node, Stop);
        bottom.Above.Select(o => o.Name).ShouldBe(["Odd", .. Enumerable.Range(1, 80).Select(n => $"L{n}")]);
        bottom.Objects.ShouldBeEmpty();
        // A circle has a way to it all the same.
        (await tree.LevelAsync($"{Own}s=Odd.There", Stop)).Objects.Single().Name.ShouldBe("Here");
        (await Should.ThrowAsync<LinkException>(() => tree.LevelAsync($"{Own}s=Nobody", Stop))).Message.ShouldContain("no such node");
    }

    [Fact]
    public async Task Ten_thousand_nodes_are_followed()
    {
        // Sampled as seldom as so many are: a server that samples 20,000 values a second has no time for anybody else.
        await using var heard = ua.Run(ua.At(), "odd-many", everyMs: 2000);
        await Heard.Eventually(() => heard.Link.Status.State is LinkState.Up, 30, () => $"{heard.Link.Status}");
        heard.Link.Retag([.. Enumerable.Range(0, UaOddFixture.Many).Select(i => UaFixture.Tag(i + 1, $"{Own}s=F.{i}"))]);
        var values = new JsonObject();
        for (var i = 0; i < UaOddFixture.Many; i++)
            values[$"F.{i}"] = i * 2.5;
        await ua.Server.SayAsync(values);
        await Heard.Eventually(
            () => Enumerable.Range(0, UaOddFixture.Many).All(i => heard[i + 1] is { Status.IsGood: true } s && s.Raw == i * 2.5),
            180,
            () => $"{heard.Link.Status}"
        );
        heard.Link.Status.State.ShouldBe(LinkState.Up);
    }

    [Fact]
    public async Task A_clock_an_hour_ahead_is_said_and_its_values_count()
    {
        var heard = ua.Shared;
        heard.Link.Retag([UaFixture.Tag(1, $"{Own}s=Odd.Ahead")]);
        await Heard.Eventually(
            () => heard.Link.Status.Clock == "the clock of the server is 60 min ahead" && heard[1] is { Status.IsGood: true },
            30,
            () => $"{heard[1]}; {heard.Link.Status}"
        );
        heard.Link.ClockOffsetOf(UaFixture.Tag(1, $"{Own}s=Odd.Ahead")).TotalMinutes.ShouldBe(-60, 1);
    }

    [Fact]
    public async Task A_value_a_server_shows_late_counts_as_written_and_one_it_never_shows_does_not()
    {
        var heard = ua.Shared;
        await Heard.Eventually(() => heard.Link.Status.State is LinkState.Up, 30, () => $"{heard.Link.Status}");
        (await heard.Link.WriteAsync(new(UaFixture.Tag(1, $"{Own}s=Odd.Late"), 5), Stop)).ShouldBe(WriteResult.Confirmed);
        var deaf = await heard.Link.WriteAsync(new(UaFixture.Tag(2, $"{Own}s=Odd.Deaf"), 5), Stop);
        deaf.ShouldBe(WriteResult.NotConfirmed("it was sent, but the server holds 0"));
    }

    [Fact]
    public async Task Update_classes_say_how_the_server_samples_and_a_deadband_no_node_can_have_is_left_out()
    {
        var controller = new Controller(1, "odd-classes", ua.At(), TimeSpan.FromMilliseconds(100))
        {
            UpdateClasses =
            [
                new("every", TimeSpan.FromSeconds(1)) { Sampling = TimeSpan.FromMilliseconds(50), Queue = 100 },
                new("coarse", TimeSpan.FromMilliseconds(100)) { Deadband = 50 },
            ],
        };
        await using var heard = new Heard(mailbox => ua.Driver.Create(new(controller, [], mailbox, TimeProvider.System)));
        heard.Link.Retag([
            UaFixture.Tag(1, $"{Own}s=Odd.Ahead") with
            {
                UpdateClass = "every",
            },
            UaFixture.Tag(2, $"{Own}s=Loop.Supply") with
            {
                UpdateClass = "coarse",
            },
            UaFixture.Tag(3, $"{Own}s=F.1") with
            {
                UpdateClass = "coarse",
            },
        ]);
        // Of a range of 0 to 120, half is 60: what changes by less is not told.
        await ua.Server.SayAsync(new() { ["Loop.Supply"] = 0, ["F.1"] = 0 });
        await heard.Holds(2, 0);
        await ua.Server.SayAsync(new() { ["Loop.Supply"] = 50, ["F.1"] = 50 });
        await heard.Holds(3, 50);
        await ua.Server.SayAsync(new() { ["Loop.Supply"] = 70, ["F.1"] = 70 });
        await heard.Holds(3, 70);
        await heard.Holds(2, 70);
        heard.RawsOf(2).ShouldNotContain(50);
        heard.Link.Status.LastError.ShouldNotBeNull().ShouldContain("followed without a deadband");
        // The queue keeps what is sampled between two publishes.
        await Heard.Eventually(() => heard.RawsOf(1).Count > 12, 30);
        var seen = heard.RawsOf(1).Skip(2).ToArray();
        seen.ShouldBe(Enumerable.Range(0, seen.Length).Select(i => seen[0] + i));
    }

    /// <summary>So that a server that takes its time is waited for as long as it goes on.</summary>
    [Fact]
    public async Task Many_nodes_are_followed_and_let_go_of_call_by_call_and_each_call_is_told()
    {
        await using var child = UaChild.Start("odd-many", _ => { });
        await UaSession.OpenAsync(child, ua.At(), null, ua.Identity, TimeProvider.System, Stop);
        const int some = 3000;
        var (items, handles, told) = (new JsonArray(), new JsonArray(), 0);
        for (var i = 0; i < some; i++)
        {
            items.Add(new JsonArray(i, $"{Own}s=F.{i}", 5000, 1, 0));
            handles.Add(i);
        }
        async Task<JsonElement> Ask(string op, JsonObject ask) => await child.AskAsync(op, ask, TimeSpan.FromSeconds(60), Stop, part =>
            {
                part.GetArrayLength().ShouldBe(0);
                told++;
            });
        var followed = await Ask("follow", new() { ["interval"] = 5000, ["items"] = items });
        followed.GetProperty("refused").GetArrayLength().ShouldBe(0);
        told.ShouldBeInRange(6, some);
        told = 0;
        await Ask("drop", new() { ["handles"] = handles });
        told.ShouldBeInRange(6, some);
    }

    [Fact]
    public async Task An_old_way_to_secure_a_connection_is_spoken_where_it_is_asked_for()
    {
        ua.Identity.Trust(ua.Server.Certificate!);
        await using var child = UaChild.Start("odd-old", _ => { });
        foreach (var security in UaSecurity.All.Where(s => s.IsOld))
        {
            await UaSession.OpenAsync(child, ua.At(security), null, ua.Identity, TimeProvider.System, Stop);
            var (value, status) = await UaSession.ReadAsync(child, new("", "i=2259"), Stop);
            (value.GetInt32(), status.IsGood).ShouldBe((0, true), security.Text);
        }
    }

    [Fact]
    public async Task A_user_with_a_certificate_is_let_in_where_the_server_lists_it_and_nobody_else_is()
    {
        ua.Identity.Trust(ua.Server.Certificate!);
        var connection = ua.At(UaSecurity.Usual) with { Login = UaLogin.Certificate };
        var known = await ua.Driver.TestAsync(connection, null, null, Stop);
        known.Succeeded.ShouldBeTrue(known.Message);
        ua.Visitor.Trust(ua.Server.Certificate!);
        var refused = await new OpcUaDriver(ua.Visitor, TimeProvider.System).TestAsync(connection, null, null, Stop);
        refused.Succeeded.ShouldBeFalse();
        refused.Message.ShouldContain("is the certificate trusted there as that of a user");
    }

    [Fact]
    public async Task A_server_that_does_not_trust_us_is_said_so_with_what_to_hand_over()
    {
        ua.Stranger.Trust(ua.Server.Certificate!);
        var driver = new OpcUaDriver(ua.Stranger, TimeProvider.System);
        var refused = await driver.TestAsync(ua.At(UaSecurity.Usual), null, null, Stop);
        refused.Succeeded.ShouldBeFalse();
        refused.Message.ShouldContain("Hand it our certificate");
        // It comes in where nobody has to be trusted.
        (await driver.TestAsync(ua.At(), null, null, Stop)).Succeeded.ShouldBeTrue();
    }
}
