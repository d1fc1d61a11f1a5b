using System.Text;

namespace Fralto.Core.Units;

/// <summary>One spelling for the many ways to write a unit: m³/h, m3/h, m^3/hr, cbm / h.</summary>
public static class UnitSpelling
{
    private const int Longest = 80;

    private static readonly Dictionary<string, string> Words = new(StringComparer.Ordinal)
    {
        ["L"] = "l",
        ["ltr"] = "l",
        ["hr"] = "h",
        ["hour"] = "h",
        ["sec"] = "s",
        ["minute"] = "min",
        ["day"] = "d",
        ["cbm"] = "m3",
        ["cum"] = "m3",
        ["qm"] = "m2",
        ["sqm"] = "m2",
        ["ccm"] = "cm3",
        ["rev"] = "r",
        ["lbs"] = "lb",
        ["Celsius"] = "degC",
        ["Fahrenheit"] = "degF",
        ["mL"] = "ml",
        ["hL"] = "hl",
        ["per"] = "/",
    };

    /// <summary>The plain spelling of a text: ASCII, no spaces, no signs of multiplication, the trade's short words.</summary>
    public static string Of(string text)
    {
        var plain = new StringBuilder();
        foreach (var c in text.Length > Longest ? text.AsSpan(0, Longest) : text)
            plain.Append(
                c switch
                {
                    '²' => "2",
                    '³' => "3",
                    '⁶' => "6",
                    '°' or 'º' => "deg",
                    'µ' or 'μ' => "u",
                    'Ω' or 'Ω' => "ohm",
                    'Δ' => "delta ",
                    '‰' => "permille",
                    '·' or '*' or '^' or '[' or ']' or '.' => " ",
                    _ => c.ToString(),
                }
            );
        var words = plain.ToString().Replace("/", " / ", StringComparison.Ordinal).Split(' ', StringSplitOptions.RemoveEmptyEntries);
        return string.Concat(words.Select(w => Words.GetValueOrDefault(w, w)));
    }
}
