using System.Diagnostics;
using System.Globalization;
using CsCheck;
using Fralto.Core.Units;

namespace Fralto.Core.Tests;

public sealed class UnitTests
{
    private static readonly UnitSet Units = UnitCatalogue.Standard;

    /// <summary>How GNU units spells what our definitions are made of; what it has no word for stands there by its parts.</summary>
    private static readonly Dictionary<string, string> Gnu = new()
    {
        ["PS"] = "psi",
        ["80"] = "psi",
        ["E42"] = "kgf/cm^2",
        ["F79"] = "inHg",
        ["N16"] = "inHg",
        ["F78"] = "inH2O",
        ["N13"] = "10 mmHg",
        ["N23"] = "1000 mmH2O",
        ["BTU"] = "btu_IT",
        ["E14"] = "kcal_IT",
        ["K53"] = "1000 calorie_th",
        ["N72"] = "UStherm",
        ["2I"] = "btu_IT/hour",
        ["E16"] = "1e6 btu_IT/hour",
        ["BHP"] = "550 foot pound force / second",
        ["K43"] = "746 watt",
        ["N12"] = "metrichorsepower",
        ["KNT"] = "knot",
        ["NMI"] = "nauticalmile",
        ["GLI"] = "brgallon",
        ["G3"] = "brgallon/minute",
        ["GRN"] = "grain",
        ["ONZ"] = "ounce",
        ["STN"] = "shortton",
        ["LTN"] = "longton",
        ["4W"] = "shortton/hour",
        ["BLL"] = "barrel",
        ["5A"] = "barrel/minute",
        ["J62"] = "barrel/hour",
        ["B1"] = "barrel/day",
        ["GLL"] = "usgallon",
        ["K30"] = "usgallon/second",
        ["G2"] = "usgallon/minute",
        ["G50"] = "usgallon/hour",
        ["GB"] = "usgallon/day",
        ["GE"] = "pound/usgallon",
        ["RPM"] = "1/minute",
        ["RPS"] = "1/second",
        ["M44"] = "revolution",
        ["M46"] = "revolution/minute",
        ["DD"] = "degree",
        ["K40"] = "gravity",
        ["C62"] = "1",
        ["P1"] = "percent",
        ["60"] = "percent",
        ["VP"] = "percent",
        ["NX"] = "0.001",
        ["59"] = "ppm",
        ["61"] = "ppb",
        ["NA"] = "mg/kg",
        ["H64"] = "mg/g",
        ["H87"] = "1",
        ["EA"] = "1",
        ["89"] = "poise",
        ["C7"] = "centipoise",
        ["91"] = "stokes",
        ["4C"] = "centistokes",
        ["NU"] = "newton meter",
        ["LUX"] = "lux",
        ["D46"] = "volt ampere",
        ["KVA"] = "kilovolt ampere",
        ["MVA"] = "megavolt ampere",
        ["D44"] = "watt",
        ["KVR"] = "kilowatt",
        ["MAR"] = "megawatt",
        ["KEL"] = "kelvin",
        ["CEL"] = "kelvin",
        ["FAH"] = "degF",
        ["A48"] = "degR",
        ["dK"] = "kelvin",
        ["dCEL"] = "degC",
        ["dFAH"] = "degF",
        ["F12"] = "kelvin/second",
        ["F11"] = "kelvin/minute",
        ["F10"] = "kelvin/hour",
        ["H13"] = "degC/minute",
        ["H12"] = "degC/hour",
        ["J24"] = "degF/minute",
        ["SMI"] = "mile",
        ["HM"] = "mile/hour",
        ["KMH"] = "km/hour",
        ["4H"] = "micrometer",
        ["MC"] = "microgram",
        ["H29"] = "microgram/liter",
        ["GQ"] = "microgram/m^3",
        ["B98"] = "microsecond",
        ["B84"] = "microampere",
        ["4O"] = "microfarad",
        ["G42"] = "microsiemens/cm",
        ["G43"] = "microsiemens/m",
        ["H43"] = "siemens/cm",
        ["H61"] = "millisiemens/cm",
        ["OHM"] = "ohm",
        ["B49"] = "kiloohm",
        ["B75"] = "megaohm",
        ["MIN"] = "minute",
        ["HUR"] = "hour",
        ["DAY"] = "day",
        ["WEE"] = "week",
        ["HTZ"] = "hertz",
        ["C97"] = "1/second",
        ["C94"] = "1/minute",
        ["MAL"] = "megaliter",
        ["HLT"] = "hectoliter",
        ["K6"] = "kiloliter",
        ["4X"] = "kiloliter/hour",
        ["CMQ"] = "cm^3",
        ["2J"] = "cm^3/second",
        ["B43"] = "kJ/(kg K)",
        ["D55"] = "W/(m^2 K)",
        ["D53"] = "W/(m K)",
        ["WHR"] = "watt hour",
        ["KWH"] = "kilowatt hour",
        ["MWH"] = "megawatt hour",
        ["AMH"] = "ampere hour",
        ["C36"] = "mol/m^3",
        ["C38"] = "mol/liter",
        ["M33"] = "millimol/liter",
        ["E95"] = "mol/second",
        ["K58"] = "kilomol/hour",
        ["C34"] = "mol",
        ["B45"] = "kilomol",
        ["C81"] = "radian",
        ["2A"] = "radian/second",
        ["C65"] = "pascal second",
        ["C24"] = "millipascal second",
        ["C78"] = "lbf",
        ["87"] = "pound/foot^3",
        ["LA"] = "pound/inch^3",
        ["D33"] = "tesla",
        ["81"] = "henry",
        ["C14"] = "millihenry",
        ["KHZ"] = "kilohertz",
        ["MHZ"] = "megahertz",
    };

    [Fact]
    [Trait("source", "GNU units, Debian package units: an independent program with an independent table")]
    public void Every_factor_agrees_with_an_independent_program()
    {
        // Scales of their own that no factor leads out of are not in it.
        var known = Units.All.Where(u => !OwnScale(u)).ToArray();
        known.Length.ShouldBeGreaterThan(235);
        var wrong = new List<string>();
        Parallel.ForEach(known, unit =>
        {
            var (have, want) = (Gnu.TryGetValue(unit.Code, out var word) ? word : PlainSpelling(unit.Symbol), SiOf(unit));
            var answer = AskGnuUnits(have, want);
            if (
                double.TryParse(answer, NumberStyles.Float, CultureInfo.InvariantCulture, out var factor)
                && Math.Abs(unit.Factor / factor - 1) < 1e-9
            )
                return;
            lock (wrong)
                wrong.Add(
                    $"{unit.Code} {unit.Symbol}, '{have}' to '{want}': {answer} against "
                        + $"{unit.Factor.ToString("R", CultureInfo.InvariantCulture)}"
                );
        });
        wrong.ShouldBeEmpty();
    }

    [Theory]
    [Trait("source", "NIST SP 811 (2008), Appendix B.8; figures from memory")]
    [InlineData("PS", 6.894757e3)]
    [InlineData("BAR", 1e5)]
    [InlineData("ATM", 1.01325e5)]
    [InlineData("F79", 3.386389e3)]
    [InlineData("F78", 2.490889e2)]
    [InlineData("E42", 9.80665e4)]
    [InlineData("GLL", 3.785412e-3)]
    [InlineData("G2", 6.309020e-5)]
    [InlineData("GLI", 4.54609e-3)]
    [InlineData("BLL", 1.589873e-1)]
    [InlineData("FTQ", 2.831685e-2)]
    [InlineData("2L", 4.719474e-4)]
    [InlineData("FOT", 3.048e-1)]
    [InlineData("HM", 4.4704e-1)]
    [InlineData("KNT", 5.144444e-1)]
    [InlineData("LBR", 4.535924e-1)]
    [InlineData("87", 1.601846e1)]
    [InlineData("GE", 1.198264e2)]
    [InlineData("C78", 4.448222)]
    [InlineData("BTU", 1.055056e3)]
    [InlineData("BHP", 7.456999e2)]
    [InlineData("N12", 7.354988e2)]
    [InlineData("K43", 7.46e2)]
    [InlineData("M46", 1.047198e-1)]
    [InlineData("C7", 1e-3)]
    [InlineData("4C", 1e-6)]
    public void Factors_are_those_of_the_tables(string code, double factor) => Units.Find(code)!.Factor.ShouldBe(factor, factor * 6e-7);

    [Theory]
    [Trait("source", "fixed points of the temperature scales: NIST SP 811, B.8, from memory")]
    [InlineData(0, "CEL", "KEL", 273.15)]
    [InlineData(100, "CEL", "FAH", 212)]
    [InlineData(-40, "CEL", "FAH", -40)]
    [InlineData(98.6, "FAH", "CEL", 37)]
    [InlineData(491.67, "A48", "CEL", 0)]
    public void Temperatures_convert_with_their_zero(double value, string from, string to, double expected) =>
        Units.Between(from, to)!.Value.Of(value).ShouldBe(expected, 1e-9);

    [Fact]
    public void A_difference_of_temperatures_has_no_zero_and_is_no_temperature()
    {
        Units.Between("CEL", "FAH")!.Value.OfDifference(10).ShouldBe(18, 1e-9);
        Units.Between("dCEL", "dFAH")!.Value.Of(10).ShouldBe(18, 1e-9);
        Units.Between("CEL", "dCEL").ShouldBeNull();
    }

    [Theory]
    [Trait("source", "OPC UA Part 8, clause 5.6.4.3: the bytes of the common code; values as read from published nodesets")]
    [InlineData("CEL", 4408652)]
    [InlineData("MBR", 5063250)]
    [InlineData("P1", 20529)]
    [InlineData("AMP", 4279632)]
    [InlineData("SEC", 5457219)]
    [InlineData("NU", 20053)]
    [InlineData("C26", 4403766)]
    [InlineData("H81", 4732977)]
    [InlineData("dCEL", -1)]
    public void Units_have_the_id_of_their_code(string code, int id) => Units.Find(code)!.OpcUaId.ShouldBe(id);

    [Fact]
    public void There_and_back_is_where_one_began_for_every_pair_of_a_dimension()
    {
        var pairs = Units.All.SelectMany(u => Units.Alike(u).Select(o => (From: u, To: o))).ToArray();
        Gen.Select(Gen.Int[0, pairs.Length - 1], Gen.Double[-1e6, 1e6])
            .Sample(
                (i, value) =>
                {
                    var there = UnitConversion.Between(pairs[i].From, pairs[i].To)!.Value;
                    return Math.Abs(there.Inverse.Of(there.Of(value)) - value) <= 1e-7 * Math.Max(1, Math.Abs(value));
                }
            );
    }

    [Theory]
    [InlineData("RPM", "M46")]
    [InlineData("RPM", "2A")]
    [InlineData("NU", "JOU")]
    [InlineData("NM3", "MTQ")]
    [InlineData("Q40", "MQH")]
    [InlineData("NM3", "SM3")]
    [InlineData("NTU", "FNU")]
    [InlineData("Q30", "C62")]
    [InlineData("MON", "DAY")]
    public void What_no_factor_links_does_not_convert(string from, string to) => Units.Between(from, to).ShouldBeNull();

    [Theory]
    [InlineData("60", "VP")]
    [InlineData("KVA", "KWT")]
    [InlineData("80", "PS")]
    public void What_only_looks_alike_converts_with_a_caution(string from, string to)
    {
        Units.Between(from, to).ShouldNotBeNull();
        UnitConversion.Caution(Units.Find(from)!, Units.Find(to)!).ShouldNotBeNull();
    }

    [Theory]
    [InlineData("MQH", "MTQ", 3600)]
    [InlineData("KGS", "KGM", 1)]
    [InlineData("E18", "TNE", 3600)]
    [InlineData("L2", "LTR", 60)]
    [InlineData("KWT", "KWH", 3600)]
    [InlineData("AMP", "AMH", 3600)]
    [InlineData("Q40", "NM3", 3600)]
    [InlineData("MTS", "MTR", 1)]
    [Trait("source", "common practice, no source: 90 m³/h for 20 min is 30 m³; 2 m³/min for 15 min is 30 m³")]
    public void A_rate_adds_up_to_its_total_over_its_own_time(string rate, string total, double seconds)
    {
        var sum = Units.Integrate(Units.Find(rate)!);
        sum.Unit!.Code.ShouldBe(total);
        (sum.Factor * seconds).ShouldBe(1, 1e-12);
    }

    [Theory]
    [InlineData("MTR", "MTR", "MTK")]
    [InlineData("VLT", "AMP", "WTT")]
    [InlineData("KMQ", "MQS", "KGS")]
    [InlineData("NEW", "MTS", "WTT")]
    public void Units_multiply(string left, string right, string product)
    {
        var found = Units.Multiply(Units.Find(left)!, Units.Find(right)!);
        (found.Unit!.Code, Math.Round(found.Factor, 12)).ShouldBe((product, 1));
        Units.Divide(Units.Find(product)!, Units.Find(right)!).Dimension.ShouldBe(Units.Find(left)!.Dimension);
    }

    [Theory]
    [InlineData("m³/h", "MQH")]
    [InlineData("m3/h", "MQH")]
    [InlineData("m^3/hr", "MQH")]
    [InlineData("cbm/h", "MQH")]
    [InlineData("Nm3/h", "Q40")]
    [InlineData("Nm³/h", "Q40")]
    [InlineData("degC", "CEL")]
    [InlineData("°C", "CEL")]
    [InlineData("C", "CEL")]
    [InlineData("celsius", "CEL")]
    [InlineData("degF", "FAH")]
    [InlineData("mPa", "74")]
    [InlineData("MPa", "MPA")]
    [InlineData("MPA", "MPA")]
    [InlineData("mg/L", "M1")]
    [InlineData("kWh", "KWH")]
    [InlineData("kW·h", "KWH")]
    [InlineData("Nm", "NU")]
    [InlineData("rpm", "RPM")]
    [InlineData("1/min", "C94")]
    [InlineData("gpm", "G2")]
    [InlineData("% RH", "P1")]
    [InlineData("MQH", "MQH")]
    [InlineData("psi", "PS")]
    [InlineData("Cubic Metre Per Hour", "MQH")]
    public void People_write_units_in_many_ways(string text, string code) => Units.Match(text)!.Code.ShouldBe(code);

    [Theory]
    [InlineData("m3/hh", "m³/h")]
    [InlineData("degCC", "°C")]
    [InlineData("kilgram", "kg")]
    public void What_is_no_unit_is_answered_with_the_nearest(string text, string near)
    {
        Units.Match(text).ShouldBeNull();
        Units.Unknown(text).ShouldContain(near);
    }

    [Fact]
    public void Search_goes_by_symbol_name_quantity_and_code()
    {
        Units.Search("m3/h").First().Code.ShouldBe("MQH");
        Units.Search("volume flow gallon").Select(u => u.Code).ShouldContain("G2");
        Units.Search("temperature").Count().ShouldBeGreaterThan(6);
        Units.Search("G42").Single().Symbol.ShouldBe("µS/cm");
        Units.Search("no such thing").ShouldBeEmpty();
    }

    [Fact]
    public void Every_symbol_and_alias_leads_back_to_its_unit_or_to_one_that_shares_it()
    {
        foreach (var unit in Units.All)
        foreach (var text in unit.Aliases.Prepend(unit.Symbol))
        {
            var match = Units.Match(text);
            match.ShouldNotBeNull($"{unit.Code}: {text}");
            (
                match == unit
                || UnitSpelling.Of(match.Symbol) == UnitSpelling.Of(text)
                || match.Aliases.Any(a => UnitSpelling.Of(a) == UnitSpelling.Of(text))
            ).ShouldBeTrue($"{text} of {unit.Code} leads to {match.Code}");
        }
    }

    private static bool OwnScale(Unit unit) =>
        new[]
        {
            BaseQuantity.NormalVolume,
            BaseQuantity.StandardVolume,
            BaseQuantity.Acidity,
            BaseQuantity.NephelometricTurbidity,
            BaseQuantity.FormazinTurbidity,
            BaseQuantity.Level,
            BaseQuantity.CalendarTime,
        }.Any(q => unit.Dimension[q] != 0);

    private static string PlainSpelling(string symbol) =>
        symbol
            .Replace("³", "^3", StringComparison.Ordinal)
            .Replace("²", "^2", StringComparison.Ordinal)
            .Replace("·", " ", StringComparison.Ordinal)
            .Replace("l/", "liter/", StringComparison.Ordinal)
            .Replace("/l", "/liter", StringComparison.Ordinal)
            .Replace("/h", "/hour", StringComparison.Ordinal)
            .Replace("/d", "/day", StringComparison.Ordinal)
            .Replace("/min", "/minute", StringComparison.Ordinal)
            is var text
        && text is "l" or "ml"
            ? text.Replace("l", "liter", StringComparison.Ordinal)
        : text.StartsWith("t/", StringComparison.Ordinal) || text == "t" ? "tonne" + text[1..]
        : text.Replace("lb", "pound", StringComparison.Ordinal)
            .Replace("ft", "foot", StringComparison.Ordinal)
            .Replace("in", text.Contains("min", StringComparison.Ordinal) ? "in" : "inch", StringComparison.Ordinal);

    private static string SiOf(Unit unit)
    {
        var parts = new (BaseQuantity Quantity, string Word)[]
        {
            (BaseQuantity.Length, "m"),
            (BaseQuantity.Mass, "kg"),
            (BaseQuantity.Time, "s"),
            (BaseQuantity.Current, "A"),
            (BaseQuantity.Temperature, "K"),
            (BaseQuantity.TemperatureDifference, "K"),
            (BaseQuantity.Amount, "mol"),
            (BaseQuantity.LuminousIntensity, "cd"),
            (BaseQuantity.Angle, "radian"),
        };
        var text = string.Join(
            " ",
            parts.Where(p => unit.Dimension[p.Quantity] != 0).Select(p => $"{p.Word}^{unit.Dimension[p.Quantity]}")
        );
        return text.Length == 0 ? "1" : text;
    }

    private static string AskGnuUnits(string have, string want)
    {
        var start = new ProcessStartInfo("units", ["--terse", "--quiet", "--digits", "15", have, want])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        using var process = Process.Start(start)!;
        return (process.StandardOutput.ReadToEnd() + process.StandardError.ReadToEnd()).Trim();
    }
}
