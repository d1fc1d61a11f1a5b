using System.Text.RegularExpressions;
using CsCheck;
using Fralto.Core.Basics;
using Fralto.Core.Diagnosis;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;

namespace Fralto.Core.Tests;

/// <summary>How codes are written in a plant.</summary>
public class NamingConventionTests
{
    [Theory]
    [InlineData("K#", "K1", true)]
    [InlineData("K#", "K12", false)]
    [InlineData("K#", "k1", false)]
    [InlineData("P???_*", "PabC_9", true)]
    [InlineData("*", "X", true)]
    [InlineData("S##*", "S01", true)]
    [InlineData("*a*b", "xaab", true)]
    [InlineData("*a*b", "xaabc", false)]
    public void A_code_fits_a_pattern_or_does_not(string pattern, string code, bool fits) =>
        new NamingConvention(1, EquipmentLevel.Unit, null, false, pattern).Fits(code).ShouldBe(fits);

    [Fact]
    [Trait("source", "System.Text.RegularExpressions as the reference")]
    public void Fits_what_the_same_regular_expression_fits() =>
        Gen.Select(Gen.Char["aA1_#?*"].Array[1, 8], Gen.Char["aA1_b"].Array[1, 9])
            .Sample(
                (pattern, code) =>
                {
                    var text = new string(pattern);
                    var expression = string.Concat(
                        text.Select(c =>
                            c switch
                            {
                                '#' => "[0-9]",
                                '?' => "[A-Za-z]",
                                '*' => ".*",
                                _ => Regex.Escape(c.ToString()),
                            }
                        )
                    );
                    return new NamingConvention(1, EquipmentLevel.Unit, null, false, text).Fits(new(code))
                        == Regex.IsMatch(new(code), $"^(?:{expression})$", RegexOptions.NonBacktracking);
                }
            );

    [Fact]
    public void A_template_comes_before_its_level_and_holds_for_what_inherits_from_it()
    {
        var plant = new PlantBuilder();
        plant.Do(new SaveTemplate(null, "Oven", "Oven", null, ""), "Oven");
        plant.Do(b => new SaveTemplate(null, "BigOven", "Big oven", b["Oven"], ""), "Big");
        plant.Do(new SaveEquipment(null, "W", "Works", EquipmentLevel.Enterprise, null, null), "W");
        foreach (var (code, template) in new[] { ("K1", null), ("Oven2", "Oven"), ("V3", "Big"), ("K4", "Oven"), ("Mill", null) })
            plant.Do(b => new SaveEquipment(null, code, code, EquipmentLevel.Unit, b["W"], template is null ? null : b[template]), code);
        plant.Do(b => new SaveNamingConventions([
            (EquipmentLevel.Unit, null, false, "K#"),
            (null, b["Oven"], false, "V#"),
            (null, b["Oven"], false, "Oven#"),
            (EquipmentLevel.Unit, null, true, "?*"),
            (null, b["Oven"], true, "K#"),
            (null, b["Oven"], true, "V#"),
        ]));

        ModelFindings
            .WrittenApart(plant.Model)
            .Select(c => $"{(c.IsName ? "name " : "")}{c.Node.Name}: {c.Meant}")
            .ShouldBe(["name Oven2: K# or V#", "K4: Oven# or V#", "Mill: K#"]);

        plant.Do(b => new RemoveTemplate(b["Oven"], WithAll: true));
        plant.Model.NamingConventions.Values.Select(p => p.Text).Order().ShouldBe(["?*", "K#"]);
    }

    [Fact]
    public void A_pattern_that_no_code_can_have_is_refused()
    {
        var plant = new PlantBuilder();
        plant
            .Refused(_ => new SaveNamingConventions([(EquipmentLevel.Unit, null, false, "K [0-9]")]))
            .Single()
            .Message.ShouldContain("' '");
        plant.Refused(_ => new SaveNamingConventions([(null, null, false, "K#")])).Single().Message.ShouldContain("one of the two");
        plant.Refused(_ => new SaveNamingConventions([(null, 999, false, "K#")])).Single().Message.ShouldContain("not there any more");
        plant
            .Refused(_ => new SaveNamingConventions([(EquipmentLevel.Unit, null, true, " Kiln #")]))
            .Single()
            .Message.ShouldContain("blank");
    }
}
