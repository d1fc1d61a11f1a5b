using System.Collections.Immutable;
using System.Text;
using Fralto.Core.Units;

namespace Fralto.Core.Formulas;

/// <summary>What a number in a formula measures, and in which size: a unit of the catalogue, or a product of such units.</summary>
/// <remarks>
/// Temperatures and differences of temperatures are one dimension here, and what kind it is stands beside it: a temperature has a zero of
/// its own and can be neither added to another nor multiplied; a difference can.
/// </remarks>
public sealed record Measure
{
    private const double SameFactor = 1e-12;
    private const string Superscripts = "⁰¹²³⁴⁵⁶⁷⁸⁹";

    private Measure(Dimension dimension, double factor, double offset, Warmth warmth, ImmutableSortedDictionary<string, int> terms) =>
        (Dimension, Factor, Offset, Warmth, Terms) = (dimension, factor, offset, warmth, terms);

    /// <summary>A pure number.</summary>
    public static Measure One { get; } =
        new(Dimension.None, 1, 0, Warmth.None, ImmutableSortedDictionary.Create<string, int>(StringComparer.Ordinal));

    /// <summary>Seconds.</summary>
    public static Measure Second { get; } = Of(UnitCatalogue.Standard.Find("SEC")!);

    /// <summary>What it measures; differences of temperature count as temperatures.</summary>
    public Dimension Dimension { get; }

    /// <summary>SI value = (value + <see cref="Offset"/>) × factor.</summary>
    public double Factor { get; }

    /// <summary>Where its zero lies, in the unit itself; 0 for nearly all.</summary>
    public double Offset { get; }

    /// <summary>Whether a temperature is one or a difference of two.</summary>
    internal Warmth Warmth { get; }

    /// <summary>Symbols of the units it is a product of, with their powers.</summary>
    internal ImmutableSortedDictionary<string, int> Terms { get; }

    /// <summary>The measure of a unit.</summary>
    public static Measure Of(Unit unit)
    {
        var dimension = Fold(unit.Dimension);
        var isTemperature = dimension == Dimension.Of(BaseQuantity.Temperature);
        return new(
            dimension,
            unit.Factor,
            unit.Offset,
            !isTemperature ? Warmth.None
                : unit.Dimension != dimension ? Warmth.Difference
                : unit.Offset == 0 ? Warmth.Either
                : Warmth.Temperature,
            TermsOf(unit.Symbol)
        );
    }

    /// <summary>What stands beside a number of it: the symbol of the catalogue's unit, or the product.</summary>
    /// <param name="units">The catalogue.</param>
    public string Symbol(UnitSet units)
    {
        if (Terms.IsEmpty && Factor == 1)
            return "";
        var product = Product();
        if (units.Match(product) is { } known && Of(known).IsSizeOf(this))
            return known.Symbol;
        return units.All.FirstOrDefault(u => u.Offset == Offset && Of(u) is var its && its.IsSizeOf(this) && its.Warmth == Warmth)?.Symbol
            ?? product;
    }

    /// <summary>The product of the terms: kJ/(h·K).</summary>
    internal string Product()
    {
        static string Text(string symbol, int power) =>
            power == 1
                ? symbol
                : symbol
                    + string.Concat(power.ToString(System.Globalization.CultureInfo.InvariantCulture).Select(c => Superscripts[c - '0']));
        var above = string.Join("·", Terms.Where(t => t.Value > 0).Select(t => Text(t.Key, t.Value)));
        var below = Terms.Where(t => t.Value < 0).Select(t => Text(t.Key, -t.Value)).ToArray();
        if (below.Length == 0)
            return above;
        return $"{(above.Length == 0 ? "1" : above)}/{(below.Length == 1 ? below[0] : $"({string.Join("·", below)})")}";
    }

    /// <summary>True when numbers of both are the same numbers.</summary>
    internal bool IsSizeOf(Measure other) =>
        Dimension == other.Dimension && Offset == other.Offset && Math.Abs(Factor - other.Factor) <= SameFactor * Factor;

    /// <summary>The measure of a product; temperatures in it are differences.</summary>
    internal Measure Times(Measure other, int power = 1)
    {
        var dimension = power > 0 ? Dimension * other.Dimension : Dimension / other.Dimension;
        var terms = Terms.ToBuilder();
        foreach (var (symbol, its) in other.Terms)
        {
            var sum = terms.GetValueOrDefault(symbol) + its * power;
            if (sum == 0)
                terms.Remove(symbol);
            else
                terms[symbol] = sum;
        }
        return new(
            dimension,
            power > 0 ? Factor * other.Factor : Factor / other.Factor,
            0,
            dimension == Dimension.Of(BaseQuantity.Temperature) ? Warmth.Difference : Warmth.None,
            terms.ToImmutable()
        );
    }

    /// <summary>The measure to a whole power.</summary>
    internal Measure ToThe(int power)
    {
        var result = One;
        for (var i = 0; i < Math.Abs(power); i++)
            result = result.Times(this, Math.Sign(power));
        return result;
    }

    /// <summary>The measure whose square this is; null when it is no square.</summary>
    internal Measure? Root()
    {
        var dimension = Dimension.None;
        foreach (var quantity in Enum.GetValues<BaseQuantity>())
        {
            if (Dimension[quantity] % 2 != 0)
                return null;
            dimension *= Dimension.Of(quantity, Dimension[quantity] / 2);
        }
        var terms = Terms.All(t => t.Value % 2 == 0)
            ? Terms.ToImmutableSortedDictionary(t => t.Key, t => t.Value / 2, StringComparer.Ordinal)
            : null;
        return terms is null
            ? null
            : new(
                dimension,
                Math.Sqrt(Factor),
                0,
                dimension == Dimension.Of(BaseQuantity.Temperature) ? Warmth.Difference : Warmth.None,
                terms
            );
    }

    /// <summary>The measure of how far two numbers of this one lie apart.</summary>
    internal Measure Apart() =>
        Warmth == Warmth.None ? this
        : Offset == 0 && Warmth != Warmth.Temperature ? new(Dimension, Factor, 0, Warmth.Difference, Terms)
        : new(Dimension, Factor, 0, Warmth.Difference, TermsOf(Factor == 1 ? "K" : $"Δ{Terms.First().Key}"));

    /// <summary>From numbers of this measure to numbers of another of the same dimension.</summary>
    internal UnitConversion To(Measure other)
    {
        if (IsSizeOf(other) || Terms.IsEmpty && other.Terms.IsEmpty)
            return UnitConversion.None;
        var factor = Factor / other.Factor;
        // A difference has no zero of its own, whatever it is shown in.
        var isApart = Warmth == Warmth.Difference || other.Warmth == Warmth.Difference;
        return new(factor, isApart ? 0 : Offset * factor - other.Offset);
    }

    private static Dimension Fold(Dimension dimension) =>
        dimension[BaseQuantity.TemperatureDifference] is not 0 and var apart
            ? dimension / Dimension.Of(BaseQuantity.TemperatureDifference, apart) * Dimension.Of(BaseQuantity.Temperature, apart)
            : dimension;

    /// <summary>The terms of a symbol: m³/h is m to the third over h. One that is no product is a term by itself.</summary>
    private static ImmutableSortedDictionary<string, int> TermsOf(string symbol)
    {
        var terms = ImmutableSortedDictionary.CreateBuilder<string, int>(StringComparer.Ordinal);
        var (sign, at) = (1, 0);
        var isGrouped = false;
        while (at < symbol.Length)
        {
            var name = new StringBuilder();
            while (at < symbol.Length && (char.IsLetter(symbol[at]) || "°%‰Δ₀".Contains(symbol[at], StringComparison.Ordinal)))
                name.Append(symbol[at++]);
            var power = 0;
            while (at < symbol.Length && Superscripts.IndexOf(symbol[at], StringComparison.Ordinal) is >= 0 and var digit)
                (power, at) = (power * 10 + digit, at + 1);
            var one = name.Length == 0 && at < symbol.Length && symbol[at] == '1' && at == 0;
            if (one)
                at++;
            if (name.Length == 0 && !one)
                return Single(symbol);
            if (!one && !terms.TryAdd(name.ToString(), sign * (power == 0 ? 1 : power)))
                return Single(symbol);
            if (at == symbol.Length)
                break;
            switch (symbol[at])
            {
                case '·':
                    at++;
                    break;
                case '/' when sign > 0:
                    (sign, at) = (-1, at + 1);
                    if (at < symbol.Length && symbol[at] == '(')
                        (isGrouped, at) = (true, at + 1);
                    break;
                case ')' when isGrouped && at == symbol.Length - 1:
                    at++;
                    break;
                default:
                    return Single(symbol);
            }
        }
        return terms.ToImmutable();
    }

    private static ImmutableSortedDictionary<string, int> Single(string symbol) => One.Terms.Add(symbol, 1);
}
