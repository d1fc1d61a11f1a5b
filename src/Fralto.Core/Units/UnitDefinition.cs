using System.Globalization;

namespace Fralto.Core.Units;

/// <summary>Reads definitions such as "1e3 W h", "lbf in-2" or "5/9 K + 459.67": numbers and named quantities with exponents,
/// multiplied.</summary>
internal static class UnitDefinition
{
    /// <summary>The quantities definitions are made of, each by those before it.</summary>
    /// <remarks>
    /// Exact by definition: NIST SP 811 (2008), Appendix B: pound, inch, gallon, standard gravity, calorie and Btu of the
    /// International Table. Mercury is the conventional 13.5951 g/cm³, water 1 g/cm³, both at standard gravity.
    /// </remarks>
    private const string Names = """
        N=kg m s-2
        Pa=N m-2
        J=N m
        W=J s-1
        V=W A-1
        ohm=V A-1
        cm=1e-2 m
        mm=1e-3 m
        l=1e-3 m3
        g=1e-3 kg
        t=1e3 kg
        min=60 s
        h=3600 s
        d=86400 s
        bar=1e5 Pa
        in=0.0254 m
        ft=0.3048 m
        yd=0.9144 m
        mi=1609.344 m
        gal=231 in3
        ukgal=4.54609e-3 m3
        bbl=42 gal
        lb=0.45359237 kg
        ton=2000 lb
        kgf=9.80665 N
        lbf=0.45359237 kgf
        mmHg=13.5951 9.80665 Pa
        inHg=25.4 mmHg
        mmAq=9.80665 Pa
        inAq=25.4 mmAq
        cal=4.1868 J
        btu=1055.05585262 J
        """;

    private static readonly Dictionary<string, (Dimension Dimension, double Factor)> Known = Gather();

    /// <summary>The dimension, factor and offset of a definition, and the time of a rate in seconds; null for what is no rate.</summary>
    public static (Dimension Dimension, double Factor, double Offset, double? PerSeconds) Read(string definition)
    {
        var plus = definition.IndexOf(" + ", StringComparison.Ordinal);
        var offset = plus < 0 ? 0 : Number(definition[(plus + 3)..]);
        var (dimension, factor, perSeconds) = Product(plus < 0 ? definition : definition[..plus], Known);
        return (dimension, factor, offset, perSeconds);
    }

    private static (Dimension, double, double?) Product(string definition, Dictionary<string, (Dimension Dimension, double Factor)> known)
    {
        var (dimension, above, below, perSeconds) = (Dimension.None, 1d, 1d, (double?)null);
        foreach (var word in definition.Split(' '))
        {
            if (char.IsAsciiDigit(word[0]))
            {
                var parts = word.Split('/');
                above *= Number(parts[0]);
                if (parts.Length > 1)
                    below *= Number(parts[1]);
                continue;
            }
            var name = word.TrimEnd("-0123456789".ToCharArray());
            var power = name.Length == word.Length ? 1 : int.Parse(word[name.Length..], CultureInfo.InvariantCulture);
            var (its, factor) = known[name];
            dimension *= its.ToThe(power);
            // Numbers above and below the line are gathered apart, so that 1/60 is rounded once.
            for (var i = 0; i < power; i++)
                above *= factor;
            for (var i = 0; i > power; i--)
                below *= factor;
            if (power == -1 && its == Dimension.Time)
                perSeconds = factor;
        }
        return (dimension, above / below, perSeconds);
    }

    private static Dictionary<string, (Dimension, double)> Gather()
    {
        var known = new Dictionary<string, (Dimension, double)>(StringComparer.Ordinal)
        {
            ["pi"] = (Dimension.None, Math.PI),
            ["m"] = (Dimension.Of(BaseQuantity.Length), 1),
            ["kg"] = (Dimension.Of(BaseQuantity.Mass), 1),
            ["s"] = (Dimension.Time, 1),
            ["A"] = (Dimension.Of(BaseQuantity.Current), 1),
            ["K"] = (Dimension.Of(BaseQuantity.Temperature), 1),
            ["mol"] = (Dimension.Of(BaseQuantity.Amount), 1),
            ["cd"] = (Dimension.Of(BaseQuantity.LuminousIntensity), 1),
            ["rad"] = (Dimension.Of(BaseQuantity.Angle), 1),
            ["Nm"] = (Dimension.Of(BaseQuantity.NormalVolume), 1),
            ["Sm"] = (Dimension.Of(BaseQuantity.StandardVolume), 1),
            ["Kd"] = (Dimension.Of(BaseQuantity.TemperatureDifference), 1),
            ["pH"] = (Dimension.Of(BaseQuantity.Acidity), 1),
            ["ntu"] = (Dimension.Of(BaseQuantity.NephelometricTurbidity), 1),
            ["fnu"] = (Dimension.Of(BaseQuantity.FormazinTurbidity), 1),
            ["dB"] = (Dimension.Of(BaseQuantity.Level), 1),
            ["mo"] = (Dimension.Of(BaseQuantity.CalendarTime), 1),
        };
        foreach (var line in Names.Split('\n'))
        {
            var (name, definition) = (
                line[..line.IndexOf('=', StringComparison.Ordinal)],
                line[(line.IndexOf('=', StringComparison.Ordinal) + 1)..]
            );
            var (dimension, factor, _) = Product(definition, known);
            known[name] = (dimension, factor);
        }
        return known;
    }

    private static double Number(string text) => double.Parse(text, NumberStyles.Float, CultureInfo.InvariantCulture);
}
