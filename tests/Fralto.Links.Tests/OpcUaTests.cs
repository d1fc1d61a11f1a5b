using System.Text.Json.Nodes;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.OpcUa;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Links.OpcUa;

namespace Fralto.Links.Tests;

/// <summary>OPC UA against an independent server, npm node-opcua-server 2.140: every security, values, writes, browsing, and what may
/// break.</summary>
[Trait("source", "npm node-opcua-server 2.140.0")]
public sealed class OpcUaTests(UaFixture ua) : IClassFixture<UaFixture>
{
    private const string Own = "nsu=urn:corvane:utilities;";

    [Fact]
    public async Task Every_security_is_spoken_once_the_server_is_trusted()
    {
        ua.Identity.Trust(ua.Server.Certificate!);
        await using var child = UaChild.Start("test", _ => { });
        foreach (var security in UaSecurity.All.Where(s => !s.IsOld))
        {
            var offer = await UaSession.OpenAsync(
                child,
                ua.At(security),
                null,
                ua.Identity,
                TimeProvider.System,
                TestContext.Current.CancellationToken
            );
            offer.Ways.Select(w => w.Security).ShouldContain(security);
            offer.Certificate!.Subject.ShouldBe("CN=utility-ua");
            offer.Certificate.Remarks.ShouldBeEmpty();
            var (value, status) = await UaSession.ReadAsync(child, new("", "i=2259"), TestContext.Current.CancellationToken);
            (value.GetInt32(), status.IsGood).ShouldBe((0, true), security.Text);
        }
        var test = await ua.Driver.TestAsync(
            ua.At(UaSecurity.Usual),
            null,
            UaFixture.Tag(1, "i=2259", RawType.Int32),
            TestContext.Current.CancellationToken
        );
        test.Message.ShouldBe("utility-ua answers. T1 reads 0.");
        test.Succeeded.ShouldBeTrue();
    }

    [Fact]
    public async Task A_server_that_is_not_trusted_is_not_spoken_to_and_a_password_does_not_reach_it()
    {
        ua.Identity.Distrust(ua.Server.Certificate!);
        foreach (var connection in new[] { ua.At(UaSecurity.Usual), ua.At() with { Login = UaLogin.Password, User = "operator" } })
        {
            var test = await ua.Driver.TestAsync(connection, "malt", null, TestContext.Current.CancellationToken);
            test.Succeeded.ShouldBeFalse();
            test.Message.ShouldContain("not trusted yet");
            // What it offers is shown all the same: that is how trust begins.
            test.Offer!.Certificate!.IsTrusted.ShouldBeFalse();
            test.Offer.Certificate.Fingerprint.Length.ShouldBe(32 * 3 - 1);
        }
    }

    [Theory]
    [InlineData("malt", null)]
    [InlineData("barley", "does not let operator in: name or password is wrong")]
    [InlineData(null, "does not let operator in: name or password is wrong")]
    public async Task A_user_comes_in_with_the_right_password_alone(string? password, string? problem)
    {
        ua.Identity.Trust(ua.Server.Certificate!);
        var connection = ua.At(UaSecurity.Usual) with { Login = UaLogin.Password, User = "operator" };
        var test = await ua.Driver.TestAsync(connection, password, null, TestContext.Current.CancellationToken);
        test.Succeeded.ShouldBe(problem is null, test.Message);
        if (problem is not null)
            test.Message.ShouldContain(problem);
        test.Message.ShouldNotContain("barley");
    }

    [Fact]
    public async Task What_a_server_does_not_offer_is_said_with_what_it_does()
    {
        var test = await ua.Driver.TestAsync(ua.At(new("Basic256", "Sign")), null, null, TestContext.Current.CancellationToken);
        test.Succeeded.ShouldBeFalse();
        test.Message.ShouldContain("does not offer the security Basic256 Sign; it offers");
        test.Message.ShouldContain("Basic256Sha256 SignAndEncrypt");
    }

    [Fact]
    public async Task Nobody_there_is_said_so()
    {
        var test = await ua.Driver.TestAsync(
            new OpcUaConnection("opc.tcp://127.0.0.1:1"),
            null,
            null,
            TestContext.Current.CancellationToken
        );
        test.Succeeded.ShouldBeFalse();
        test.Message.ShouldContain("nobody answers at opc.tcp://127.0.0.1:1; is the server running, and is the address right?");
        test.Offer.ShouldBeNull();
    }

    [Fact]
    public async Task Browsing_brings_units_ranges_states_arrays_and_rights()
    {
        await using var heard = ua.Run(ua.At());
        var items = await UaFixture.BrowseAsync(heard);
        var pressure = items["Utilities/CompressedAir/Compressor1/Pressure"];
        (pressure.Type, pressure.Unit, pressure.UnitCode, pressure.Range, pressure.Count).ShouldBe(
            (RawType.Float64, "bar", "BAR", new Span(0, 10), 1)
        );
        (pressure.Description, pressure.Rights).ShouldBe(("Pressure behind the compressor", ""));
        items["Utilities/CompressedAir/Compressor1/Setpoint"].Rights.ShouldBe("may be written");
        pressure.Address.ToString().ShouldStartWith(Own);
        items["Utilities/CompressedAir/Compressor1/Motor/Run"].Type.ShouldBe(RawType.Bool);
        items["Utilities/CompressedAir/Compressor2/State"]
            .States.ShouldBe([(0, "Stopped"), (1, "Starting"), (2, "Running"), (3, "Unloaded"), (4, "Tripped")]);
        items["Utilities/CompressedAir/Compressor2/State"].Type.ShouldBe(RawType.Int32);
        var stages = items["Utilities/CompressedAir/Compressor1/StageTemperatures"];
        (stages.Type, stages.Count).ShouldBe((RawType.Float32, 3));
        items["Utilities/Water/RawWaterPump2/Flow"].Unit.ShouldBe("l/min");
        items["Utilities/ServiceCode"].Rights.ShouldBe("may not be read");
        items.Keys.ShouldAllBe(k => !k.Contains("EURange", StringComparison.Ordinal) && !k.StartsWith("Server/", StringComparison.Ordinal));
        // Below one object alone, under the names they have in the whole.
        var below = await heard.Link.BrowseAsync(new($"{Own}s=CMP1"), TestContext.Current.CancellationToken);
        below
            .Items.Select(i => i.PathText)
            .ShouldBe(
                items.Keys.Where(k => k.StartsWith("Utilities/CompressedAir/Compressor1/", StringComparison.Ordinal)),
                ignoreOrder: true
            );
        below.Items.Count.ShouldBe(7);
        (await heard.Link.BrowseAsync(new($"{Own}s=Nobody"), TestContext.Current.CancellationToken)).Problem!.ShouldContain("no such node");
    }

    [Fact]
    public async Task Two_look_through_a_server_at_once_and_each_goes_on_where_he_left_off()
    {
        var stop = TestContext.Current.CancellationToken;
        await using var child = UaChild.Start("test", _ => { });
        await UaSession.OpenAsync(child, ua.At(), null, ua.Identity, TimeProvider.System, stop);
        var (all, _) = await Look(new() { ["from"] = "", ["most"] = 10_000 });
        var (one, oneOn) = await Look(new() { ["from"] = "", ["most"] = 3 });
        var (other, otherOn) = await Look(new() { ["from"] = "", ["most"] = 3 });
        while (oneOn is not null || otherOn is not null)
        {
            if (oneOn is { } on)
                (one, oneOn) = await Look(new() { ["on"] = on, ["most"] = 3 }, one);
            if (otherOn is { } also)
                (other, otherOn) = await Look(new() { ["on"] = also, ["most"] = 3 }, other);
        }
        all.Count.ShouldBeGreaterThan(20);
        one.ShouldBe(all);
        other.ShouldBe(all);
        (await Should.ThrowAsync<LinkException>(() => Look(new() { ["on"] = 1, ["most"] = 3 }))).Message.ShouldContain("browse anew");

        async Task<(List<string> Nodes, long? On)> Look(JsonObject ask, List<string>? before = null)
        {
            var nodes = before ?? [];
            var said = await child.AskAsync("browse", ask, TimeSpan.FromSeconds(20), stop, part =>
                nodes.AddRange(part.EnumerateArray().Select(n => n.GetProperty("node").GetString()!))
            );
            var on = said.GetProperty("on");
            return (nodes, on.ValueKind == System.Text.Json.JsonValueKind.Number ? on.GetInt64() : null);
        }
    }

    [Fact]
    public async Task A_member_of_a_structure_is_listed_by_its_path_and_read()
    {
        await using var heard = ua.Run(ua.At());
        await UaFixture.BrowseAsync(heard);
        // The server's own status is a structure the standard has (OPC UA Part 5, clause 12.10).
        var below = await heard.Link.BrowseAsync(new("i=2253"), TestContext.Current.CancellationToken);
        var product = below.Items.Single(i => i.Address.ToString() == "i=2256 | member BuildInfo/ProductName");
        (product.Type, product.Value).ShouldBe((RawType.Text, "utility-ua"));
        heard.Link.Retag([UaFixture.TagOf(product, 1), UaFixture.Tag(2, "i=2256 | member BuildInfo/Nothing", RawType.Text)]);
        await Heard.Eventually(() => heard[1] is { Status.IsGood: true, Text: "utility-ua" }, else_: () => $"{heard[1]}");
        await heard.IsBad(2, StatusCode.BadTypeMismatch, "has no member Nothing");
        (
            await heard.Link.WriteAsync(new(UaFixture.TagOf(product, 1), double.NaN, "x"), TestContext.Current.CancellationToken)
        ).Reason.ShouldContain("member of a structure");
    }

    [Fact]
    public async Task A_type_is_told_with_its_parts_units_and_states_and_its_objects_are_bound_by_their_structure()
    {
        await using var heard = ua.Run(ua.At());
        await UaFixture.BrowseAsync(heard);
        var source = (ITypeSource)heard.Link;
        var types = await source.TypesAsync(TestContext.Current.CancellationToken);
        types.Select(t => (t.Name, t.Objects)).ShouldBe([("CompressorType", 2), ("MotorType", 6), ("PumpType", 4)]);
        var library = await source.LibraryAsync(types[0].Node, TestContext.Current.CancellationToken);
        library.States.Single().States.Select(s => s.Name).ShouldBe(["Stopped", "Starting", "Running", "Unloaded", "Tripped"]);

        var plant = new PlantBuilderOf(library, ua.At());
        var compressor = plant.Model.Templates.Values.Single(t => t.Code == "Compressor");
        plant
            .Model.Index.PropertiesOf(compressor.Id)
            .Select(p => (p.Code, p.Declaration.Type, p.Facts.Unit))
            .Order()
            .ShouldBe(
                new (string, PropertyType, string?)[]
                {
                    ("Hours", PropertyType.Number, "HUR"),
                    ("Pressure", PropertyType.Number, "BAR"),
                    ("Setpoint", PropertyType.Number, "BAR"),
                    ("StageTemperatures1", PropertyType.Number, null),
                    ("StageTemperatures2", PropertyType.Number, null),
                    ("StageTemperatures3", PropertyType.Number, null),
                    ("State", PropertyType.State, null),
                }.Order()
            );
        compressor.Parts.Single().Code.ShouldBe("Motor");
        // Both compressors, with their motors: everything that is told of them is bound.
        plant
            .Model.Equipment.Values.Select(e => plant.Model.Index.PathOf(e.Id))
            .Order()
            .ShouldBe([
                "W",
                "W/S",
                "W/S/Air",
                "W/S/Air/Compressor1",
                "W/S/Air/Compressor1/Motor",
                "W/S/Air/Compressor2",
                "W/S/Air/Compressor2/Motor",
            ]);
        plant.Model.Bindings.Count.ShouldBe(2 * 9);
        plant.Model.Tags.Values.Select(t => t.Address.Place).ShouldBeUnique();
    }

    /// <summary>A plant a library is taken into.</summary>
    private sealed class PlantBuilderOf
    {
        public PlantBuilderOf(TypeLibrary library, OpcUaConnection connection)
        {
            Do(new SaveController(null, "utility", connection, 500));
            long? place = null;
            foreach (
                var (code, level) in new[] { ("W", EquipmentLevel.Enterprise), ("S", EquipmentLevel.Site), ("Air", EquipmentLevel.Area) }
            )
            {
                Do(new SaveEquipment(null, code, code, level, place, null));
                place = Model.Equipment.Keys.Max();
            }
            Do(new TakeLibrary(library, place, Model.Controllers.Keys.Single()));
        }

        public PlantModel Model { get; private set; } = PlantModel.Empty;

        private void Do(Edit edit)
        {
            var outcome = edit.On(Model);
            outcome.Problems.ShouldBeEmpty();
            Model = Model.Apply(outcome.Changes);
        }
    }

    [Fact]
    public async Task Values_come_by_themselves_are_written_and_read_back()
    {
        await using var heard = ua.Run(ua.At());
        var items = await UaFixture.BrowseAsync(heard);
        Tag[] tags =
        [
            UaFixture.TagOf(items["Utilities/CompressedAir/Compressor1/Pressure"], 1),
            UaFixture.TagOf(items["Utilities/CompressedAir/Compressor1/StageTemperatures"], 2),
            UaFixture.TagOf(items["Utilities/CompressedAir/Compressor1/Motor/Run"], 3),
            UaFixture.TagOf(items["Utilities/CompressedAir/Compressor1/Setpoint"], 4),
            UaFixture.TagOf(items["Utilities/CompressedAir/Compressor1/Hours"], 5),
            UaFixture.TagOf(items["Utilities/CompressedAir/Compressor1/Pressure"], 6) with
            {
                Type = RawType.Text,
            },
            UaFixture.Tag(7, $"{Own}s=Nowhere"),
            UaFixture.Tag(8, "nsu=urn:not:there;s=x"),
            UaFixture.Tag(9, $"{items["Utilities/CompressedAir/Compressor1/StageTemperatures"].Address} | element 1", RawType.Float32),
            UaFixture.Tag(10, $"{items["Utilities/CompressedAir/Compressor1/StageTemperatures"].Address} | element 9", RawType.Float32),
        ];
        heard.Link.Retag(tags);
        await ua.Server.SayAsync(Json("""{"CMP1.Pressure":7.25,"CMP1.Stages":[60,80.5,99],"CMP1.Run":true,"CMP1.Hours":4000000000}"""));
        await heard.Holds(1, 7.25);
        await heard.Holds(2, 80.5, 1);
        await heard.Holds(2, 99, 2);
        await heard.Holds(3, 1);
        await heard.Holds(5, 4_000_000_000);
        await heard.Holds(9, 80.5);
        await heard.IsBad(6, StatusCode.BadTypeMismatch, "a number came, the tag is text");
        await heard.IsBad(7, StatusCode.BadNodeIdUnknown, "no such node");
        await heard.IsBad(8, StatusCode.BadNodeIdUnknown, "no such node");
        await Heard.Eventually(() => heard[10] is { Status.IsBad: true, Reason: "an array of 3 came; it has no element 9" });
        await Heard.Eventually(() =>
            heard.Link.Status is { State: LinkState.Partial, Reason: { } why } && why.StartsWith("2 of", StringComparison.Ordinal)
        );

        (await heard.Link.WriteAsync(new(tags[3], 6.5), TestContext.Current.CancellationToken)).ShouldBe(WriteResult.Confirmed);
        await heard.Holds(4, 6.5);
        (await heard.Link.WriteAsync(new(tags[1], 12, null, new Slice(2, null, 1)), TestContext.Current.CancellationToken)).ShouldBe(
            WriteResult.Confirmed
        );
        await heard.Holds(2, 12, 2);
        await heard.Holds(2, 80.5, 1);
        (await heard.Link.WriteAsync(new(tags[1], 12), TestContext.Current.CancellationToken)).Outcome.ShouldBe(WriteOutcome.Confirmed);
        (await heard.Link.WriteAsync(new(tags[6], 1), TestContext.Current.CancellationToken)).Reason.ShouldContain("no such node");
        var code = UaFixture.TagOf(items["Utilities/ServiceCode"], 20);
        (await heard.Link.WriteAsync(new(code, double.NaN, "1234"), TestContext.Current.CancellationToken)).Outcome.ShouldBe(
            WriteOutcome.Refused
        );

        // Other tags are followed without connecting anew, and what a node held before is news to a tag that comes later.
        heard.Link.Retag([tags[0] with { Id = 30 }, tags[2]]);
        await heard.Holds(30, 7.25);
    }

    private static JsonObject Json(string text) => JsonNode.Parse(text)!.AsObject();
}
