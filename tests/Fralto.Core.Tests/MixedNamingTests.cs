using Fralto.Core.Basics;
using Fralto.Core.Proposals;

namespace Fralto.Core.Tests;

/// <summary>Plants in which several ways of naming stand beside each other, so that few tags are called in each.</summary>
public sealed class MixedNamingTests
{
    private readonly NamedPlant _plant = new();

    private void Area(string code, string site = "Quay") =>
        _plant.Place(code, $"Area {code}", EquipmentLevel.Area, site, key: $"{site} {code}");

    private void Unit(string area, string kind, string code, string name) =>
        _plant.Place(code, name, EquipmentLevel.Unit, area, kind, $"{area} {code}");

    /// <summary>B_FLOW_A_PUMP is of pump B in area A, as there is an E_FLOW_A_PUMP and no area E; the other half of the pumps is called
    /// by other names, so that not every name is there the other way round.</summary>
    [Fact]
    public void Of_two_letters_the_one_that_goes_on_is_not_the_areas()
    {
        _plant.Kind("Pump");
        var right = new Dictionary<string, string>();
        string[] areas = ["A", "B", "C", "D"];
        for (var area = 0; area < areas.Length; area++)
        {
            Area(areas[area]);
            foreach (var unit in "ABCDEFGH")
            {
                Unit($"Quay {areas[area]}", "Pump", $"P_{unit}", $"Pump {unit}");
                right[$"Quay {areas[area]} P_{unit}"] =
                    (unit / 2 + area) % 2 == 0
                        ? $"{unit}_FLOW_{areas[area]}_PUMP"
                        : $"io {areas[area]} pump {unit} durchfl".ToLowerInvariant();
            }
        }
        foreach (var tag in right.Values.Order())
            _plant.Tag(tag);
        foreach (var (unit, tag) in right)
            new[] { null, $"plc {tag}" }.ShouldContain(_plant.Proposed(unit, "Pump"));
    }

    /// <summary>What is described as of area B is not taken for that of the pump of area A with the same letter, however many of them there
    /// are.</summary>
    [Fact]
    public void What_names_another_area_is_not_proposed_where_nobody_has_shown_it()
    {
        _plant.Kind("Pump");
        foreach (var area in new[] { "A", "B" })
        {
            Area(area);
            foreach (var unit in "ABCDEFGH")
                Unit($"Quay {area}", "Pump", $"P_{unit}", $"Pump {unit}");
        }
        foreach (var unit in "ABCDEFGH")
        {
            _plant.Tag($"IO/A/V35/{unit}/Pump");
            _plant.Tag($"x.{unit}.b.ft01.pump".ToLowerInvariant(), description: $"Area B Pump {unit} flow");
        }
        foreach (var unit in "ABCDEFGH")
        {
            new[] { null, $"plc IO/A/V35/{unit}/Pump" }.ShouldContain(_plant.Proposed($"Quay A P_{unit}", "Pump"));
            _plant.Proposed($"Quay B P_{unit}", "Pump").ShouldBe($"plc x.{unit}.b.ft01.pump".ToLowerInvariant());
        }
    }

    /// <summary>The A of PUMP-A2-FLOW-B is that of area A2.</summary>
    [Fact]
    public void A_part_of_what_the_area_is_called_does_not_name_a_unit()
    {
        _plant.Kind("Pump");
        for (var area = 1; area <= 3; area++)
        {
            Area($"A{area}");
            foreach (var unit in "AB")
                Unit($"Quay A{area}", "Pump", $"P_{unit}", $"Pump {unit}");
            _plant.Tag($"A{area}:A:V64:20");
            _plant.Tag($"PLC-PUMP-A{area}-FLOW-B");
        }
        for (var area = 1; area <= 3; area++)
            _plant.Proposed($"Quay A{area} P_A", "Pump").ShouldBeNull();
    }

    /// <summary>Two dryers of eight are called so in each area, and each area has its own controller: every tag called so is explained by
    /// the number as it is.</summary>
    [Fact]
    public void What_is_written_as_it_is_said_is_found_however_few_are_called_so()
    {
        _plant.Kind("Dryer");
        var right = new Dictionary<string, string>();
        foreach (var site in new[] { "S1", "S2" })
        {
            _plant.Place(site, $"Site {site[1]}", EquipmentLevel.Site, "Works");
            for (var area = 1; area <= 3; area++)
            {
                Area($"A{area}", site);
                _plant.Controller($"plc{site[1]}A{area}");
                for (var number = 10; number <= 80; number += 10)
                {
                    Unit($"{site} A{area}", "Dryer", $"DR{number}", $"Dryer {number}");
                    var name =
                        number <= 30 ? $"FT21-{number + 140}-10"
                        : number <= 60 ? $"DR:{number}:FLOW"
                        : $"ns2 {number} Drye Gas";
                    right[$"{site} A{area} DR{number}"] = $"plc{site[1]}A{area} {name}";
                    _plant.Tag(name, $"plc{site[1]}A{area}");
                }
            }
        }
        _plant.Bind("S1 A2 DR80", "Dryer", right["S1 A2 DR80"]);
        foreach (
            var (unit, tag) in right.Where(r =>
                r.Key.EndsWith("70", StringComparison.Ordinal) && r.Key.StartsWith("S1", StringComparison.Ordinal)
            )
        )
            _plant.Proposed(unit, "Dryer").ShouldBe(tag);
    }

    /// <summary>Three areas have a pump 4 and there is one tag of a pump 4, which does not say where: whichever it comes nearest to, it is
    /// that one's once in three.</summary>
    [Fact]
    public void Of_several_that_are_as_likely_none_is_said_to_be_more_certain_than_its_part()
    {
        _plant.Kind("Pump");
        string[] areas = ["A1", "A2", "A3"];
        foreach (var area in areas)
        {
            Area(area);
            foreach (var unit in Enumerable.Range(1, 8))
                Unit($"Quay {area}", "Pump", $"P{unit}", $"Pump {unit}");
        }
        foreach (var unit in Enumerable.Range(1, 8))
            _plant.Tag($"pump_{unit}_flow");
        foreach (var unit in Enumerable.Range(1, 8))
        {
            var near = areas.Select(a => _plant.Answer($"Quay {a} P{unit}", "Pump")).Where(p => p.TagId is not null).ToArray();
            near.ShouldNotBeEmpty();
            near.ShouldAllBe(p => p.Kind == ProposalKind.Open && p.Certainty > 0.1 && p.Certainty < 0.34);
            near.Sum(p => p.Certainty).ShouldBeLessThan(1.01);
            // All are called pump 4: the other that it may be of as well is said with its place.
            foreach (var answer in near)
            {
                answer.Reason!.ShouldContain($"comes nearest, with a certainty of {answer.Certainty:0.00}");
                areas.ShouldContain(a =>
                    _plant.Builder[$"Quay {a} P{unit}"] != answer.EquipmentId
                    && answer.Reason!.EndsWith($"/{a}/P{unit} Flow wants pump_{unit}_flow just as much.", StringComparison.Ordinal)
                );
            }
        }
        // Whoever asks for less certainty has several that are as certain, not none.
        var asked = Proposer.Propose(new(_plant.Builder.Model) { Threshold = 0.3 }).Proposals;
        asked.ShouldAllBe(p => p.Kind != ProposalKind.Proposed);
        asked.Count(p => p.Kind == ProposalKind.Clash).ShouldBe(8);
    }
}
