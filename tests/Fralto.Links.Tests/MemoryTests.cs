using Fralto.Core.Controllers;
using Fralto.Core.Mqtt;
using Fralto.Core.Protocols;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Links.Mqtt;

namespace Fralto.Links.Tests;

/// <summary>What is measured of the whole process, so that nothing else may run beside it.</summary>
[CollectionDefinition(nameof(MemoryTests), DisableParallelization = true)]
[Collection(nameof(MemoryTests))]
public sealed class MemoryTests
{
    [Fact]
    public async Task Garbage_and_broken_connections_again_and_again_leave_no_memory_behind()
    {
        await using var broker = await Mosquitto.StartAsync();
        Tag[] tags = [Tag(1, "good"), Tag(2, "bad#/v")];
        await using var heard = new Heard(m => new MqttLink(
            new(1, "hub", new MqttConnection("127.0.0.1", broker.Port), TimeSpan.Zero),
            tags,
            m,
            TimeProvider.System,
            null
        ));
        var before = 0L;
        for (var round = 0; round < 6; round++)
        {
            await Heard.Eventually(() => heard.Link.Status.State == LinkState.Up);
            await using (var device = await TestPublisher.ConnectAsync(broker.Port))
            {
                for (var i = 0; i < 200; i++)
                    await device.SayAsync("bad", $"{{\"v\":{i},\"x\":\"{new string('x', 2000)}");
                await device.SayAsync("good", $"{round}");
            }
            await heard.Holds(1, round);
            await broker.CloseAsync();
            await heard.IsBad(1, StatusCode.BadNotConnected, "conn");
            await broker.OpenAsync();
            if (round == 1)
                before = GC.GetTotalMemory(forceFullCollection: true);
        }
        (GC.GetTotalMemory(forceFullCollection: true) - before).ShouldBeLessThan(5_000_000);
    }

    private static Tag Tag(long id, string address) =>
        new(id, 1, $"T{id}", Protocol.Mqtt.Rules().ReadAddress(address, out _)!, RawType.Float64, WordOrder.HighFirst, "");
}
