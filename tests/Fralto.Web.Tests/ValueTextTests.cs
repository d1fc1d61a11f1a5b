using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Modbus;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Web.Live;

namespace Fralto.Web.Tests;

/// <summary>Values as people read them.</summary>
public sealed class ValueTextTests
{
    [Theory]
    [InlineData(71.456, 1, "71.5")]
    [InlineData(9_999_999_999, 0, "9999999999")]
    [InlineData(-7.7374758e29, 1, "-7.74e+29")]
    [InlineData(-7.2e-38, 1, "0.0")] // a zero with a sign is no number that anybody reads
    public void A_number_too_large_to_be_read_is_written_with_its_power(double value, int decimals, string text) =>
        ValueText.Number(value, decimals).ShouldBe(text);

    [Fact]
    public void An_array_is_shown_as_a_whole()
    {
        static TagReading Of(double raw) => new(raw, StatusCode.Good, DateTimeOffset.UnixEpoch, null);
        static Tag Array(RawType type, int count) =>
            new(1, 2, "T", new ModbusAddress(RegisterArea.InputRegister, 0), type, WordOrder.HighFirst, "", count);
        ValueText.Raw(Array(RawType.Bool, 4), [Of(1), Of(0), Of(1), Of(1)]).ShouldBe("3/4 on");
        ValueText.Raw(Array(RawType.Int16, 5), [Of(1), Of(-2), Of(3), Of(4), Of(5)]).ShouldBe("1 -2 3 4 …");
        ValueText.Raw(Array(RawType.Int16, 2), [Of(double.NaN), Of(double.NaN)]).ShouldBe(ValueText.None);
        ValueText.Raw(Array(RawType.Int16, 1), []).ShouldBe(ValueText.None);
    }

    [Fact]
    public void A_look_is_read_as_it_is_written_and_what_is_none_of_it_is_passed_over()
    {
        UnitLook.Parse("CEL.FAH_BAR.PS").Text.ShouldBe("BAR.PS_CEL.FAH");
        UnitLook.Parse("CEL.FAH").With("CEL", "CEL").Text.ShouldBe("");
        UnitLook.Parse("<script>.x_CEL.K.L_.._CEL.FAH").Text.ShouldBe("CEL.FAH");
        UnitLook.Parse(string.Join("_", Enumerable.Range(0, 500).Select(i => $"U{i}.V"))).Text.Split('_').Length.ShouldBe(30);
    }

    /// <summary>Halves go away from zero wherever a number is shown: 12.25 and 11.75 were 12.2 and 11.8 in one place and 12.3 and 11.8 in
    /// another.</summary>
    [Theory]
    [InlineData(12.25, "12.3")]
    [InlineData(11.75, "11.8")]
    [InlineData(-12.25, "-12.3")]
    [InlineData(12.0, "12.0")]
    [InlineData(-1e-40, "0.0")]
    public void Halves_are_rounded_alike_everywhere(double value, string text)
    {
        ValueText.Number(value, 1).ShouldBe(text);
        ValueText.Plain(value, 1).ShouldBe(text.Replace(".0", "", StringComparison.Ordinal));
    }
}
