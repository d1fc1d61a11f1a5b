using System.Globalization;
using Fralto.Core.Scaling;

namespace Fralto.Bench.Naming;

/// <summary>How a plant names the tags of an instance.</summary>
/// <param name="Name">The style in words.</param>
/// <param name="Tag">Name and description of a tag.</param>
/// <param name="Numbering">True where numbers go on from area to area, false where each area counts from 1.</param>
/// <param name="WithUnits">True where the device says the units.</param>
internal sealed record NamingStyle(
    string Name,
    Func<TagPlace, (string Name, string Description)> Tag,
    bool Numbering = true,
    bool WithUnits = true
)
{
    /// <summary>The controller of a tag.</summary>
    public Func<TagPlace, string> Controller { get; init; } = _ => "plc";

    /// <summary>Code and name of an instance; null for letters and number.</summary>
    public Func<Kind, int, (string Code, string Name)>? Called { get; init; }

    private static readonly string[] Areas = ["North", "South", "West"];

    public static readonly NamingStyle[] All =
    [
        new(
            "ISA-5.1 numbers by area and unit",
            p => ($"{p.Signal.Isa[..2]}-{p.Area}{p.KindIndex}{p.Number:00}{p.Signal.Isa[2..]}", ""),
            Numbering: false
        ),
        new("Code and ISA-5.1 letters", p => ($"{p.Kind.Letters}{p.Number:00}_{p.Signal.Isa}", ""), WithUnits: false),
        new(
            "Hierarchy with dots",
            p =>
                (
                    $"{Areas[p.Area - 1]}.{p.Kind.Name}s.{p.Kind.Letters}{p.Number:00}."
                        + $"{p.Signal.Words.Replace(" ", "", StringComparison.Ordinal)}",
                    ""
                ),
            Numbering: false
        ),
        new(
            "Hierarchy with slashes",
            p =>
                (
                    $"{Areas[p.Area - 1].ToLowerInvariant()}/{p.Kind.Letters.ToLowerInvariant()}{p.Number}/"
                        + $"{p.Signal.Words.ToLowerInvariant().Replace(' ', '_')}",
                    ""
                ),
            Numbering: false,
            WithUnits: false
        ),
        new(
            "Camel case",
            p => ($"{p.Kind.Name.ToLowerInvariant()}{p.Number}{p.Signal.Words.Replace(" ", "", StringComparison.Ordinal)}", ""),
            WithUnits: false
        ),
        new(
            "No vowels",
            p => ($"{p.Kind.Letters}{p.Number:00}_{string.Join('_', p.Signal.Words.Split(' ').Select(NoVowels))}", ""),
            WithUnits: false
        ),
        new("German abbreviations", p =>
            ($"{p.Kind.Letters}{p.Number:00}_{p.Signal.German}", $"{p.Kind.Name} {p.Number} {p.Signal.GermanText}")
        ),
        new("Spanish abbreviations", p => ($"{p.Kind.Letters}-{p.Number:00}.{p.Signal.Spanish}", p.Signal.SpanishText), WithUnits: false),
        new(
            "Block addresses, described",
            p =>
                (
                    $"DB{p.KindIndex + 10}.W{(p.Ordinal - 1) * 32 + p.SignalIndex * 2}",
                    $"{p.Kind.Name} {p.Number} {p.Signal.Words.ToLowerInvariant()}"
                ),
            WithUnits: false
        ),
        new("Numbers with offsets", p =>
            (
                $"{p.Signal.Isa[..2]}"
                    + $"{p.KindIndex * 2000 + (p.Ordinal - 1) * 20 + int.Parse(p.Signal.Isa[3..], CultureInfo.InvariantCulture)}",
                ""
            )
        ),
        new(
            "Opaque numbers below area and unit",
            p => ($"A{p.Area}_{p.Kind.Letters}{p.Number}_PV{p.SignalIndex * 7 % 10 + 10}", ""),
            Numbering: false
        ),
        new(
            "Described in other words",
            p =>
                (
                    $"%MW{4000 + p.KindIndex * 3000 + (p.Ordinal - 1) * 40 + p.SignalIndex}",
                    $"{p.Signal.Words}, {Areas[p.Area - 1]} hall, {p.Kind.Name.ToLowerInvariant()} no. {p.Number}"
                ),
            Numbering: false,
            WithUnits: false
        ),
        new(
            "Property before the unit",
            p =>
                (
                    $"{string.Join('_', p.Signal.Words.ToUpperInvariant().Split(' ').Select(w => w[..Math.Min(4, w.Length)]))}."
                        + $"{p.Kind.Letters}{p.Number}",
                    ""
                ),
            WithUnits: false
        ),
        new("The same names in each controller", p => ($"{p.Kind.Letters}{p.Number:00}_{p.Signal.Isa}", ""), Numbering: false)
        {
            Controller = p => $"plc-{Areas[p.Area - 1].ToLowerInvariant()}",
        },
        new(
            "Letters for numbers",
            p =>
                (
                    $"{p.Kind.Letters}_{LettersOf(p.Number)}.{p.Signal.Isa}",
                    $"{p.Kind.Name} {LettersOf(p.Number)}, {p.Signal.Words.ToLowerInvariant()}"
                ),
            WithUnits: false
        )
        {
            Called = (kind, n) => ($"{kind.Letters}_{LettersOf(n)}", $"{kind.Name} {LettersOf(n)}"),
        },
        new("Loop before unit", p => ($"{p.Signal.Isa[..2]}-{p.Signal.Isa[2..]}{p.Number:00}{p.KindIndex}", "")),
        new(
            "Driver path before the name",
            p => ($"Channel1.Device{p.Area}.{p.Kind.Letters}{p.Number:00}.{p.Signal.Isa}.PV", ""),
            Numbering: false
        ),
        new(
            "Reversed, area last",
            p => ($"{p.Signal.Isa}.{p.Kind.Letters}{p.Number}.{Areas[p.Area - 1][..3].ToUpperInvariant()}", ""),
            Numbering: false,
            WithUnits: false
        ),
        new(
            "Numbers between dashes, described",
            p => ($"{p.Kind.Letters}-{p.Area}-{p.Number:00}-{p.SignalIndex + 1:00}", p.Signal.Words),
            Numbering: false
        ),
        new(
            "Type letter before camel case",
            p => ($"{(p.Signal.Raw == RawType.Bool ? "b" : "r")}{p.Kind.Name}{p.Number}_{p.Signal.Code}", ""),
            WithUnits: false
        ),
        new("Section letter", p => ($"{(char)('A' + p.Area - 1)}{p.Number:000}{p.Signal.Isa}", ""), Numbering: false),
        new(
            "Opaque, described in German",
            p => ($"E{p.KindIndex * 1000 + (p.Ordinal - 1) * 10 + p.SignalIndex}", $"{p.Signal.GermanText} {p.Kind.Letters}{p.Number:00}"),
            WithUnits: false
        ),
        new("Unit inside the number", p => ($"{p.Signal.Isa[..2]}{p.Ordinal + 100 * p.KindIndex}{p.Signal.Isa[2..]}", "")),
        new(
            "Area by initial, run together",
            p => ($"{Areas[p.Area - 1][..1]}{p.Number:00}{p.Kind.Letters}{p.Signal.Isa}", ""),
            Numbering: false
        ),
    ];

    private static string LettersOf(int number) =>
        number <= 26 ? $"{(char)('A' + number - 1)}" : $"{(char)('A' + (number - 1) / 26 - 1)}{(char)('A' + (number - 1) % 26)}";

    private static string NoVowels(string word) =>
        (word[0] + string.Concat(word.Skip(1).Where(c => !"aeiou".Contains(c, StringComparison.Ordinal)))).ToUpperInvariant();
}
