using CsCheck;
using Fralto.Core.Units;

namespace Fralto.Core.Tests;

/// <summary>Numbers of units in OPC UA (Part 8, clause 5.6.4.3).</summary>
public class UnitNumberTests
{
    [Fact]
    public void Every_unit_there_is_has_a_number_that_leads_back()
    {
        // Codes of ours for what UNECE has no code for, such as differences of temperatures, have small letters and no number.
        var all = UnitCatalogue.Standard.All.Where(u => !u.Code.Any(char.IsAsciiLetterLower)).ToArray();
        all.Length.ShouldBeGreaterThan(200);
        UnitCatalogue.Standard.All.Except(all).ShouldAllBe(u => u.OpcUaId == UnitNumber.None);
        all.Select(u => u.OpcUaId).ShouldBeUnique();
        foreach (var unit in all)
            UnitNumber.CodeOf(unit.OpcUaId).ShouldBe(unit.Code);
    }

    [Fact]
    public void Whatever_number_comes_is_a_code_that_leads_back_or_none() =>
        Gen.Int.Sample(
            number =>
            {
                if (UnitNumber.CodeOf(number) is { } code)
                    UnitNumber.Of(code).ShouldBe(number);
            },
            iter: 20_000
        );

    [Theory]
    [InlineData("")]
    [InlineData("ABCD")]
    [InlineData("°C")]
    public void What_is_no_code_has_no_number(string code) => UnitNumber.Of(code).ShouldBe(UnitNumber.None);
}
