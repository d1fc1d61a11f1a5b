using Fralto.Core.Planning;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Web.Live;

/// <summary>The units in which one person looks at values: each in place of another of the same dimension. The model stays as it
/// is.</summary>
public sealed class UnitLook
{
    /// <summary>Name of the cookie that keeps it.</summary>
    public const string Cookie = "fralto-units";

    /// <summary>Everything in the unit the model says.</summary>
    public static readonly UnitLook AsModelled = new(new SortedDictionary<string, string>(StringComparer.Ordinal));

    private const int MostPairs = 30;
    private const int LongestCode = 12;
    private readonly SortedDictionary<string, string> _shown;

    private UnitLook(SortedDictionary<string, string> shown)
    {
        _shown = shown;
        Text = string.Join("_", shown.Select(s => $"{s.Key}.{s.Value}"));
    }

    /// <summary>Written as CEL.FAH_BAR.PS, always in the same order.</summary>
    public string Text { get; }

    /// <summary>Reads what <see cref="Text"/> writes; what is none of it is passed over.</summary>
    public static UnitLook Parse(string? text)
    {
        if (string.IsNullOrEmpty(text))
            return AsModelled;
        var shown = new SortedDictionary<string, string>(StringComparer.Ordinal);
        foreach (var pair in text.Split('_').Take(MostPairs))
            if (pair.Split('.') is [var from, var to] && IsCode(from) && IsCode(to))
                shown[from] = to;
        return new(shown);
    }

    /// <summary>This look with one unit shown as another; the same one shows it as modelled again.</summary>
    public UnitLook With(string from, string to)
    {
        var shown = new SortedDictionary<string, string>(_shown, StringComparer.Ordinal);
        if (from == to || !IsCode(from) || !IsCode(to))
            shown.Remove(from);
        else
            shown[from] = to;
        return new(shown);
    }

    /// <summary>Code of the unit a unit is shown in; its own when nothing else is wanted.</summary>
    public string Shown(string code) => _shown.GetValueOrDefault(code, code);

    /// <summary>How a point is shown: its unit, the conversion to it, its range and decimals there.</summary>
    public ShownUnit Of(PlanPoint point, UnitSet units)
    {
        if (
            point.Unit is { } unit
            && _shown.TryGetValue(unit.Code, out var code)
            && units.Find(code) is { } to
            && UnitConversion.Between(unit, to) is { } conversion
        )
        {
            var range = point.Range is { } r ? new Span(conversion.Of(r.Low), conversion.Of(r.High)) : (Span?)null;
            return new(to, conversion, range, Resolution.DecimalsOf(range));
        }
        return new(point.Unit, UnitConversion.None, point.Range, point.Decimals);
    }

    private static bool IsCode(string text) => text.Length is > 0 and <= LongestCode && text.All(char.IsAsciiLetterOrDigit);
}
