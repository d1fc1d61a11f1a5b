using CsCheck;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Memory;
using Fralto.Core.Modbus;
using Fralto.Core.Mqtt;
using Fralto.Core.OpcUa;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Core.Sparkplug;

namespace Fralto.Core.Tests;

/// <summary>Addresses as people write them, for every protocol, and what is said to those that are none.</summary>
public sealed class AddressTests
{
    [Theory]
    [InlineData(Protocol.Modbus, "holding 120")]
    [InlineData(Protocol.Modbus, "input 4.3")]
    [InlineData(Protocol.Modbus, "unit 7 coil 65535")]
    [InlineData(Protocol.Mqtt, "silo/7/level")]
    [InlineData(Protocol.Mqtt, "silo/7#/temps/2")]
    [InlineData(Protocol.Mqtt, "silo/7#")]
    [InlineData(Protocol.Mqtt, "silo/7#/v | time #/ts | quality #/q | set silo/7/set")]
    [InlineData(Protocol.Sparkplug, "Plant/edge#Node Control/Rebirth")]
    [InlineData(Protocol.Sparkplug, "Plant/edge/box-1#bed/mid [2]")]
    [InlineData(Protocol.Sparkplug, "Plant/edge#contacts | element 3")]
    [InlineData(Protocol.OpcUa, "i=2258")]
    [InlineData(Protocol.OpcUa, "nsu=http://utility/;s=Compressor 1.Pressure")]
    [InlineData(Protocol.OpcUa, "nsu=urn:a%3Bb%25;g=09087e75-8e5e-499b-954f-f2a9603db28a | element 3")]
    [InlineData(Protocol.OpcUa, "nsu=urn:x;b=M/RbKBsRVkePCePcx24oRA== | member state/phase | element 0")]
    [InlineData(Protocol.Memory, "")]
    [InlineData(Protocol.Memory, "retained")]
    [InlineData(Protocol.Memory, "start 20.5, retained")]
    public void An_address_reads_back_as_it_is_written(Protocol protocol, string text)
    {
        var address = protocol.Rules().ReadAddress(text, out var problem);
        problem.ShouldBeNull();
        address!.ToString().ShouldBe(text);
    }

    [Theory]
    [InlineData("40121", "holding 120")]
    [InlineData("400121", "holding 120")]
    [InlineData("40121.3", "holding 120.3")]
    [InlineData("30005.15", "input 4.15")]
    [InlineData("unit 3 40121.0", "unit 3 holding 120.0")]
    [InlineData("00008", "coil 7")]
    [InlineData("10001", "discrete 0")]
    public void A_number_as_manuals_print_it_is_the_address_on_the_wire(string number, string address) =>
        ModbusAddress.Parse(number, out _)!.ToString().ShouldBe(address);

    [Theory]
    [InlineData("40121.16")]
    [InlineData("40121.")]
    [InlineData("40000")]
    [InlineData("50001")]
    [InlineData("40121.1-3")]
    [InlineData("40121.x")]
    public void A_number_that_is_none_is_refused_with_the_reason(string number)
    {
        ModbusAddress.Parse(number, out var problem).ShouldBeNull();
        problem.ShouldNotBeNullOrWhiteSpace();
    }

    /// <summary>Pieces of which names are made that lead an address astray: what parts it, what is said beside it, blanks, quotes, signs
    /// outside ASCII.</summary>
    private static readonly Gen<string> Odd = OneOf(
        " | ",
        " |",
        "| ",
        "|",
        " ",
        "  ",
        "\"",
        " \"",
        "\" ",
        "\\",
        "/",
        "#",
        "time #",
        "set ",
        "quality #/q",
        "element 3",
        "start ",
        ", retained",
        "~",
        "~1",
        "é",
        "水",
        "😀",
        "a",
        "7",
        ":",
        "%20"
    )
        .Array[1, 8]
        .Select(string.Concat);

    private static Gen<string> OneOf(params string[] some) => Gen.Int[0, some.Length - 1].Select(i => some[i]);

    private static readonly Gen<string> Unruly = Gen.Select(Odd, OneOf("", "\t", "\n", "\u0000", "\ud83d", "\udc00"), Gen.Int[0, 20])
        .Select((text, odd, at) => text.Insert(Math.Min(at, text.Length), odd));

    [Fact]
    public void Every_topic_and_key_that_is_one_reads_back_as_itself() =>
        Gen.Select(Odd, Odd, Odd, Odd, Gen.Int[0, 31])
            .Sample(
                (topic, key, other, set, says) =>
                {
                    (topic, set) = (topic.Replace('#', '_'), set.Replace('#', '_'));
                    var pointer = "/" + TopicAddress.Step(key);
                    var address = new TopicAddress(topic, (says & 1) == 0 ? null : pointer);
                    if ((says & 3) == 3)
                        address = address with { TimePointer = pointer + "/" + TopicAddress.Step(other) };
                    if ((says & 5) == 5)
                        address = address with { QualityPointer = "/" + TopicAddress.Step(other) };
                    if ((says & 8) != 0)
                        address = address with { CommandTopic = set };
                    address.KeepingProblem().ShouldBeNull();
                    Protocol.Mqtt.Rules().ReadAddress(address.ToString(), out _).ShouldBe(address);
                },
                iter: 5000
            );

    [Fact]
    public void Every_node_reads_back_as_itself() =>
        Gen.Select(Odd, Unruly, Unruly, Gen.Int[-1, 3], Gen.Int[0, 3])
            .Sample(
                (space, name, member, element, kind) =>
                {
                    var identifier = kind switch
                    {
                        0 => $"i={(uint)name.GetHashCode(StringComparison.Ordinal)}",
                        1 => $"g={new Guid(name.Length, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10):D}",
                        2 => $"b={Convert.ToBase64String([.. name.Select(c => (byte)c)])}",
                        _ => $"s={name}",
                    };
                    var address = new NodeAddress(space, identifier, member.Length == 0 ? null : member, element < 0 ? null : element);
                    // What cannot be read back is told, and never becomes another node.
                    if (address.KeepingProblem() is null)
                        Protocol.OpcUa.Rules().ReadAddress(address.ToString(), out _).ShouldBe(address);
                    else
                        (identifier + member).Any(c => char.IsSurrogate(c) || char.IsControl(c)).ShouldBeTrue(address.KeepingProblem());
                },
                iter: 5000
            );

    [Fact]
    public void Every_metric_reads_back_as_itself() =>
        Gen.Select(Odd, Odd, Odd, Unruly, Gen.Int[-1, 3], Gen.Bool)
            .Sample(
                (group, node, device, metric, element, hasDevice) =>
                {
                    static string Id(string text) => text.Replace('/', '_').Replace('#', '_');
                    var address = new MetricAddress(
                        Id(group),
                        Id(node),
                        hasDevice ? Id(device) : null,
                        metric,
                        element < 0 ? null : element
                    );
                    if (metric.Contains('\ud83d') && !metric.Contains("\ud83d\ude00") || metric.Contains('\udc00'))
                        address.KeepingProblem().ShouldNotBeNull();
                    else if (address.KeepingProblem() is null)
                        Protocol.Sparkplug.Rules().ReadAddress(address.ToString(), out _).ShouldBe(address);
                    else
                        metric.Any(char.IsSurrogate).ShouldBeTrue(address.KeepingProblem());
                },
                iter: 5000
            );

    [Fact]
    public void Every_start_value_reads_back_as_itself() =>
        Gen.Select(Odd, Gen.Bool)
            .Sample(
                (start, retained) =>
                {
                    var address = new MemoryAddress(start, retained);
                    address.KeepingProblem().ShouldBeNull();
                    Protocol.Memory.Rules().ReadAddress(address.ToString(), out _).ShouldBe(address);
                },
                iter: 5000
            );

    [Theory]
    [InlineData("a | b", "\"a | b\"")]
    [InlineData("silo/7 ", "\"silo/7 \"")]
    [InlineData("say \"so\"", "\"say \\\"so\\\"\"")]
    public void What_would_not_read_back_stands_in_quotes(string topic, string line)
    {
        new TopicAddress(topic).ToString().ShouldBe(line);
        Protocol.Mqtt.Rules().ReadAddress(line, out _).ShouldBe(new TopicAddress(topic));
    }

    [Fact]
    public void An_address_that_could_not_be_kept_is_refused_before_it_is_taken()
    {
        var plant = new PlantBuilder().Do(new SaveController(null, "hub", new MqttConnection("localhost", 1883), 1000), "hub");
        var longest = new TopicAddress(new string('t', TagAddress.Longest));
        longest.KeepingProblem().ShouldBeNull();
        foreach (
            var (address, why) in new[]
            {
                (longest with { Topic = longest.Topic + "t" }, "501 characters"),
                (new TopicAddress("a", "/x\ud800"), "half of a character pair"),
            }
        )
        {
            plant
                .Refused(b => new SaveTag(null, b["hub"], "T", address, RawType.Float64, WordOrder.HighFirst, ""))
                .ShouldContain(p => p.Field == "Address" && p.Message.Contains(why));
            plant
                .Refused(b => new DeclareTags(b["hub"], [new(address, ["t"], RawType.Float64, 1, "1", null, null, "")]))
                .ShouldContain(p => p.Message.Contains(why));
        }
    }

    [Fact]
    public void A_range_of_bits_is_told_where_it_belongs()
    {
        Protocol.Modbus.Rules().ReadAddress("holding 4.4-6", out var problem).ShouldBeNull();
        problem!.ShouldContain("Declare holding 4 as a whole and bind its part .4-6");
    }

    [Theory]
    [InlineData("KLN\u00001")]
    [InlineData("KLN\t1")]
    [InlineData("\u00001")]
    public void No_code_holds_a_control_character(string code) => Basics.Naming.CodeProblem(code).ShouldNotBeNull();

    /// <summary>The numbers of device manuals: table digit, then counted from 1 (a convention, common practice, no source).</summary>
    [Theory]
    [InlineData("40001", "holding 0")]
    [InlineData("30121", "input 120")]
    [InlineData("00008", "coil 7")]
    [InlineData("465536", "holding 65535")]
    [InlineData("4x 12", "holding 12")]
    public void Numbers_of_manuals_are_understood(string number, string address) =>
        Protocol.Modbus.Rules().ReadAddress(number, out _)!.ToString().ShouldBe(address);

    [Theory]
    [InlineData(Protocol.Modbus, "register 5", "as in holding 120")]
    [InlineData(Protocol.Modbus, "input 5.16", "0 to 15")]
    [InlineData(Protocol.Modbus, "unit 256 input 5", "0 to 255")]
    [InlineData(Protocol.Modbus, "20001", "begins with 0, 1, 3 or 4")]
    [InlineData(Protocol.Modbus, "holding -1", "whole number from 0")]
    [InlineData(Protocol.Mqtt, "", "Give the topic")]
    [InlineData(Protocol.Mqtt, "silo/+/level", "wildcard")]
    [InlineData(Protocol.Mqtt, "$SYS/uptime", "belong to the broker")]
    [InlineData(Protocol.Mqtt, "silo#level", "begins with #/")]
    [InlineData(Protocol.Mqtt, "silo | time #/ts", "say where the value is too")]
    [InlineData(Protocol.Mqtt, "silo#/v | colour red", "not understood")]
    [InlineData(Protocol.OpcUa, "ns=2;s=Pressure", "may be another after the server's next start")]
    [InlineData(Protocol.OpcUa, "nsu=http://x/", "is no node")]
    [InlineData(Protocol.OpcUa, "i=-1", "is no node")]
    [InlineData(Protocol.OpcUa, "g=12", "is no node")]
    [InlineData(Protocol.OpcUa, "Pressure", "nsu=http://address.of.its/namespace/;s=Name")]
    [InlineData(Protocol.Sparkplug, "Plant/edge", "group/node/device#metric")]
    [InlineData(Protocol.Sparkplug, "Plant/+/x#m", "group/node/device#metric")]
    [InlineData(Protocol.Memory, "begin 5", "start 20, retained")]
    public void What_is_no_address_is_told_what_would_be(Protocol protocol, string text, string says)
    {
        protocol.Rules().ReadAddress(text, out var problem).ShouldBeNull();
        problem!.ShouldContain(says);
    }

    /// <summary>RFC 6901, section 3: ~1 stands for / and ~0 for ~, ~01 for ~1.</summary>
    [Fact]
    [Trait("source", "RFC 6901, section 3 and 5")]
    public void Pointers_escape_as_their_standard_says()
    {
        TopicAddress.Steps("/a~1b/m~0n/~01").ShouldBe(["a/b", "m~n", "~1"]);
        TopicAddress.Steps("").ShouldBeEmpty();
        TopicAddress.Step("a/b~c").ShouldBe("a~1b~0c");
    }

    [Theory]
    [Trait("source", "OASIS MQTT 3.1.1, section 4.7.1")]
    [InlineData("#", true)]
    [InlineData("sport/tennis/player1/#", true)]
    [InlineData("sport/tennis#", false)]
    [InlineData("sport/tennis/#/ranking", false)]
    [InlineData("+/tennis/#", true)]
    [InlineData("sport+", false)]
    [InlineData("sport/+/player1", true)]
    [InlineData("", false)]
    public void Filters_keep_to_the_standards_own_examples(string filter, bool isFine) =>
        (TopicAddress.FilterProblem(filter) is null).ShouldBe(isFine);

    [Fact]
    public void Every_connection_goes_through_its_entry_unchanged()
    {
        Connection[] all =
        [
            new ModbusConnection("plc", 502, 7)
            {
                LargestRead = 60,
                Gap = 0,
                Retries = 3,
            },
            new MqttConnection("broker", 8883)
            {
                UsesTls = true,
                IsVersion5 = true,
                User = "ada",
                ClientId = "c",
                KeepAlive = 30,
                StatusTopic = "hub/status",
                OnlinePayload = "1",
                Authority = "-----BEGIN CERTIFICATE-----",
            },
            new SparkplugConnection("broker", 1883) { Group = "Plant", HostId = "scada" },
            new OpcUaConnection("opc.tcp://server:4840/plant"),
            new OpcUaConnection("opc.tcp://server:4840")
            {
                Security = new("Aes256_Sha256_RsaPss", "Sign"),
                Login = UaLogin.Password,
                User = "ada",
                Sampling = TimeSpan.FromMilliseconds(100),
                Queue = 10,
                Deadband = 0.5,
            },
            new OpcUaConnection("opc.tcp://server:4840") { Security = UaSecurity.None },
            new MemoryConnection(),
        ];
        foreach (var connection in all)
            connection.Written(new ConnectionEntry()).Read().ShouldBe(connection);
    }

    [Fact]
    public void Names_and_places_are_unique_in_a_controller_and_a_free_name_is_offered()
    {
        var plant = PlantBuilder.Kiln();
        plant
            .Refused(b => new SaveTag(null, b["plc"], "tt11", RegisterArea.HoldingRegister, 9, RawType.Int16, WordOrder.HighFirst, ""))
            .ShouldContain(p => p.Field == "Name" && p.Message.Contains("tt11_2 is free"));
        plant
            .Refused(b => new SaveTag(null, b["plc"], "other", RegisterArea.InputRegister, 0, RawType.Int16, WordOrder.HighFirst, ""))
            .ShouldContain(p => p.Field == "Address" && p.Message.Contains("TT11 is int16 at input 0 already"));
        // The unit id that is the controller's own anyway makes it no other place.
        plant
            .Refused(b => new SaveTag(
                null,
                b["plc"],
                "other",
                new ModbusAddress(RegisterArea.InputRegister, 0, null, 1),
                RawType.Int16,
                WordOrder.HighFirst,
                ""
            ))
            .ShouldContain(p => p.Field == "Address");
        plant.Do(b => new SaveTag(
            null,
            b["plc"],
            "other",
            new ModbusAddress(RegisterArea.InputRegister, 0, null, 2),
            RawType.Int16,
            WordOrder.HighFirst,
            ""
        ));
    }

    [Theory]
    [InlineData("TT<1>", "'TT-1-' would do")]
    [InlineData(" TT1", "'TT1' would do")]
    public void An_illegal_name_is_refused_with_one_that_would_do(string name, string says) =>
        PlantBuilder
            .Kiln()
            .Refused(b => new SaveTag(null, b["plc"], name, RegisterArea.HoldingRegister, 9, RawType.Int16, WordOrder.HighFirst, ""))
            .ShouldContain(p => p.Field == "Name" && p.Message.Contains(says));

    [Fact]
    public void Arrays_are_taken_whole_or_element_by_element_whatever_the_protocol()
    {
        var plant = new PlantBuilder().Do(new SaveController(null, "edge", new SparkplugConnection("h", 1883), 0), "edge");
        var item = new SourceItem(Protocol.Sparkplug.Rules().ReadAddress("G/E#doors", out _)!, ["G", "E", "doors"], RawType.Bool, 3, "");
        plant.Do(b => new DeclareTags(b["edge"], [item]));
        plant.Do(b => new DeclareTags(b["edge"], [item], Unfold: true));
        plant
            .Model.Tags.Values.Select(t => $"{t.Name} {t.Address} {t.Count}")
            .ShouldBe(
                [
                    "G/E/doors G/E#doors 3",
                    "G/E/doors/0 G/E#doors | element 0 1",
                    "G/E/doors/1 G/E#doors | element 1 1",
                    "G/E/doors/2 G/E#doors | element 2 1",
                ],
                ignoreOrder: true
            );
    }

    [Fact]
    public void A_tag_is_renamed_without_losing_its_binding()
    {
        var plant = PlantBuilder.Kiln();
        plant.Do(b => new SaveTag(
            b["TT11"],
            b["plc"],
            "KLN1-AirOn",
            RegisterArea.InputRegister,
            0,
            RawType.Int16,
            WordOrder.HighFirst,
            ""
        ));
        plant.Model.Bindings.Values.Single().TagId.ShouldBe(plant["TT11"]);
    }

    [Theory]
    [InlineData(Protocol.Mqtt, RawType.Bcd16, 1, "Type")]
    [InlineData(Protocol.Mqtt, RawType.Float64, 3, "Count")]
    [InlineData(Protocol.Memory, RawType.Float64, 3, "Count")]
    public void Types_that_a_protocol_does_not_have_are_refused(Protocol protocol, RawType type, int count, string field)
    {
        var plant = new PlantBuilder().Do(
            new SaveController(null, "c", protocol == Protocol.Mqtt ? new MqttConnection("h", 1883) : new MemoryConnection(), 0),
            "c"
        );
        plant
            .Refused(b => new SaveTag(
                null,
                b["c"],
                "T",
                protocol.Rules().ReadAddress(protocol == Protocol.Mqtt ? "a/b" : "", out _)!,
                type,
                WordOrder.HighFirst,
                "",
                count
            ))
            .ShouldContain(p => p.Field == field);
    }

    [Fact]
    public void A_controller_keeps_its_protocol_and_its_used_update_classes_while_it_has_tags()
    {
        var plant = PlantBuilder.Kiln();
        plant.Refused(b => new SaveController(b["plc"], "plc", new MqttConnection("h", 1883), 0)).ShouldContain(p => p.Field == "Protocol");
        plant.Do(b => new SaveController(b["plc"], "plc", new ModbusConnection("h", 502, 1), 500, [new("slow", TimeSpan.FromSeconds(5))]));
        plant.Do(b => new SaveTag(
            b["TT11"],
            b["plc"],
            "TT11",
            new ModbusAddress(RegisterArea.InputRegister, 0),
            RawType.Int16,
            WordOrder.HighFirst,
            "",
            UpdateClass: "slow"
        ));
        plant
            .Refused(b => new SaveController(b["plc"], "plc", new ModbusConnection("h", 502, 1), 500, []))
            .ShouldContain(p => p.Message.Contains("slow is used by 1 tag"));
        plant
            .Refused(b => new SaveTag(
                b["TT11"],
                b["plc"],
                "TT11",
                new ModbusAddress(RegisterArea.InputRegister, 0),
                RawType.Int16,
                WordOrder.HighFirst,
                "",
                UpdateClass: "slo"
            ))
            .ShouldContain(p => p.Message.Contains("did you mean slow"));
        var (controller, tag) = (plant.Model.Controllers[plant["plc"]], plant.Model.Tags[plant["TT11"]]);
        controller.IntervalOf(tag).ShouldBe(TimeSpan.FromSeconds(5));
        controller.StaleAfter(tag).ShouldBe(TimeSpan.FromSeconds(15));
        controller.StaleAfter(tag with { UpdateClass = null }).ShouldBe(TimeSpan.FromMilliseconds(1500));
    }
}
