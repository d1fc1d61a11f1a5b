using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Notices;
using Fralto.Core.Plant;

namespace Fralto.StandIns.Maltings;

/// <summary>What a maltster has written about the limits of the demo: why they are there, what happens, and what is done.</summary>
public static class MaltingsLimits
{
    private const string Quality = "quality";
    private const string Safety = "safety";
    private const string Machine = "machine";

    /// <summary>What alarms of the demo set off.</summary>
    /// <param name="pagerPort">The port the pager listens on.</param>
    public static SaveResponses Responses(int pagerPort) =>
        new([
            new(
                "Pager",
                ResponseKind.Call,
                $"http://127.0.0.1:{pagerPort.ToString(CultureInfo.InvariantCulture)}/shift",
                "{message}, {path}"
            )
            {
                ClearText = "returned: {path} {limit}",
                Priorities = [1],
            },
            // Grain that heats is given air, and what gives it is a command like any other.
            new("Line display", ResponseKind.Publish, $"{StandInPlant.SiloHubName} tarn-quay/alarms", "{path} {limit}: {message}")
            {
                ClearText = "{path} {limit}: returned",
                Priorities = [1, 2],
            },
            new("Aerate", ResponseKind.Write, "{place}/Aeration", "Running") { ClearText = "Stopped" },
        ]);

    /// <summary>Where the mails of the demo go.</summary>
    /// <param name="mailPort">The port the mail server listens on.</param>
    public static SaveMailServer Mail(int mailPort) => new(new("127.0.0.1", mailPort, MailSecurity.None, "fralto@maltings.test"));

    /// <summary>Who is told of alarms in the demo: the shift at once, and who is on call when nobody has acknowledged.</summary>
    public static IEnumerable<Func<PlantModel, Edit>> Told =>
        [
            m => new SaveNoticeLists([
                new("Shift lead", ["shift@maltings.test"])
                {
                    Priorities = [1, 2],
                    RepeatAfter = TimeSpan.FromMinutes(10),
                    EscalateAfter = TimeSpan.FromMinutes(20),
                    EscalateTo = "On call",
                    TellsReturn = true,
                },
                new("On call", ["oncall@maltings.test"]) { OnlyEscalated = true, RepeatAfter = TimeSpan.FromMinutes(30) },
                new("Kiln house at night", ["kilns@maltings.test"])
                {
                    PlaceId = m.Index.Find("Corvane/TarnQuay/Kilning")!.Id,
                    From = new(22, 0),
                    Until = new(6, 0),
                    Language = "de",
                },
            ]),
            _ => new SaveAlarmSetup(["en", "de"], AlarmSetup.StandardLogDays),
        ];

    /// <summary>The edits, on top of the limits that are set with the properties.</summary>
    public static IEnumerable<Func<PlantModel, Edit>> Edits =>
        [
            _ => new SaveShelvingRules([
                .. ShelvingRule.Standard,
                new("Repair", TimeSpan.FromHours(72), [TimeSpan.FromHours(4), TimeSpan.FromHours(24), TimeSpan.FromHours(72)]),
            ]),
            Say(
                "Kiln",
                "AirOn",
                "HH",
                new()
                {
                    Class = Quality,
                    Message = "Air-on {value} {unit} in {Phase}: above {setpoint} {unit} enzymes are lost",
                    Translations = "de = Zuluft {value} {unit} in {Phase}: über {setpoint} {unit} gehen Enzyme verloren",
                    Cause = "Recirculation damper stuck, or the burner does not throttle.",
                    Consequence = "Diastatic power is lost within minutes; the batch is sold as feed.",
                    Action = "Open the fresh air damper.\nSet the air-on loop to 80 °C.\nNo fall in 3 min: stop the burner.",
                    RespondSeconds = 300,
                    Capture = "Phase\ngas flow = {GasFlow}\nfan = {FanSpeed}",
                    Shelving = "Short",
                }
            ),
            Say(
                "Kiln",
                "AirOn",
                "H",
                new()
                {
                    Class = Quality,
                    Message = "Air-on {value} {unit}, limit {setpoint}, in {Phase}",
                    Translations = "de = Zuluft {value} {unit}, Grenze {setpoint}, in {Phase}",
                    Cause = "Recirculation damper stuck or in hand, or the set point is too high for the phase.",
                    Consequence = "Colour rises, and at 95 °C the enzymes go.",
                    Action = "Look at the damper.\nLower the set point of the air-on loop by 2 K.",
                    RespondSeconds = 900,
                    Capture = "Phase\nset point = {AirOnLoop.Setpoint}\ngas flow = {GasFlow}",
                    CountsWhile = "FanRun is Running",
                }
            ),
            Say(
                "Kiln",
                "AirOn",
                "L",
                new()
                {
                    Class = Quality,
                    Message = "Air-on only {value} {unit} in {Phase}",
                    Translations = "de = Zuluft nur {value} {unit} in {Phase}",
                    Cause = "Burner out, or the air-on probe is wet.",
                    Consequence = "The bed dries too slowly and mould sets in within hours.",
                    Action = "Look at the flame.\nCompare with the air-off temperature.",
                    RespondSeconds = 1800,
                    // A kiln that stands, loads or cools is cold and that is as it should be.
                    CountsWhile = "Phase is Withering or Phase is Drying or Phase is Curing",
                    CountsAfter = 600,
                }
            ),
            Say(
                "Kiln",
                "AirOn",
                "LL",
                new()
                {
                    Class = Quality,
                    Message = "Air-on {value} {unit}: no heat in {Phase}",
                    Translations = "de = Zuluft {value} {unit}: keine Wärme in {Phase}",
                    Consequence = "The batch stands wet.",
                    Action = "Start the burner again, or unload.",
                    RespondSeconds = 3600,
                    CountsWhile = "Phase is Withering or Phase is Drying or Phase is Curing",
                    CountsAfter = 600,
                }
            ),
            Add(
                "Kiln",
                "AirOn",
                "Surge",
                new(60, 5, 3, null, 10, 30)
                {
                    Kind = LimitKind.Rate,
                    WindowSeconds = 120,
                    Class = Machine,
                    Message = "Air-on rises fast, now {value} {unit}",
                    Translations = "de = Zuluft steigt schnell, jetzt {value} {unit}",
                    Cause = "Gas valve hunting.",
                    Consequence = "The burner trips.",
                    Action = "Put the air-on loop in hand and wait for 5 min.",
                    RespondSeconds = 600,
                    CountsWhile = "Phase is Drying or Phase is Curing",
                    CountsAfter = 600,
                }
            ),
            Add(
                "Kiln",
                "Moisture",
                "ProbeLost",
                new(Priority: 4, OnDelay: 120, OffDelay: 30)
                {
                    Kind = LimitKind.BadQuality,
                    Class = Machine,
                    Message = "No moisture of the bed",
                    Translations = "de = Keine Feuchte des Guts",
                    Cause = "Probe or its cable.",
                    Consequence = "The end of curing is not seen; the laboratory has to be asked.",
                    Action = "Take a sample each hour.\nCall the instrument shop.",
                    RespondSeconds = 3600,
                    Shelving = "Repair",
                }
            ),
            Say(
                "Kiln",
                "GasFlow",
                "H",
                new(OnDelay: 15, OffDelay: 15)
                {
                    Class = Machine,
                    Message = "Gas {value} {unit}, limit {setpoint}",
                    Translations = "de = Gas {value} {unit}, Grenze {setpoint}",
                    Cause = "Fresh air damper open in hand.",
                    Consequence = "The day's gas quota is passed.",
                    Action = "Close the fresh air damper to 35 %.",
                    RespondSeconds = 1800,
                }
            ),
            Add(
                "Kiln",
                "Door",
                "DoorOpen",
                new(Priority: 3, OnDelay: 30)
                {
                    Kind = LimitKind.StateIs,
                    From = "Open",
                    Class = Safety,
                    Message = "Door open in {Phase}",
                    Translations = "de = Tür offen in {Phase}",
                    Cause = "Not closed after sampling.",
                    Consequence = "Hot air in the walkway.",
                    Action = "Close it; nobody stands before it.",
                    RespondSeconds = 300,
                    CountsWhile = "Phase is Withering or Phase is Break or Phase is Drying or Phase is Curing",
                    Latched = true,
                }
            ),
            Say(
                "GasBurner",
                "GasPressure",
                "L",
                new(OnDelay: 15, OffDelay: 15)
                {
                    Class = Safety,
                    Responses = "Pager",
                    Message = "Gas pressure {value} {unit}, trips at 15",
                    Translations = "de = Gasdruck {value} {unit}, schaltet bei 15 ab",
                    Cause = "Filter, or the regulator of the station.",
                    Consequence = "The burner trips and the batch cools.",
                    Action = "Change over to the second filter.",
                    RespondSeconds = 300,
                }
            ),
            Add(
                "GerminationBox",
                "AirOn",
                "Off",
                new(2, 0.5, 3, null, 60, 60)
                {
                    Kind = LimitKind.Deviation,
                    From = "AirOnSetpoint",
                    Class = Quality,
                    Message = "Air-on {value} {unit}, set {AirOnSetpoint}",
                    Translations = "de = Zuluft {value} {unit}, Sollwert {AirOnSetpoint}",
                    Cause = "Chilled water valve, or the humidifier.",
                    Consequence = "Growth is uneven over the day.",
                    Action = "Look at the chilled water valve.",
                    RespondSeconds = 3600,
                    CountsWhile = "FanRun is Running and Phase is Germinate",
                    CountsAfter = 900,
                }
            ),
            .. new[] { "BedTop", "BedMid", "BedLow" }.Select(code =>
                Say(
                    "GerminationBox",
                    code,
                    "H",
                    new(OnDelay: 60, OffDelay: 60)
                    {
                        Class = Quality,
                        Message = "{property} {value} {unit}",
                        Cause = "The bed is felted: no air comes through.",
                        Consequence = "Rootlets grow together; growth runs away.",
                        Action = "Turn now.\nRaise the fan by 10 %.",
                        RespondSeconds = 1800,
                    }
                )
            ),
            Say(
                "SteepVessel",
                "Level",
                "HH",
                new(OnDelay: 5, OffDelay: 5)
                {
                    Class = Safety,
                    Message = "Level {value} {unit} in {Step}: it will run over",
                    Translations = "de = Stand {value} {unit} in {Step}: läuft über",
                    Cause = "Fill valve does not close.",
                    Consequence = "Water and barley on the floor of the steep house.",
                    Action = "Close the hand valve.\nOpen the drain.",
                    RespondSeconds = 120,
                    Shelving = "Short",
                }
            ),
            Say(
                "SteepVessel",
                "Level",
                "H",
                new(OnDelay: 10, OffDelay: 10)
                {
                    Class = Machine,
                    Message = "Level {value} {unit} in {Step}",
                    Translations = "de = Stand {value} {unit} in {Step}",
                    Cause = "Filled too far.",
                    Consequence = "It runs over at 3.1 m.",
                    Action = "Stop filling.",
                    RespondSeconds = 600,
                }
            ),
            Say(
                "SteepVessel",
                "Temperature",
                "H",
                new(OnDelay: 60, OffDelay: 60)
                {
                    Class = Quality,
                    Message = "Water {value} {unit}, 13 to 16 wanted",
                    Translations = "de = Wasser {value} {unit}, 13 bis 16 gewünscht",
                    Cause = "Steam valve leaks, or warm well water.",
                    Consequence = "Barley drowns faster; germination is poor.",
                    Action = "Blend with cold water at the next fill.",
                    RespondSeconds = 3600,
                }
            ),
            Say(
                "SteepVessel",
                "Oxygen",
                "L",
                new(OnDelay: 60, OffDelay: 60)
                {
                    Class = Quality,
                    Message = "Dissolved oxygen {value} {unit} in {Step}",
                    Translations = "de = Gelöster Sauerstoff {value} {unit} in {Step}",
                    Cause = "Aeration blower off, or its nozzles are blocked.",
                    Consequence = "Barley suffocates within two hours.",
                    Action = "Start the blower.\nEnd the soak early.",
                    RespondSeconds = 1800,
                    CountsWhile = "Step is Soak",
                    CountsAfter = 300,
                }
            ),
            Say(
                "Silo",
                "Level",
                "H",
                new(OnDelay: 30, OffDelay: 30)
                {
                    Class = Machine,
                    Message = "Level {value} {unit}: nearly full",
                    Translations = "de = Stand {value} {unit}: fast voll",
                    Cause = "Filling goes on.",
                    Consequence = "The elevator chokes.",
                    Action = "Change over to another silo.",
                    RespondSeconds = 900,
                }
            ),
            .. new[] { "Cable1", "Cable2", "Cable3" }.Select(code =>
                Say(
                    "Silo",
                    code,
                    "H",
                    new(OnDelay: 60, OffDelay: 60)
                    {
                        Class = Safety,
                        Responses = "Aerate",
                        Message = "{property} {value} {unit}: grain heats",
                        Translations = "de = {property} {value} {unit}: Korn erwärmt sich",
                        Cause = "Wet grain, or insects.",
                        Consequence = "It smoulders within days.",
                        Action = "Aerate.\nTurn over into another silo.\nTake a sample.",
                        RespondSeconds = 14400,
                    }
                )
            ),
            Say(
                "Compressor",
                "Pressure",
                "L",
                new(OnDelay: 15, OffDelay: 15)
                {
                    Class = Machine,
                    Message = "Air net {value} {unit}",
                    Cause = "A hose is open, or the compressor does not load.",
                    Consequence = "Dampers and valves fall into their safe places.",
                    Action = "Start the second compressor.\nLook for the leak.",
                    RespondSeconds = 600,
                }
            ),
        ];

    private static Func<PlantModel, Edit> Say(string template, string property, string code, LimitPatch says) =>
        model =>
        {
            var (layer, known) = Find(model, template, property);
            var own = known.Own.Limits.GetValueOrDefault(LimitConditions.Find(code)!.Value) ?? LimitPatch.Empty;
            return new SaveLimit(layer, known.Id, code, own.With(says));
        };

    private static Func<PlantModel, Edit> Add(string template, string property, string code, LimitPatch says) =>
        model =>
        {
            var (layer, known) = Find(model, template, property);
            return new SaveLimit(layer, known.Id, code, says, true);
        };

    private static (long Layer, Core.Properties.ResolvedProperty Property) Find(PlantModel model, string template, string property)
    {
        var layer = model.Templates.Values.Single(t => t.Code == template).Id;
        return (layer, model.Index.PropertiesOf(layer).Single(p => p.Code == property));
    }
}
