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

    /// <summary>What stands at a place of the message of a silo, to the digits that are written; null where nothing does.</summary>
    /// <param name="index">The silo, from 0.</param>
    /// <param name="pointer">The place: a JSON pointer (RFC 6901).</param>
    internal static Func<GrainSilo, double>? ReaderOf(int index, string pointer) =>
        pointer switch
        {
            "/level/m" when index + 1 != WithoutLevel => s => Math.Round(s.Level, 3),
            "/level/mA" when index + 1 != WithoutLevel => s => Math.Round(4 + 16 * s.Level / 18, 3),
            "/mass_lb" when index + 1 == MassInKilograms => s => Math.Round(s.Mass),
            "/mass_lb" => s => Math.Round(s.Mass * PoundsPerKilogram),
            ['/', 't', 'e', 'm', 'p', 's', '_', 'd', 'e', 'g', 'F', '/', >= '0' and <= '2' and var cable] => index + 1
            == TemperaturesInCelsius
                ? s => Math.Round(s.Cables[cable - '0'], 1)
                : s => Math.Round(s.Cables[cable - '0'] * 1.8 + 32, 1),
            _ => null,
        };

    /// <summary>The silo that a topic speaks of, from 0; null for none.</summary>
    /// <param name="topic">The topic of its message, or one below.</param>
    internal static int? SiloOf(string topic) =>
        topic.Split('/') is [Root, ['S', .. var number], ..]
        && int.TryParse(number, NumberStyles.None, CultureInfo.InvariantCulture, out var n)
        && n > 0
            ? n - 1
            : null;

    private static string Name(int index) => $"S{(index + 1).ToString("00", CultureInfo.InvariantCulture)}";

    private Task SayAsync(int index, DateTimeOffset now)
    {
        var silo = _silos[index];
        double Of(string pointer) => ReaderOf(index, pointer)!(silo);
        var temperatures = string.Join(
            ',',
            Enumerable.Range(0, silo.Cables.Length).Select(c => Of($"/temps_degF/{c}").ToString("0.0", CultureInfo.InvariantCulture))
        );
        var level =
            index + 1 == WithoutLevel
                ? ""
                : string.Create(
                    CultureInfo.InvariantCulture,
                    $"\"level\":{{\"m\":{Of("/level/m"):0.000},\"mA\":{Of("/level/mA"):0.000}}},"
                );
        return _publisher.SayAsync(
            $"{Root}/{Name(index)}",
            string.Create(
                CultureInfo.InvariantCulture,
                $"{{\"ts\":\"{now.UtcDateTime:yyyy-MM-ddTHH:mm:ss.fffZ}\",\"name\":\"Silo "
                    + $"{(index + 1 == DuplicateName ? index : index + 1)}\",{level}\"mass_lb\":{Of("/mass_lb"):0},\"temps_degF\":["
                    + $"{temperatures}],\"q\":\"good\"}}"
            )
        );
    }

    private void Command(string topic, byte[] payload)
    {
        if (!topic.EndsWith("/aeration/set", StringComparison.Ordinal) || SiloOf(topic) is not { } index || index >= _silos.Count)
            return;
        var word = Encoding.UTF8.GetString(payload).Trim();
        if (word is "true" or "1" or "on")
            _silos[index].IsAired = true;
        else if (word is "false" or "0" or "off")
            _silos[index].IsAired = false;
        else
            return;
        _ = _publisher.SayAsync($"{Root}/{Name(index)}/aeration", _silos[index].IsAired ? "on" : "off", retain: true);
    }
}
