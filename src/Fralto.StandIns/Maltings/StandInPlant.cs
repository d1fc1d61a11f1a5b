using Fralto.StandIns.Modbus;

namespace Fralto.StandIns.Maltings;

/// <summary>The simulated maltings and its controllers on loopback sockets.</summary>
public sealed class StandInPlant : IAsyncDisposable
{
    /// <summary>The port the first stand-in listens on unless told otherwise.</summary>
    public const int DefaultPort = 15500;

    /// <summary>Simulated seconds for each real second: a kiln's cycle of 20 hours passes in 20 minutes.</summary>
    public const double Speed = 60;

    /// <summary>How many kilns the kiln-plc has.</summary>
    public const int Kilns = 4;

    public const string KilnPlcName = "kiln-plc";

    public const string SteepPlcName = "steep-plc";

    /// <summary>How many steeps the steep-plc has.</summary>
    public const int Steeps = 8;

    private static readonly TimeSpan Tick = TimeSpan.FromMilliseconds(100);
    private readonly TimeProvider _clock;
    private readonly KilnPlc _kilnPlc;
    private readonly ModbusServer _kilnServer;
    private readonly SteepPlc _steepPlc;
    private readonly ModbusServer _steepServer;
    private readonly Dictionary<string, FaultSwitch> _faults;

    /// <param name="firstPort">Port of the first stand-in; the others follow. 0 lets the system choose.</param>
    /// <param name="seed">Seed of the simulation.</param>
    /// <param name="clock">The clock that drives it.</param>
    public StandInPlant(int firstPort, ulong seed, TimeProvider clock)
    {
        _clock = clock;
        _kilnPlc = new KilnPlc([new Kiln(seed, 2.5) { TripsEveryHours = 4.5 }, new Kiln(seed + 1, 15.2) { Swing = 6 }, new Kiln(seed + 2, 7.4), new Kiln(seed + 3, 11.1)]);
        _kilnServer = new ModbusServer(firstPort, 1, _kilnPlc.Bank);
        _steepPlc = new SteepPlc([.. Enumerable.Range(0, Steeps).Select(i => new Steep(seed + 100 + (ulong)i, i * 5.1 + 0.3))]);
        _steepServer = new ModbusServer(firstPort == 0 ? 0 : firstPort + 1, 1, _steepPlc.Bank);
        _faults = new FaultSwitch[]
        {
            new("kiln-1-sensor-broken", KilnPlcName, "Kiln 1 air-on sensor broken", () => _kilnPlc.IsAirOnBroken(0), on => { _kilnPlc.BreakAirOn(0, on); return Task.CompletedTask; }),
            new("kiln-2-sensor-broken", KilnPlcName, "Kiln 2 air-on sensor broken", () => _kilnPlc.IsAirOnBroken(1), on => { _kilnPlc.BreakAirOn(1, on); return Task.CompletedTask; }),
            new("kiln-plc-gone", KilnPlcName, "Controller gone", () => !_kilnServer.IsOpen, on => on ? _kilnServer.CloseAsync() : _kilnServer.OpenAsync()),
            new("steep-plc-gone", SteepPlcName, "Controller gone", () => !_steepServer.IsOpen, on => on ? _steepServer.CloseAsync() : _steepServer.OpenAsync()),
        }.ToDictionary(f => f.Key);
    }

    /// <summary>The stand-ins by name and port.</summary>
    public IReadOnlyList<(string Name, int Port)> Controllers => [(KilnPlcName, _kilnServer.Port), (SteepPlcName, _steepServer.Port)];

    /// <summary>What can be broken, and whether it is.</summary>
    public IReadOnlyList<Fault> Faults => [.. _faults.Values.Select(f => new Fault(f.Key, f.Controller, f.Text, f.IsOn()))];

    /// <summary>Opens the sockets.</summary>
    public async Task OpenAsync()
    {
        await _kilnServer.OpenAsync();
        await _steepServer.OpenAsync();
    }

    /// <summary>Runs the simulation until it is cancelled.</summary>
    public async Task RunAsync(CancellationToken stop)
    {
        var begin = _clock.GetTimestamp();
        using var timer = new PeriodicTimer(Tick, _clock);
        try
        {
            while (await timer.WaitForNextTickAsync(stop))
            {
                _kilnPlc.AdvanceTo(_clock.GetElapsedTime(begin) * Speed);
                _steepPlc.AdvanceTo(_clock.GetElapsedTime(begin) * Speed);
            }
        }
        catch (OperationCanceledException)
        {
            // Stopping is how a simulation ends.
        }
    }

    /// <summary>Breaks or mends something.</summary>
    /// <returns>False when there is no such fault.</returns>
    public async Task<bool> SetFaultAsync(string key, bool on)
    {
        if (!_faults.TryGetValue(key, out var fault)) return false;
        await fault.Set(on);
        return true;
    }

    public async ValueTask DisposeAsync()
    {
        await _kilnServer.DisposeAsync();
        await _steepServer.DisposeAsync();
    }

    private sealed record FaultSwitch(string Key, string Controller, string Text, Func<bool> IsOn, Func<bool, Task> Set);
}
