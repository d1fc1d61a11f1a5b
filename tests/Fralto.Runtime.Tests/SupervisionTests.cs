using System.Collections.Concurrent;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Memory;
using Fralto.Core.Modbus;
using Fralto.Core.Mqtt;
using Fralto.Core.OpcUa;
using Fralto.Core.Scaling;
using Fralto.Core.Sparkplug;
using Fralto.Links;

namespace Fralto.Runtime.Tests;

/// <summary>One link a controller: started, followed, restarted and ended without anybody waiting for another.</summary>
public sealed class SupervisionTests
{
    [Fact]
    public async Task A_new_tag_is_followed_by_the_link_there_is_and_a_changed_controller_gets_a_new_one()
    {
        await using var plant = await new Plant().BegunAsync();
        plant.Do(m => new SaveTag(null, Plant.Of(m, "one"), "T3", RegisterArea.InputRegister, 7, RawType.Int16, WordOrder.HighFirst, ""));
        await plant.Until(() => plant.Driver["one"].Tags.Count == 2, turns: true);
        plant.Driver.Made.Count.ShouldBe(2);
        plant.Do(m => new SaveController(Plant.Of(m, "one"), "one", "127.0.0.1", 999, 1, 60_000));
        await plant.Until(() => plant.Driver.Made.Count == 3 && plant.Driver["one"].Runs == 1, turns: true);
        plant.Driver.Made.First(l => l.Setup.Controller.Name == "one").HasEnded.ShouldBeTrue();
        plant.Driver["two"].HasEnded.ShouldBeFalse();
    }

    /// <summary>While the plan of one model is made another comes: what its links tell but once must find an engine that knows
    /// of it.</summary>
    [Fact]
    public async Task Links_follow_no_tag_that_the_engine_does_not_have_yet()
    {
        await using var plant = await new Plant().BegunAsync();
        var early = new ConcurrentQueue<string>();
        plant.Driver.Making = setup =>
        {
            if (!setup.Tags.All(t => plant.Runtime.RunningModel!.Tags.ContainsKey(t.Id)))
                early.Enqueue(setup.Controller.Name);
        };
        plant.Do(_ => new SaveController(null, "three", "127.0.0.1", 504, 1, 60_000));
        plant.Pass(0.05);
        plant.Do(_ => new SaveController(null, "four", "127.0.0.1", 505, 1, 60_000));
        plant.Do(m => new SaveTag(null, Plant.Of(m, "four"), "T4", RegisterArea.InputRegister, 0, RawType.Int16, WordOrder.HighFirst, ""));
        await plant.Until(() => plant.Driver.Made.Any(l => l.Setup.Controller.Name == "four"), turns: true);
        early.ShouldBeEmpty();
        plant.Driver["four"].Tags.Count.ShouldBe(1);
    }

    [Fact]
    public async Task A_link_that_does_not_end_holds_up_only_the_one_that_takes_its_place()
    {
        await using var plant = await new Plant(new FakeDriver { Lingers = true }).BegunAsync();
        var old = plant.Driver["one"];
        plant.Do(m => new SaveController(Plant.Of(m, "one"), "one", "127.0.0.1", 999, 1, 60_000));
        plant.Do(m => new SaveController(null, "three", "127.0.0.1", 504, 1, 60_000));
        await plant.Until(() => plant.Driver.Made.Any(l => l.Setup.Controller.Name == "three" && l.Runs == 1), turns: true);
        plant.Driver["one"].ShouldNotBeSameAs(old);
        plant.Driver["one"].Runs.ShouldBe(0, "two links to one device at once would be in each other's way");
        plant.Driver["two"].Read("T2", 42);
        plant.Pass(0.5);
        plant.ValueOf("K2").Value.ShouldBe(42, "values keep flowing meanwhile");
        old.End();
        await plant.Until(() => plant.Driver["one"].Runs == 1);
    }

    [Fact]
    public async Task A_link_that_fails_begins_again_and_the_others_do_not_notice()
    {
        await using var plant = new Plant();
        plant.Runtime.Begin();
        await plant.Until(() => plant.Driver.Made.Count == 2 && plant.Driver.Made.All(l => l.Runs == 1));
        plant.Driver.NextFailsWith = new InvalidOperationException("a fault of the link");
        plant.Do(m => new SaveController(Plant.Of(m, "one"), "one", "127.0.0.1", 999, 1, 60_000));
        await plant.Until(() => plant.Driver.Made.Count == 3 && plant.Driver["one"].Runs == 2, turns: true);
        plant.Driver["one"].FailsWith.ShouldBeNull("it has failed once and runs the second time");
        plant.Driver["one"].Read("T1", 33);
        plant.Pass(0.5);
        plant.ValueOf("K1").Value.ShouldBe(33);
        plant.Driver["two"].Runs.ShouldBe(1);
    }

    [Fact]
    public void A_protocol_without_a_driver_is_named_and_never_taken_for_another()
    {
        Should
            .Throw<NotSupportedException>(() => new ProtocolDrivers([new FakeDriver(Protocol.Mqtt)]).For(new ModbusConnection("h", 502, 1)))
            .Message.ShouldContain("Modbus TCP");
        foreach (
            var connection in new Connection[]
            {
                new ModbusConnection("h", 502, 1),
                new MqttConnection("h", 1883),
                new SparkplugConnection("h", 1883),
                new OpcUaConnection("opc.tcp://h"),
                new MemoryConnection(),
            }
        )
            ProtocolDrivers.Shipped(new("unused"), TimeProvider.System).For(connection).Protocol.ShouldBe(connection.Protocol);
    }
}
