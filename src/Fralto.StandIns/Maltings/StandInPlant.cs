using Fralto.StandIns.Http;
using Fralto.StandIns.Mail;
using Fralto.StandIns.Modbus;
using Fralto.StandIns.Mqtt;
using Fralto.StandIns.OpcUa;

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

    public const string TrialPlcName = "trial-plc";

    /// <summary>How many pilot steeps the trial-plc has, beside its one kiln.</summary>
    public const int PilotSteeps = 2;

    /// <summary>The unit id of the pilot steeps behind the trial-plc; the pilot kiln is unit 1.</summary>
    public const byte PilotSteepsUnit = 2;

    public const string BoxEdgeName = "box-edge";

    /// <summary>How many boxes the box-edge has.</summary>
    public const int Boxes = 6;

    public const string SiloHubName = "silo-hub";

    public const string UtilityUaName = "utility-ua";

    /// <summary>What alarms call; no controller.</summary>
    public const string PagerName = "pager";

    /// <summary>What takes the mails of alarms; no controller.</summary>
    public const string MailName = "mail";

    /// <summary>How many silos the silo-hub has.</summary>
    public const int Silos = 24;

    /// <summary>The box-edge loses its network by itself: so often, for so long.</summary>
    private static readonly TimeSpan DropsOutEvery = TimeSpan.FromMinutes(12),
        DropsOutFor = TimeSpan.FromSeconds(20);

    private static readonly TimeSpan Tick = TimeSpan.FromMilliseconds(100);
    private static readonly TimeSpan UtilitiesEvery = TimeSpan.FromMilliseconds(500);
    private readonly TimeProvider _clock;
    private readonly KilnPlc _kilnPlc;
    private readonly ModbusServer _kilnServer;
    private readonly SteepPlc _steepPlc;
    private readonly ModbusServer _steepServer;
    private readonly KilnPlc _pilotKiln;
    private readonly SteepPlc _pilotSteeps;
    private readonly ModbusServer _trialServer;
    private readonly StandInBroker _broker;
    private readonly BoxEdge _boxEdge;
    private readonly SiloHub _siloHub;
    private readonly CallReceiver _pager;
    private readonly MailReceiver _mail;
    private readonly Dictionary<string, FaultSwitch> _faults;
    private readonly Utilities _utilities;
    private readonly UaServer? _utilityUa;
    private bool _isBoxEdgeSwitchedOff;
    private TimeSpan _utilitiesSaid = TimeSpan.MinValue;

    /// <param name="firstPort">Port of the first stand-in; the others follow. 0 lets the system choose.</param>
    /// <param name="seed">Seed of the simulation.</param>
    /// <param name="clock">The clock that drives it.</param>
    /// <param name="directory">Where utility-ua keeps its key and certificate; null leaves that stand-in out.</param>
    public StandInPlant(int firstPort, ulong seed, TimeProvider clock, string? directory)
    {
        _clock = clock;
        _utilities = new(seed + 500);
        if (directory is not null)
            _utilityUa = new(firstPort == 0 ? 0 : firstPort + 6, directory) { Written = _utilities.Take };
        _kilnPlc = new KilnPlc(KilnsOf(seed));
        _kilnServer = new ModbusServer(firstPort, 1, _kilnPlc.Bank);
        _steepPlc = new SteepPlc(SteepsOf(seed));
        _steepServer = new ModbusServer(firstPort == 0 ? 0 : firstPort + 1, 1, _steepPlc.Bank);
        _pilotKiln = new KilnPlc(PilotKilnOf(seed));
        _pilotSteeps = new SteepPlc(PilotSteepsOf(seed), brokenSensor: null);
        _trialServer = new ModbusServer(
            firstPort == 0 ? 0 : firstPort + 3,
            new Dictionary<byte, RegisterBank> { [1] = _pilotKiln.Bank, [PilotSteepsUnit] = _pilotSteeps.Bank }
        );
        _broker = new StandInBroker(firstPort == 0 ? 0 : firstPort + 2);
        _boxEdge = new BoxEdge(BoxesOf(seed), () => _broker.Port, clock);
        _siloHub = new SiloHub(SilosOf(seed), () => _broker.Port);
        _pager = new CallReceiver(firstPort == 0 ? 0 : firstPort + 4, clock);
        _mail = new MailReceiver(firstPort == 0 ? 0 : firstPort + 5, clock);
        _faults = new FaultSwitch[]
        {
            new("mail-gone", MailName, "Mail server gone", () => _mail.IsGone, on => _mail.ListenAsync(!on)),
            new("mail-refuses", MailName, "Takes no mail", () => _mail.Refuses, Now(on => _mail.Refuses = on)),
            new("pager-errors", PagerName, "Answers 500", () => _pager.AnswersWithErrors, Now(on => _pager.AnswersWithErrors = on)),
            new("pager-hangs", PagerName, "Takes calls and answers none", () => _pager.Hangs, Now(on => _pager.Hangs = on)),
            new(
                "kiln-1-sensor-broken",
                KilnPlcName,
                "Kiln 1 air-on sensor broken",
                () => _kilnPlc.IsAirOnBroken(0),
                Now(on => _kilnPlc.BreakAirOn(0, on))
            ),
            new(
                "kiln-2-sensor-broken",
                KilnPlcName,
                "Kiln 2 air-on sensor broken",
                () => _kilnPlc.IsAirOnBroken(1),
                Now(on => _kilnPlc.BreakAirOn(1, on))
            ),
            new(
                "kiln-plc-gone",
                KilnPlcName,
                "Controller gone",
                () => !_kilnServer.IsOpen,
                on => on ? _kilnServer.CloseAsync() : _kilnServer.OpenAsync()
            ),
            new(
                "kiln-1-stuck",
                KilnPlcName,
                "All values of kiln 1 stuck",
                () => _kilnPlc.Stuck == 1,
                Now(on => _kilnPlc.Stuck = on ? 1 : 0)
            ),
            new(
                "kiln-1-word-order",
                KilnPlcName,
                "Kiln 1 moisture with its words the other way round",
                () => _kilnPlc.WrongOrder == 1,
                Now(on => _kilnPlc.WrongOrder = on ? 1 : 0)
            ),
            new(
                "steep-plc-gone",
                SteepPlcName,
                "Controller gone",
                () => !_steepServer.IsOpen,
                on => on ? _steepServer.CloseAsync() : _steepServer.OpenAsync()
            ),
            new(
                "steep-plc-slow",
                SteepPlcName,
                "Controller answers after 3 s",
                () => _steepServer.Delay > TimeSpan.Zero,
                Now(on => _steepServer.Delay = on ? TimeSpan.FromSeconds(3) : TimeSpan.Zero)
            ),
            new(
                "box-edge-gone",
                BoxEdgeName,
                "Edge node gone",
                () => _isBoxEdgeSwitchedOff,
                Now(on => _boxEdge.Switch(_isBoxEdgeSwitchedOff = on))
            ),
            new("box-1-stuck", BoxEdgeName, "All values of box 1 stuck", () => _boxEdge.Stuck == 1, Now(on => _boxEdge.Stuck = on ? 1 : 0)),
            new("silo-hub-gone", SiloHubName, "Hub gone", () => _siloHub.IsGone, Now(_siloHub.Switch)),
            new("silo-hub-flood", SiloHubName, "Hub floods the broker", () => _siloHub.Floods, Now(on => _siloHub.Floods = on)),
            new(
                "broker-gone",
                SiloHubName,
                "Broker gone, and box-edge with it",
                () => !_broker.IsOpen,
                on => on ? _broker.CloseAsync() : _broker.OpenAsync()
            ),
        }
            .Concat(_utilityUa is null ? [] : FaultsOf(_utilityUa))
            .ToDictionary(f => f.Key);
    }

    /// <summary>The kilns as they stand at the beginning.</summary>
    /// <param name="seed">Seed of the simulation.</param>
    /// <param name="step">One step of it; null for the one they live with.</param>
    public static Kiln[] KilnsOf(ulong seed, TimeSpan? step = null) =>
        [
            new Kiln(seed, 2.5) { TripsEveryHours = 4.5, Step = step ?? Kiln.UsualStep },
            new Kiln(seed + 1, 15.2) { Swing = 6, Step = step ?? Kiln.UsualStep },
            new Kiln(seed + 2, 7.4) { Step = step ?? Kiln.UsualStep },
            new Kiln(seed + 3, 11.1) { Step = step ?? Kiln.UsualStep },
        ];

    /// <summary>The steeps as they stand at the beginning.</summary>
    public static Steep[] SteepsOf(ulong seed) =>
        [.. Enumerable.Range(0, Steeps).Select(i => new Steep(seed + 100 + (ulong)i, i * 5.1 + 0.3))];

    /// <summary>The boxes as they stand at the beginning.</summary>
    public static Box[] BoxesOf(ulong seed) =>
        [.. Enumerable.Range(0, Boxes).Select(i => new Box(seed + 200 + (ulong)i, i * 17 + 3) { IsDamperStuck = i == 2 })];

    /// <summary>The silos as they stand at the beginning.</summary>
    public static GrainSilo[] SilosOf(ulong seed) => [.. Enumerable.Range(0, Silos).Select(i => new GrainSilo(seed + 300 + (ulong)i))];

    internal static Kiln[] PilotKilnOf(ulong seed, TimeSpan? step = null) => [new Kiln(seed + 400, 9.3) { Step = step ?? Kiln.UsualStep }];

    internal static Steep[] PilotSteepsOf(ulong seed) =>
        [.. Enumerable.Range(0, PilotSteeps).Select(i => new Steep(seed + 410 + (ulong)i, i * 11.2 + 3.4))];

    /// <summary>The stand-ins by name and port.</summary>
    public IReadOnlyList<(string Name, int Port)> Controllers =>
        [
            (KilnPlcName, _kilnServer.Port),
            (SteepPlcName, _steepServer.Port),
            (BoxEdgeName, _broker.Port),
            (SiloHubName, _broker.Port),
            (TrialPlcName, _trialServer.Port),
            .. _utilityUa is null ? [] : new[] { (UtilityUaName, _utilityUa.Port) },
        ];

    /// <summary>Takes the certificate utility-ua shows, but for another one that a fault makes it show: that is somebody's to
    /// judge.</summary>
    public void OnCertificate(Action<byte[]> take)
    {
        if (_utilityUa is not null)
            _utilityUa.Listens = certificate =>
            {
                if (!_utilityUa.IsOn("certificate"))
                    take(certificate);
            };
    }

    /// <summary>The port the pager listens on.</summary>
    public int PagerPort => _pager.Port;

    /// <summary>What the pager was called with, the newest first.</summary>
    public IReadOnlyList<ReceivedCall> Calls => _pager.Calls;

    /// <summary>The port the mail server listens on.</summary>
    public int MailPort => _mail.Port;

    /// <summary>The mails that were taken, the newest first.</summary>
    public IReadOnlyList<ReceivedMail> Mails => _mail.Mails;

    /// <summary>What can be broken, and whether it is.</summary>
    public IReadOnlyList<Fault> Faults => [.. _faults.Values.Select(f => new Fault(f.Key, f.Controller, f.Text, f.IsOn()))];

    /// <summary>Opens the sockets.</summary>
    public async Task OpenAsync()
    {
        await _kilnServer.OpenAsync();
        await _steepServer.OpenAsync();
        await _trialServer.OpenAsync();
        await _broker.OpenAsync();
        _pager.Open();
        await _mail.ListenAsync(true);
        // It takes a few seconds to listen; whoever connects meanwhile tries again.
        _utilityUa?.Start();
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
                var real = _clock.GetElapsedTime(begin);
                _kilnPlc.AdvanceTo(real * Speed);
                _steepPlc.AdvanceTo(real * Speed);
                _pilotKiln.AdvanceTo(real * Speed);
                _pilotSteeps.AdvanceTo(real * Speed);
                var dropsOut = real.Ticks % DropsOutEvery.Ticks > (DropsOutEvery - DropsOutFor).Ticks;
                if (!_isBoxEdgeSwitchedOff && dropsOut != _boxEdge.IsGone)
                    _boxEdge.Switch(dropsOut);
                await _boxEdge.AdvanceToAsync(real * Speed, real, stop);
                await _siloHub.AdvanceToAsync(real * Speed, real, _clock.GetUtcNow(), stop);
                if (_utilityUa is not null && (_utilitiesSaid == TimeSpan.MinValue || real - _utilitiesSaid >= UtilitiesEvery))
                {
                    _utilitiesSaid = real;
                    await _utilityUa.SayAsync(_utilities.At(real * Speed));
                }
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
        if (!_faults.TryGetValue(key, out var fault))
            return false;
        await fault.Set(on);
        return true;
    }

    public async ValueTask DisposeAsync()
    {
        if (_utilityUa is not null)
            await _utilityUa.DisposeAsync();
        await _pager.DisposeAsync();
        await _mail.DisposeAsync();
        await _boxEdge.DisposeAsync();
        await _siloHub.DisposeAsync();
        await _broker.DisposeAsync();
        await _kilnServer.DisposeAsync();
        await _steepServer.DisposeAsync();
        await _trialServer.DisposeAsync();
    }

    private static IEnumerable<FaultSwitch> FaultsOf(UaServer server) =>
        new (string Fault, string Text)[]
        {
            ("gone", "Server gone"),
            ("session", "Sessions dropped"),
            ("certificate", "Another certificate"),
            ("slow", "Answers after 2 s"),
            ("bad", "Pressure of compressor 1 bad"),
            ("namespaces", "Namespaces in another order"),
        }.Select(f => new FaultSwitch(
            $"utility-ua-{f.Fault}",
            UtilityUaName,
            f.Text,
            () => server.IsOn(f.Fault),
            on => server.SetFaultAsync(f.Fault, on)
        ));

    private static Func<bool, Task> Now(Action<bool> set) =>
        on =>
        {
            set(on);
            return Task.CompletedTask;
        };

    private sealed record FaultSwitch(string Key, string Controller, string Text, Func<bool> IsOn, Func<bool, Task> Set);
}
