using Fralto.StandIns.Http;
using Fralto.StandIns.Mail;
using Fralto.StandIns.Maltings;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The demo's stand-ins: what can be broken, to see what Fralto says of it.</summary>
public sealed class StandInsModel(IServiceProvider services) : FraltoPage
{
    private readonly StandInPlant? _plant = services.GetService<StandInPlant>();

    public IReadOnlyList<(string Name, int Port)> StandIns => _plant?.Controllers ?? [];

    public IReadOnlyList<Fault> Faults => _plant?.Faults ?? [];

    /// <summary>The port of the pager.</summary>
    public int PagerPort => _plant?.PagerPort ?? 0;

    /// <summary>What can be broken about the pager.</summary>
    public IEnumerable<Fault> PagerFaults => Faults.Where(f => f.Controller == StandInPlant.PagerName);

    /// <summary>What the pager was called with.</summary>
    public IReadOnlyList<ReceivedCall> Calls => _plant?.Calls ?? [];

    /// <summary>The port of the mail server.</summary>
    public int MailPort => _plant?.MailPort ?? 0;

    /// <summary>What can be broken about the mail server.</summary>
    public IEnumerable<Fault> MailFaults => Faults.Where(f => f.Controller == StandInPlant.MailName);

    /// <summary>The mails that came, the newest first.</summary>
    public IReadOnlyList<ReceivedMail> Mails => _plant?.Mails ?? [];

    /// <summary>What makes a stand-in instructive.</summary>
    public static string About(string standIn) =>
        standIn switch
        {
            StandInPlant.KilnPlcName =>
                "Four kilns: 32-bit floats with swapped words, 192 run and door contacts packed into words, the phase as three bits "
                    + "of a status word, a setpoint to command.",
            StandInPlant.SteepPlcName =>
                "Eight steeps: 16-bit counts of 4...20 mA inputs, a flow by differential pressure, a timer in BCD, a type plate as "
                    + "text. Its tags are generated from a layout.",
            StandInPlant.BoxEdgeName =>
                "Six germination boxes: each a Sparkplug device that births its metrics with units and ranges; the carriage is a "
                    + "template, the contacts an array, the air setpoint can be commanded.",
            StandInPlant.TrialPlcName =>
                "The pilot kiln and two pilot steeps behind one gateway, as units 1 and 2; declared, and waiting for whoever binds them.",
            StandInPlant.UtilityUaName =>
                "Compressors, water and the heat loop: typed objects with units, ranges, states and arrays to browse; every security, a "
                    + "user with a password (operator, malt), a setpoint to command, a method that is not ours to call.",
            _ => "Twenty-four silos: JSON payloads with their own time and quality, temperatures in °F, mass in lb, aeration as bare "
                + "text that can be commanded, and a last will.",
        };

    /// <summary>What is wrong with a stand-in from the beginning, as in any real plant.</summary>
    public static IReadOnlyList<string> MistakesOf(string standIn) =>
        standIn switch
        {
            StandInPlant.KilnPlcName =>
            [
                "Kiln 3's moisture is declared with the words in the wrong order.",
                "Kiln 2's door has a tag, but nobody bound it.",
            ],
            StandInPlant.SteepPlcName =>
            [
                $"Steep {SteepPlc.BrokenSensor}'s temperature sensor is broken: 3.2 mA.",
                "The scale of dissolved oxygen ends at 65535; the card's counts end at 32767.",
            ],
            StandInPlant.BoxEdgeName =>
            [
                $"Box {BoxEdge.SwappedBed}'s bed temperatures of top and bottom are swapped.",
                $"Box {BoxEdge.WrongUnit} says its humidity is in degC.",
                $"Box {BoxEdge.WithoutCarbonDioxide} has no carbon dioxide.",
            ],
            StandInPlant.TrialPlcName => [],
            StandInPlant.UtilityUaName =>
            [
                "The flow of raw water pump 2 is said to be litres a minute; it counts cubic metres an hour.",
                "Loop pump 2 has no motor current.",
                "Nobody may read the code of the service technician.",
            ],
            _ =>
            [
                $"Silo {SiloHub.MassInKilograms} gives its mass in kg under a name that says lb.",
                $"Silo {SiloHub.TemperaturesInCelsius} gives its temperatures in °C under a name that says °F.",
                $"Silo {SiloHub.WithoutLevel} has no level.",
                $"Silo {SiloHub.DuplicateName} calls itself Silo {SiloHub.DuplicateName - 1}.",
            ],
        };

    public IActionResult OnGet() => _plant is null ? NotFound() : Page();

    public async Task<IActionResult> OnPostAsync(string? key, bool on)
    {
        if (_plant is null || key is null || !await _plant.SetFaultAsync(key, on))
            return NotFound();
        var fault = Faults.First(f => f.Key == key);
        Done = on ? $"Broken: {fault.Controller}, {fault.Text}" : $"Mended: {fault.Controller}, {fault.Text}";
        return RedirectToPage();
    }
}
