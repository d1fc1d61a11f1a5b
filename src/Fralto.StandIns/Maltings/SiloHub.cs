using System.Globalization;
using System.Text;
using Fralto.StandIns.Mqtt;

namespace Fralto.StandIns.Maltings;

/// <summary>The hub of the silo park: JSON and bare text on plain MQTT topics, temperatures in °F, mass in lb.</summary>
/// <remarks>Its honest mistakes: silo 9 gives its mass in kg, silo 14 its temperatures in °C, silo 19 no level at all, and silo 22 calls
/// itself silo 21.</remarks>
public sealed class SiloHub : IAsyncDisposable
{
    public const string Root = "silo-park";

    /// <summary>Topic of its life sign and last will.</summary>
    public const string StatusTopic = Root + "/status";

    /// <summary>The silo whose mass is in kg although all others say lb.</summary>
    public const int MassInKilograms = 9;

    /// <summary>The silo whose temperatures are in °C although all others say °F.</summary>
    public const int TemperaturesInCelsius = 14;

    /// <summary>The silo that has no level.</summary>
    public const int WithoutLevel = 19;

    /// <summary>The silo that goes by the name of the one before it.</summary>
    public const int DuplicateName = 22;

    private const double PoundsPerKilogram = 1 / 0.45359237;
    private const int FloodMessages = 2000;
    private static readonly TimeSpan Every = TimeSpan.FromSeconds(1);
    private readonly IReadOnlyList<GrainSilo> _silos;
    private readonly Publisher _publisher;
    private TimeSpan _said = TimeSpan.MinValue;

    public SiloHub(IReadOnlyList<GrainSilo> silos, Func<int> port)
    {
        _silos = silos;
        _publisher = new(port, "silo-hub")
        {
            Will = () => (StatusTopic, Encoding.UTF8.GetBytes("offline"), true),
            Listens = [$"{Root}/+/aeration/set"],
            Heard = Command,
        };
    }

    /// <summary>True while it is switched off.</summary>
    public bool IsGone => _publisher.IsOff;

    /// <summary>True while it sends far more than anybody asked for.</summary>
    public bool Floods { get; set; }

    /// <summary>Breaks its connection, or lets it come back.</summary>
    public void Switch(bool gone) => _publisher.Switch(gone);

    /// <summary>Publishes the state of the silos when it is time.</summary>
    /// <param name="simulated">Time of the simulation.</param>
    /// <param name="real">Time since the beginning.</param>
    /// <param name="now">Time of day, for the messages.</param>
    /// <param name="stop">Cancels.</param>
    public async Task AdvanceToAsync(TimeSpan simulated, TimeSpan real, DateTimeOffset now, CancellationToken stop)
    {
        if (await _publisher.ConnectAsync(stop))
        {
            await _publisher.SayAsync(StatusTopic, "online", retain: true);
            _said = TimeSpan.MinValue;
        }
        foreach (var silo in _silos)
            silo.AdvanceTo(simulated);
        if (Floods)
            for (var i = 0; i < FloodMessages; i++)
                await SayAsync(i % _silos.Count, now);
        if (_said != TimeSpan.MinValue && real - _said < Every)
            return;
        _said = real;
        for (var i = 0; i < _silos.Count; i++)
        {
            await SayAsync(i, now);
            await _publisher.SayAsync($"{Root}/{Name(i)}/aeration", _silos[i].IsAired ? "on" : "off", retain: true);
        }
    }

    public ValueTask DisposeAsync() => _publisher.DisposeAsync();

    private static string Name(int index) => $"S{(index + 1).ToString("00", CultureInfo.InvariantCulture)}";

    private Task SayAsync(int index, DateTimeOffset now)
    {
        var silo = _silos[index];
        var mass = index + 1 == MassInKilograms ? silo.Mass : silo.Mass * PoundsPerKilogram;
        var temperatures = string.Join(
            ',',
            silo.Cables.Select(c => (index + 1 == TemperaturesInCelsius ? c : c * 1.8 + 32).ToString("0.0", CultureInfo.InvariantCulture))
        );
        var level =
            index + 1 == WithoutLevel
                ? ""
                : string.Create(
                    CultureInfo.InvariantCulture,
                    $"\"level\":{{\"m\":{silo.Level:0.000},\"mA\":{4 + 16 * silo.Level / 18:0.000}}},"
                );
        return _publisher.SayAsync(
            $"{Root}/{Name(index)}",
            string.Create(
                CultureInfo.InvariantCulture,
                $"{{\"ts\":\"{now.UtcDateTime:yyyy-MM-ddTHH:mm:ss.fffZ}\",\"name\":\"Silo "
                    + $"{(index + 1 == DuplicateName ? index : index + 1)}\",{level}\"mass_lb\":{mass:0},\"temps_degF\":["
                    + $"{temperatures}],\"q\":\"good\"}}"
            )
        );
    }

    private void Command(string topic, byte[] payload)
    {
        if (
            topic.Split('/') is not [Root, ['S', .. var number], "aeration", "set"]
            || !int.TryParse(number, NumberStyles.None, CultureInfo.InvariantCulture, out var n)
            || n < 1
            || n > _silos.Count
        )
            return;
        var word = Encoding.UTF8.GetString(payload).Trim();
        if (word is "true" or "1" or "on")
            _silos[n - 1].IsAired = true;
        else if (word is "false" or "0" or "off")
            _silos[n - 1].IsAired = false;
        else
            return;
        _ = _publisher.SayAsync($"{Root}/{Name(n - 1)}/aeration", _silos[n - 1].IsAired ? "on" : "off", retain: true);
    }
}
