using System.Globalization;
using Fralto.Core.Scaling;

namespace Fralto.Bench.Naming;

/// <summary>How a waterworks names the tags of a unit and of its parts.</summary>
/// <param name="Name">The style in words.</param>
/// <param name="Tag">Name and description of a tag.</param>
/// <param name="WithUnits">True where the device says the units.</param>
/// <param name="IsSaid">False where neither name nor description says which part of a unit a tag belongs to, so that one example cannot
/// tell.</param>
internal sealed record WaterStyle(
    string Name,
    Func<WaterTag, (string Name, string Description)> Tag,
    bool WithUnits = false,
    bool IsSaid = true
)
{
    /// <summary>The controller of a tag.</summary>
    public Func<WaterTag, string> Controller { get; init; } = _ => "works";

    /// <summary>Code and name of a unit.</summary>
    public Func<WaterKind, int, int, (string Code, string Name)> Called { get; init; } =
        (kind, area, n) => ($"{kind.Letters}{area}{n:00}", $"{kind.Name} {area}{n:00}");

    public static readonly WaterStyle[] All =
    [
        new("Run together, by site and area", t => ($"{t.Site}{t.AreaCode}{Unit(t)}{t.Part?.Code}{t.Signal.Isa}01", "")),
        new(
            "Loop numbers of the unit",
            t => ($"{t.Signal.Isa}-{t.Kind.Letters}{t.Area}{t.Number:00}{(t.PartIndex > 0 ? $"-{t.PartIndex}" : "")}", ""),
            WithUnits: true
        )
        {
            Controller = t => $"S{t.Site}",
        },
        new("Slashes with parts", t =>
            (
                $"site{t.Site}/{Slug(t.AreaName)}/{Slug(t.Kind.Name)}-{t.Area}{t.Number:00}/"
                    + $"{(t.Part is { } p ? Slug(p.Name) + "/" : "")}{Slug(t.Signal.Name)}",
                ""
            )
        ),
        new("Short words and parts", t => ($"S{t.Site}_{Unit(t)}_{(t.Part is { } p ? Bare(p.Name) + "_" : "")}{Bare(t.Signal.Name)}", "")),
        new("Abbreviations", t => ($"{Unit(t)}.{(t.Part is { } p ? p.Code + "." : "")}{t.Signal.Short}", ""), WithUnits: true)
        {
            Controller = t => $"works{t.Site}",
        },
        new(
            "Blocks described in Spanish",
            t =>
                (
                    $"DB{t.Site * 100 + t.Area * 10 + t.KindIndex}.{t.Position * 64 + t.PartIndex * 16 + t.SignalIndex * 2}",
                    $"{t.Kind.Spanish} {t.Area}{t.Number:00} {(t.Part is { } p ? p.Spanish + " " : "")}{t.Signal.Spanish}, "
                        + $"{t.AreaName} {t.Site}"
                ),
            IsSaid: false
        ),
        new(
            "Memory words in steps",
            t => ($"MW{t.KindIndex * 10_000 + t.Ordinal * 100 + t.PartIndex * 20 + t.SignalIndex}", ""),
            WithUnits: true,
            IsSaid: false
        ),
        new("Camel case with signs around", t =>
            (
                $"s{t.Site}{t.AreaName}{t.Kind.Name}{t.Area}{t.Number:00}"
                    + $"{(t.Part is { } p ? p.Name.Replace(" ", "", StringComparison.Ordinal) : "")}"
                    + $"{t.Signal.Name.Replace(" ", "", StringComparison.Ordinal)}_{(t.Signal.Raw == RawType.Bool ? "DI" : "AI")}",
                ""
            )
        ),
        new(
            "Dots, numbers from 0",
            t =>
                (
                    $"Works{t.Site}.{t.AreaCode}[{t.KindIndex}].{t.Kind.Letters}[{t.Position - 1}]"
                        + $"{(t.Part is { } p ? "." + p.Code : "")}.{t.Signal.Short}",
                    ""
                ),
            IsSaid: false
        ),
        new("Letters for units", t =>
            ($"{t.AreaCode}{t.Site}_{t.Kind.Letters}{(char)('A' + t.Number - 1)}{(t.Part is { } p ? "_" + p.Code : "")}_{t.Signal.Isa}", "")
        )
        {
            Called = (kind, _, n) => ($"{kind.Letters}-{(char)('A' + n - 1)}", $"{kind.Name} {(char)('A' + n - 1)}"),
        },
        new("Signal first, unit last", t =>
            ($"{t.Signal.Short}_{(t.Part is { } p ? p.Code + "_" : "")}{t.Area}{t.Number:00}_{t.Kind.Letters}{t.Site}", "")
        ),
        new(
            "Words only in descriptions",
            t =>
                (
                    $"TAG{Scatter(t):00000}",
                    $"{t.Kind.Name} {t.Area}{t.Number:00}{(t.Part is { } p ? $" {p.Name.ToLowerInvariant()}" : "")}: "
                        + $"{t.Signal.Name.ToLowerInvariant()} (site {t.Site})"
                ),
            WithUnits: true
        ),
    ];

    private static string Unit(WaterTag t) => $"{t.Kind.Letters}{t.Area}{t.Number:00}";

    private static string Slug(string words) => words.ToLowerInvariant().Replace(' ', '-');

    private static string Bare(string words) =>
        string.Join(
            '_',
            words
                .ToUpperInvariant()
                .Split(' ')
                .Select(w => w[0] + string.Concat(w.Skip(1).Where(c => !"AEIOU".Contains(c, StringComparison.Ordinal))))
        );

    /// <summary>A number that says nothing: the same for the same tag, scattered over five digits.</summary>
    private static int Scatter(WaterTag t)
    {
        var text = string.Create(CultureInfo.InvariantCulture, $"{t.Site}/{t.Area}/{t.Kind.Code}/{t.Number}/{t.PartIndex}/{t.Signal.Code}");
        return (int)(text.Aggregate(17L, (sum, c) => (sum * 131 + c) % 99_991));
    }
}
