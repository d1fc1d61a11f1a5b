using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Mqtt;
using Fralto.Core.Sparkplug;
using Fralto.Store;

namespace Fralto.Runtime.Tests;

/// <summary>A password is sent where it was given for, and nowhere else.</summary>
public sealed class LinkKeepingTests : IDisposable
{
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-keeping-").FullName;

    public void Dispose() => Directory.Delete(_directory, recursive: true);

    [Fact]
    public void However_a_controller_comes_to_point_elsewhere_its_password_does_not_go_there()
    {
        using var store = PlantStore.Open(Path.Combine(_directory, "plant.db"));
        var keeping = new LinkKeeping(store.Run, new MirrorProtector(), TimeProvider.System);
        var hub = new MqttConnection("hub.local", 8883) { UsesTls = true, User = "ada" };
        keeping.SetPassword(7, hub, "s3cret").ShouldBeNull();
        keeping.Password(7, hub).ShouldBe("s3cret");
        keeping.Password(7, hub with { User = "bea", KeepAlive = 3, Host = "HUB.local" }).ShouldBe("s3cret");
        foreach (
            var elsewhere in new Connection[]
            {
                hub with
                {
                    Host = "evil.local",
                },
                hub with
                {
                    Port = 1883,
                },
                hub with
                {
                    UsesTls = false,
                },
                new SparkplugConnection("evil.local", 8883) { UsesTls = true },
                new ModbusConnection("hub.local", 8883, 1),
            }
        )
        {
            keeping.Password(7, elsewhere).ShouldBeNull();
            if (elsewhere is MqttConnection)
                keeping.PasswordIsFor(7, elsewhere).ShouldBe("mqtts://hub.local:8883");
        }
        // Back where it was given for, it is sent again; given anew, it is for the new place alone, and what runs goes on with its own
        // until the new one is released; forgotten, both are gone.
        keeping.Password(7, hub).ShouldBe("s3cret");
        keeping.SetPassword(7, hub with { Host = "other.local" }, "n3w");
        keeping.Password(7, hub with { Host = "other.local" }).ShouldBe("n3w");
        keeping.Password(7, hub).ShouldBe("s3cret");
        keeping.Password(7, hub with { Host = "third.local" }).ShouldBeNull();
        keeping.SetPassword(7, hub with { Host = "other.local" }, "");
        keeping.Password(7, hub with { Host = "other.local" }).ShouldBeNull();
        keeping.Password(7, hub).ShouldBe("s3cret");
        keeping.SetPassword(7, null, "");
        keeping.Password(7, hub).ShouldBeNull();
        keeping.Password(7, hub with { Host = "other.local" }).ShouldBeNull();
        keeping.PasswordIsFor(7, hub).ShouldBeNull();
    }

    [Fact]
    public void A_password_kept_before_places_were_belongs_to_where_the_controller_leads_now()
    {
        using var store = PlantStore.Open(Path.Combine(_directory, "plant.db"));
        var protector = new MirrorProtector();
        store.Run.SetSecret(7, protector.Protect("old"), null);
        var keeping = new LinkKeeping(store.Run, protector, TimeProvider.System);
        keeping.Password(7, new MqttConnection("hub.local", 1883)).ShouldBe("old");
        keeping.Password(7, new MqttConnection("evil.local", 1883)).ShouldBeNull();
    }

    [Fact]
    public void What_was_kept_with_other_keys_is_no_password()
    {
        using var store = PlantStore.Open(Path.Combine(_directory, "plant.db"));
        store.Run.SetSecret(7, "kept with other keys", "mqtt://hub.local:1883");
        new LinkKeeping(store.Run, new MirrorProtector(), TimeProvider.System)
            .Password(7, new MqttConnection("hub.local", 1883))
            .ShouldBeNull();
    }
}
