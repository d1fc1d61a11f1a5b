using System.Globalization;

namespace Fralto.Bench.Naming;

/// <summary>How a quarry names its machines and tags.</summary>
/// <param name="Name">The style in words.</param>
/// <param name="Tag">Name and description of a tag.</param>
/// <param name="IsSaid">True where one machine of each kind shows how all others are called.</param>
internal sealed record QuarryStyle(string Name, Func<QuarryTag, (string Name, string Description)> Tag, bool IsSaid = true)
{
    private static readonly string[] Words =
    [
        "Jaw",
        "Cone",
        "Impact",
        "Roll",
        "Feed",
        "Stack",
        "Long",
        "Tail",
        "Cross",
        "Lower",
        "Upper",
        "Big",
        "Small",
        "Old",
        "New",
    ];

    private static readonly Func<QuarryKind, int, int, (string Code, string Name)> Restarting = (kind, _, n) =>
        ($"{kind.Letters}-{n:00}", $"{kind.Name} {n}");

    private static readonly Func<QuarryKind, int, int, (string Code, string Name)> Pairs = (kind, area, n) =>
        ($"{kind.Letters}-{area}0{(n + 1) / 2}{(n % 2 == 1 ? 'A' : 'B')}", $"{kind.Name} {area}0{(n + 1) / 2} {(n % 2 == 1 ? 'A' : 'B')}");

    /// <summary>Code and name of a machine of a kind in an area.</summary>
    public Func<QuarryKind, int, int, (string Code, string Name)> Called { get; init; } =
        (kind, area, n) => ($"{kind.Letters}{area}{n:00}", $"{kind.Name} {area}{n:00}");

    /// <summary>The controller of a tag.</summary>
    public Func<QuarryTag, string> Controller { get; init; } = _ => "main";

    /// <summary>Where the same value stands again.</summary>
    public Func<QuarryTag, (string Name, string Controller)[]> Copies { get; init; } = _ => [];

    /// <summary>How many pits, called alike throughout but for their own names.</summary>
    public int Pits { get; init; } = 1;

    /// <summary>How many areas a pit has.</summary>
    public int Areas { get; init; } = 3;

    /// <summary>True where the device says the units.</summary>
    public bool WithUnits { get; init; }

    /// <summary>What part of the proposals must be right after one example: less where registers of all kinds lie side by side and
    /// nothing else tells.</summary>
    public double Precision { get; init; } = 0.99;

    /// <summary>True where setpoints, limits and old values stand beside tags.</summary>
    public bool HasBeside { get; init; } = true;

    /// <summary>True where there are tags of machines that the model does not have.</summary>
    public bool HasBeyond { get; init; } = true;

    public static readonly QuarryStyle[] All =
    [
        new("Loops with members", t =>
            ($"{t.Signal.Letters[0]}{t.Area}{t.KindIndex}{t.Number:00}{t.SignalIndex}.{(t.Signal.IsWritten ? "SP" : "PV")}", "")
        )
        {
            HasBeside = false,
            WithUnits = true,
        },
        new("Numbers in groups of ten", t =>
            ($"{t.Pit}0{t.Kind.Letters}{t.Area}{t.Number}0 {t.Signal.Letters}{t.SignalIndex + 1:000} XQ01", "")
        ),
        new("Structures", t =>
            (
                $"{t.AreaCode}_{t.Kind.Letters}{t.Number:00}.{(t.Signal.IsWritten ? "Cmd" : t.IsBoolean ? "Sts" : "Val")}.{t.Signal.Short}",
                ""
            )
        )
        {
            Called = Restarting,
        },
        new("Arrays counted from zero", t => ($"Program:{t.AreaCode}.{t.Kind.Name.Split(' ')[0]}s[{t.Number - 1}].{t.Signal.Short}", ""))
        {
            Called = Restarting,
        },
        new("A block for each machine, in French", t =>
            (
                $"DB{t.Area * 100 + t.KindIndex * 20 + t.Number}.{(t.IsBoolean ? "DBX" : "DBD")}{t.SignalIndex * 4}",
                $"{t.Kind.French} {t.Area}{t.Number:00} {t.Signal.French}"
            )
        )
        {
            HasBeside = false,
        },
        new(
            "Registers, twenty a machine",
            t => ($"HR{40_001 + t.Cabinet * 20 + t.SignalIndex}", $"{t.Code} {t.Signal.French}"),
            IsSaid: false
        )
        {
            HasBeside = false,
        },
        new("Topics", t =>
            ($"quarry/{(t.Pit == 1 ? "east" : "west")}/{Slug(t.AreaName)}/{Slug(t.Kind.Name)}-{t.Number}/{Slug(t.Signal.Name)}", "")
        )
        {
            Called = Restarting,
            Pits = 2,
        },
        new("Pairs", t => ($"{t.Code[3..]}_{t.Kind.Letters}_{t.Signal.Short.ToUpperInvariant()}", "")) { Called = Pairs },
        new("Cut to length", t => ($"{t.AreaCode[0]}{t.Kind.Name[..3].ToUpperInvariant()}{t.Number}{Cut(t.Signal.Name)}", ""))
        {
            Called = Restarting,
        },
        new("Analog and digital apart", t =>
            (t.IsBoolean ? $"DI_{t.Signal.Short}_{t.Code}" : $"AI_{t.Area}_{t.Kind.Letters}_{t.Number:00}_{t.Signal.Letters}", "")
        )
        {
            WithUnits = true,
        },
        new("Card and channel, described", t =>
            (
                $"R{t.Area}S{t.Cabinet / 4:00}C{t.Cabinet % 4 * 10 + t.SignalIndex:00}{(t.IsBoolean ? "D" : "A")}",
                $"{t.Code} {t.Signal.Name.ToLowerInvariant()}"
            )
        ),
        new("French words, a controller an area", t => ($"{t.Kind.French.ToUpperInvariant()}_{t.Number}_{Bare(t.Signal.French)}", ""))
        {
            Called = Restarting,
            Controller = t => $"API{t.Area}",
            IsSaid = false,
        },
        new("Serial numbers of drives", t => ($"DRV_{t.Dice:X}_{t.Signal.Short}", ""), IsSaid: false),
        new("Numbered by age, described", t =>
            ($"{t.Kind.Letters}{t.Area}{10 - t.Number:00}_{t.Signal.Short}", $"{t.Name}, {t.Signal.Name}")
        ),
        new("Area by its number", t => ($"{t.Area}{t.Kind.Letters}{t.Number:00}_{t.Signal.Short}", ""), IsSaid: false)
        {
            Called = Restarting,
        },
        new(
            "Two hands, by area",
            t =>
                t.Area == 3
                    ? ($"{t.Signal.Letters}-{t.Kind.Letters}{t.Number + 300}", "")
                    : ($"{t.AreaCode}/{t.Code}/{t.Signal.Short}", ""),
            IsSaid: false
        ),
        new("Copies in the control room", t => ($"{t.Code}.{t.Signal.Short}", ""))
        {
            Controller = t => $"PLC{t.Area}",
            Copies = t => [($"CPY_{t.Code}.{t.Signal.Short}", "room"), ($"{t.Code}.{t.Signal.Short}", "room")],
        },
        new("Two pits called alike", t => ($"{t.Code}_{t.Signal.Short}", ""))
        {
            Pits = 2,
            Controller = t => t.Pit == 1 ? "plc-east" : "plc-west",
        },
        new("Two pits, numbered controllers", t => ($"{t.Code}_{t.Signal.Short}", ""), IsSaid: false)
        {
            Pits = 2,
            Controller = t => $"plc{t.Pit + 6}",
        },
        new("Machine last", t => ($"{Joined(t.Signal.Name)}_{t.Kind.Letters}_{t.Area}{t.Number:000}", "")),
        new("Type letter first", t =>
            ($"{(t.IsBoolean ? "b" : "r")}{Joined(t.Kind.Name)}{t.Area}{t.Number:00}{Joined(t.Signal.Name)}", "")
        ),
        new(
            "Old numbers in one area",
            t => ($"{t.AreaCode}_{t.Kind.Letters}_{(t.Area == 2 ? t.Number + 20 : t.Number):000}_{t.Signal.Short}", ""),
            IsSaid: false
        )
        {
            Called = Restarting,
        },
        new("Drives by their cabinet, described", t =>
            t.Signal.IsDrive
                ? ($"M{t.Area}{t.Cabinet:000}.{t.Signal.Short}", $"{t.Code} {t.Signal.Name}")
                : ($"{t.Code}.{t.Signal.Letters}", "")
        ),
        new("Numbers without their kind", t => ($"{t.Area}{t.KindIndex + 1}{t.Number:00}-{t.Signal.Letters}", "")),
        new("Names spelt out", t => ($"{t.AreaName} {t.Name} {t.Signal.Name}", "")) { Called = Restarting },
        new("Letters for machines", t => ($"{t.AreaCode}.{t.Kind.Letters}.{(char)('A' + t.Number - 1)}.{t.Signal.Short}", ""))
        {
            Called = (kind, _, n) => ($"{kind.Letters}-{(char)('A' + n - 1)}", $"{kind.Name} {(char)('A' + n - 1)}"),
        },
        new("Points of a historian", t =>
            ($"{(t.Pit == 1 ? "E" : "W")}{t.AreaCode}:{t.Kind.Letters}{t.Number:00}:{t.Signal.Letters}.F_CV", "")
        )
        {
            Called = Restarting,
            Pits = 2,
        },
        new(
            "Counted through, described",
            t => ($"TAG_{t.Cabinet * 10 + t.SignalIndex:00000}", $"{t.Signal.French} {t.Kind.French} {t.Area}{t.Number:00}"),
            IsSaid: false
        ),
        new(
            "Descriptions cut to length",
            t => ($"N{t.Dice}{t.SignalIndex}", Short($"{t.Code} {t.AreaName} {t.Signal.Name}", 26)),
            IsSaid: false
        )
        {
            HasBeside = false,
        },
        new("Paths of drivers", t => ($"[PLC_{t.AreaCode}]{t.Kind.Letters}{t.Number:00}.{t.Signal.Short}", "")) { Called = Restarting },
        new("Initials of areas", t => ($"{Initials(t.AreaName)}{t.Kind.Letters}{t.Number}{t.Signal.Letters}", "")) { Called = Restarting },
        new("Numbers through the plant", t =>
            ($"{t.Kind.Name.ToUpperInvariant().Replace(' ', '_')}_{t.Running + 1:00}_{t.Signal.Short.ToUpperInvariant()}", "")
        )
        {
            Called = Restarting,
        },
        new("Machines called by words", t => ($"{t.AreaCode}_{t.Code}_{t.Signal.Short}".ToUpperInvariant(), ""))
        {
            HasBeyond = false,
            Called = (kind, area, n) =>
                ($"{Words[(n + area) % Words.Length]}{kind.Letters}", $"{Words[(n + area) % Words.Length]} {kind.Name.ToLowerInvariant()}"),
        },
        new("Words in another order, in descriptions", t =>
            (
                $"X{t.Dice}.{t.SignalIndex}",
                t.Area == 2
                    ? $"{t.Signal.Name} of {t.Kind.Name.ToLowerInvariant()} {t.Number} ({t.AreaName})"
                    : $"{t.AreaName}: {t.Kind.Name} {t.Number} - {t.Signal.Name}"
            )
        )
        {
            Called = Restarting,
        },
        new("Roman numbers", t => ($"{t.AreaCode}_{t.Kind.Letters}_{Roman(t.Number)}_{t.Signal.Short}", ""), IsSaid: false)
        {
            Called = Restarting,
        },
        new("Every second number", t => ($"{t.AreaCode}-{t.Kind.Letters}-{t.Number * 2 - 1:00}-{t.Signal.Short}", ""))
        {
            Called = Restarting,
        },
        new("A letter for each signal", t => ($"{t.AreaCode}_{t.Code}{(char)('a' + t.SignalIndex)}", "")),
        new("Area after the machine", t => ($"{First(t.Kind.Name)}_{t.Number:00}_{First(t.AreaName)}_{Bare(t.Signal.Name)}", ""))
        {
            Called = Restarting,
        },
        new("All counted from zero", t => ($"A{t.Area - 1}.{t.Kind.Letters}{t.Number - 1:00}.{t.Signal.Letters}", ""))
        {
            Called = Restarting,
        },
        new("Hundreds for areas", t => ($"{t.Kind.Letters}_{t.Area * 100 + t.Number}_{t.Signal.Short}", "")) { Called = Restarting },
        new("Area, dash, machine", t => ($"{t.Signal.Short}-{t.Kind.Letters}{t.Area}-{t.Number}", "")) { Called = Restarting },
        new(
            "Registers by area",
            t => ($"REG_{4000 + t.Area * 3000 + t.KindIndex * 500 + t.Number * 12 + t.SignalIndex}", ""),
            IsSaid: false
        )
        {
            Called = Restarting,
            Precision = 0.7,
            HasBeside = false,
        },
        new(
            "A letter for the second pit",
            t => ($"{(t.Pit == 2 ? "W_" : "")}{t.AreaCode}_{t.Kind.Letters}{t.Number:00}_{t.Signal.Short}", ""),
            IsSaid: false
        )
        {
            Called = Restarting,
            Pits = 2,
        },
        new("Described in French with numbers", t =>
            ($"V{t.Dice}_{t.SignalIndex}", $"{t.Signal.French} {t.Kind.French.ToLowerInvariant()} n° {t.Number} / {t.AreaCode}")
        )
        {
            Called = Restarting,
            HasBeside = false,
        },
        new("Card at the end", t => ($"{t.Code}_{t.Signal.Short}_{(t.IsBoolean ? "DI" : "AI")}{t.Dice % 100}", "")),
        new("Channel numbers inside", t =>
            ($"IO{(t.Dice * 7 + t.SignalIndex * 13) % 900 + 100}_{t.AreaCode}_{t.Kind.Letters}{t.Number:00}_{t.Signal.Short}", "")
        )
        {
            Called = Restarting,
        },
        new("Units in descriptions", t =>
            (
                $"T{t.Dice}{t.SignalIndex}",
                $"{t.Code} {t.Signal.Name.ToLowerInvariant()}{(t.Signal.Unit is { } unit ? $" ({unit.ToLowerInvariant()})" : "")}"
            )
        )
        {
            HasBeside = false,
        },
        new(
            "Two languages by area",
            t =>
                (
                    $"W{t.Dice}{t.SignalIndex}",
                    t.Area == 1
                        ? $"{t.Kind.French} {t.Area}{t.Number:00} {t.Signal.French}"
                        : $"{t.Kind.Name} {t.Area}{t.Number:00} {t.Signal.Name}"
                ),
            IsSaid: false
        )
        {
            HasBeside = false,
        },
        new("Controllers called after areas", t => ($"{t.Kind.Letters}{t.Number:00}_{t.Signal.Short}", ""))
        {
            Called = Restarting,
            Controller = t => $"plc-{t.AreaName.Split(' ')[0].ToLowerInvariant()}",
        },
        new("Unit repeated", t => ($"{t.AreaCode}/{t.Kind.Letters}{t.Number}/{t.AreaCode}_{t.Kind.Letters}{t.Number}_{t.Signal.Short}", ""))
        {
            Called = Restarting,
        },
        new("Site, area and machine in one number", t => ($"{t.Signal.Letters}{t.Pit}{t.Area}{t.KindIndex}{t.Number:00}", ""))
        {
            Pits = 2,
            Called = Restarting,
        },
    ];

    private static string Short(string words, int length) => words[..Math.Min(length, words.Length)];

    private static string Initials(string words) => string.Concat(words.Split(' ', '-').Select(w => char.ToUpperInvariant(w[0])));

    private static string Roman(int n) =>
        $"{new string('X', n / 10)}{new[] { "", "I", "II", "III", "IV", "V", "VI", "VII", "VIII", "IX" }[n % 10]}";

    private static string First(string words) => words.Split(' ')[0].ToUpperInvariant();

    private static string Joined(string words) => words.Replace(" ", "", StringComparison.Ordinal);

    private static string Slug(string words) => words.ToLowerInvariant().Replace(' ', '-');

    private static string Cut(string words) =>
        string.Concat(words.Split(' ').Select(w => w[..Math.Min(3, w.Length)].ToUpper(CultureInfo.InvariantCulture)));

    private static string Bare(string words) => words.Replace(' ', '_').ToUpperInvariant();
}
