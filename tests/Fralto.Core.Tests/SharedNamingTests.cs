using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Proposals;

namespace Fralto.Core.Tests;

/// <summary>What names of a plant have in common, and what controllers are called, tells tags apart that one template leaves
/// open.</summary>
public sealed class SharedNamingTests
{
    private readonly NamedPlant _plant = new();

    /// <summary>All names end with PUMP-01, whatever the pump: the 01 is no pump's number, also where pump 1 was the example.</summary>
    [Fact]
    public void A_number_that_all_names_have_is_that_of_no_unit()
    {
        _plant.Kind("Pump");
        for (var n = 1; n <= 8; n++)
        {
            _plant.Place($"P{n}", $"Pump {n}", EquipmentLevel.Unit, "Quay", "Pump");
            _plant.Tag($"{n + 80}-FLOW-PUMP-01");
        }
        _plant.Bind("P1", "Pump", "plc 81-FLOW-PUMP-01");
        for (var n = 2; n <= 8; n++)
            _plant.Proposed($"P{n}", "Pump").ShouldBe($"plc {n + 80}-FLOW-PUMP-01");
    }

    /// <summary>Where names say PUMP-02 and PUMP-03 too, what says PUMP-01 is pump 1's, however the loop numbers fall in.</summary>
    [Fact]
    public void A_number_that_differs_between_names_is_the_units()
    {
        _plant.Kind("Pump");
        for (var n = 1; n <= 8; n++)
        {
            _plant.Place($"P{n}", $"Pump {n}", EquipmentLevel.Unit, "Quay", "Pump");
            for (var loop = 81; loop <= 84; loop++)
                _plant.Tag($"PUMP-{n:00}-FLOW-{loop}");
        }
        _plant.Bind("P1", "Pump", "plc PUMP-01-FLOW-81");
        for (var n = 2; n <= 8; n++)
            _plant.Proposed($"P{n}", "Pump").ShouldBe($"plc PUMP-{n:00}-FLOW-81");
    }

    /// <summary>P[7] is an element, and not pump 7, where its description says that it is pump 2.</summary>
    [Fact]
    public void An_element_of_an_array_is_not_the_unit_of_its_number()
    {
        _plant.Kind("Pump");
        for (var n = 1; n <= 8; n++)
        {
            _plant.Place($"P{n}", $"Pump {n}", EquipmentLevel.Unit, "Quay", "Pump");
            _plant.Tag($"P[{n * 2 + 3}]", description: $"Pump {n} flow");
        }
        // There is no pump 11, of which the example could speak.
        _plant.Bind("P4", "Pump", "plc P[11]");
        foreach (var n in new[] { 1, 2, 3, 5, 6, 7, 8 })
            _plant.Proposed($"P{n}", "Pump").ShouldBe($"plc P[{n * 2 + 3}]");
    }

    /// <summary>Tank 2 lies in DB20, and so it does at the other site: that is no block of each tank's own, ten times its number, where
    /// the others lie in DB20 as well, as far apart as pumps lie in theirs.</summary>
    [Fact]
    public void What_another_site_calls_alike_does_not_say_how_numbers_follow()
    {
        _plant.KindOfThree("Tank");
        _plant.KindOfThree("Pump");
        foreach (var site in new[] { 1, 2 })
        {
            _plant.Site(site);
            foreach (var (kind, letters, count, block, from) in new[] { ("Tank", "TK", 2, 20, 138), ("Pump", "P", 9, 21, 134) })
                for (var n = 1; n <= count; n++)
                {
                    _plant.Place($"{letters}{n:00}", $"{kind} {n}", EquipmentLevel.Unit, $"S{site}", kind, $"S{site} {letters}{n}");
                    foreach (var (property, i) in NamedPlant.Three.Select((p, i) => (p, i)))
                        _plant.Tag($"DB{block}.W{n * 36 + from + 2 * i}", $"plc{site}");
                }
        }
        foreach (var (property, i) in NamedPlant.Three.Select((p, i) => (p, i)))
        {
            _plant.Bind("S1 TK2", "Tank", $"plc1 DB20.W{210 + 2 * i}", property);
            _plant.Bind("S1 P4", "Pump", $"plc1 DB21.W{278 + 2 * i}", property);
        }
        _plant.Proposed("S1 TK1", "Tank", "Return").ShouldBe("plc1 DB20.W176");
        _plant.Proposed("S2 TK2", "Tank", "Drain").ShouldBe("plc2 DB20.W214");
    }

    /// <summary>Tank 201 is called by its name, and not by site 2 and the 01 of some tank there.</summary>
    [Fact]
    public void A_name_is_not_put_together_from_numbers_of_places()
    {
        _plant.Kind("Tank");
        foreach (var site in new[] { 1, 2 })
        {
            _plant.Site(site);
            foreach (var area in new[] { 1, 2 })
            {
                _plant.Place($"A{area}", $"Area {area}", EquipmentLevel.Area, $"S{site}", null, $"S{site} A{area}");
                for (var n = 1; n <= 6; n++)
                {
                    var number = 100 * area + n;
                    _plant.Place($"TK{number}", $"Tank {number}", EquipmentLevel.Unit, $"S{site} A{area}", "Tank", $"S{site} TK{number}");
                    _plant.Tag($"M{(site * 12 + n * 5 + area) * 37 % 211}", $"plc{site}", $"Tank {number} flow");
                }
            }
        }
        _plant.Bind("S2 TK201", "Tank", $"plc2 M{(24 + 5 + 2) * 37 % 211}");
        foreach (var site in new[] { 1, 2 })
        foreach (var number in new[] { 102, 106, 203, 205 })
            _plant
                .Proposed($"S{site} TK{number}", "Tank")
                .ShouldBe($"plc{site} M{(site * 12 + number % 100 * 5 + number / 100) * 37 % 211}");
    }

    /// <summary>248, 250, 252 and 254 are as well pumps 11 to 14, counted by twos, as pumps 8, 10, 12 and 14 and none of those between:
    /// where 254 is pump 14, nobody is given 248.</summary>
    [Fact]
    public void What_would_leave_out_every_second_unit_is_held_back()
    {
        _plant.KindOfThree("Pump");
        foreach (var site in new[] { 1, 2 })
        {
            _plant.Site(site);
            for (var n = 1; n <= 14; n++)
                _plant.Place($"P{n:00}", $"Pump {n}", EquipmentLevel.Unit, $"S{site}", "Pump", $"S{site} P{n}");
            foreach (var property in NamedPlant.Three)
                for (var loop = 248; loop <= 254; loop += 2)
                    _plant.Tag($"{NamedPlant.Opaque(property)}:PUMP:{loop}:VAL", $"plc{site}");
        }
        foreach (var property in NamedPlant.Three)
            _plant.Bind("S1 P14", "Pump", $"plc1 {NamedPlant.Opaque(property)}:PUMP:254:VAL", property);
        for (var n = 1; n <= 10; n++)
            _plant.Proposed($"S2 P{n}", "Pump").ShouldBeNull();
    }

    /// <summary>Tanks lie six words apart and are described. What lies where tanks 1 and 4 would, and is not described, may be
    /// anybody's.</summary>
    [Fact]
    public void What_is_only_counted_to_and_not_described_as_the_others_are_is_held_back()
    {
        int[] foreign = [1, 4];
        _plant.Kind("Tank");
        for (var n = 1; n <= 12; n++)
        {
            _plant.Place($"TK{n}", $"Tank {n}", EquipmentLevel.Unit, "Quay", "Tank");
            _plant.Tag($"DB21.W{n * 6 + 254}", description: foreign.Contains(n) ? "" : $"Tank {n} flow");
        }
        _plant.Bind("TK9", "Tank", "plc DB21.W308");
        foreach (var n in foreign)
        {
            var held = _plant.Answer($"TK{n}", "Tank");
            held.Kind.ShouldBe(ProposalKind.Clash);
            held.Reason!.ShouldContain("no description");
        }
        foreach (var n in new[] { 2, 3, 5, 6, 7, 8, 10, 11, 12 })
            _plant.Proposed($"TK{n}", "Tank").ShouldBe($"plc DB21.W{n * 6 + 254}");
    }

    /// <summary>Two sites called alike, a controller for each area of each: one example says how controllers are called, so that each
    /// unit has the tag of its own and none that of another, also where its own has none.</summary>
    [Fact]
    public void Controllers_called_after_places_tell_whose_tags_of_one_name_are()
    {
        _plant.Kind("Pump");
        var missing = new[] { "plc1South 3", "plc2North 2", "plc2North 5", "plc2South 4" };
        foreach (var site in new[] { 1, 2 })
        {
            _plant.Place($"S{site}", $"Site {site}", EquipmentLevel.Site, "Works");
            foreach (var area in new[] { "North", "South" })
            {
                _plant.Builder.Do(new SaveController(null, $"plc{site}{area}", "127.0.0.1", 510, 1, 500), $"plc{site}{area}");
                _plant.Place(area, area, EquipmentLevel.Area, $"S{site}", key: $"S{site} {area}");
                for (var n = 1; n <= 6; n++)
                {
                    _plant.Place($"P{n}", $"Pump {n}", EquipmentLevel.Unit, $"S{site} {area}", "Pump", $"S{site} {area} P{n}");
                    if (!missing.Contains($"plc{site}{area} {n}"))
                        _plant.Tag($"DURCHFL/{area}/PUMP/{n + 39}", $"plc{site}{area}");
                }
            }
        }
        _plant.Bind("S1 North P1", "Pump", "plc1North DURCHFL/North/PUMP/40");
        foreach (var (site, area) in new[] { (1, "North"), (1, "South"), (2, "North"), (2, "South") })
            for (var n = site == 1 && area == "North" ? 2 : 1; n <= 6; n++)
                _plant
                    .Proposed($"S{site} {area} P{n}", "Pump")
                    .ShouldBe(missing.Contains($"plc{site}{area} {n}") ? null : $"plc{site}{area} DURCHFL/{area}/PUMP/{n + 39}");
    }

    /// <summary>Pump 30 is called 303 and dryer 10 263: that shows how tank 20 is called 283, of which too few tags are there to
    /// tell.</summary>
    [Fact]
    public void What_units_of_other_templates_are_called_shows_how_numbers_are_reckoned()
    {
        foreach (var (kind, code) in new[] { ("Pump", "PU"), ("Dryer", "DR"), ("Tank", "TK") })
        {
            _plant.Kind(kind);
            foreach (var n in new[] { 10, 20, 30, 40, 50, 60, 70 })
            {
                _plant.Place($"{code}{n}", $"{kind} {n}", EquipmentLevel.Unit, "Quay", kind);
                if (kind != "Tank" || n is 20 or 50)
                    _plant.Tag($"ns2:{n * 2 + 243}:{code}:FT11");
            }
        }
        _plant.Bind("PU30", "Pump", "plc ns2:303:PU:FT11");
        _plant.Bind("DR10", "Dryer", "plc ns2:263:DR:FT11");
        _plant.Bind("TK20", "Tank", "plc ns2:283:TK:FT11");
        _plant.Proposed("TK50", "Tank").ShouldBe("plc ns2:343:TK:FT11");
        _plant.Proposed("TK10", "Tank").ShouldBeNull();
    }

    /// <summary>Areas A and B, pumps A to B or A to H, nothing bound: what says B and A may be either's, unless pumps go on where areas
    /// do not.</summary>
    [Theory]
    [InlineData("AB", false)]
    [InlineData("ABCDEFGH", true)]
    public void Two_letters_tell_only_where_one_of_them_goes_on(string pumps, bool isTold)
    {
        _plant.Kind("Pump");
        foreach (var area in "AB")
        {
            _plant.Place($"{area}", $"Area {area}", EquipmentLevel.Area, "Quay");
            foreach (var pump in pumps)
            {
                _plant.Place($"P_{pump}", $"Pump {pump}", EquipmentLevel.Unit, $"{area}", "Pump", $"{area} P_{pump}");
                _plant.Tag($"Flow.{area}.Pump.{pump}");
            }
        }
        _plant.Proposed("A P_B", "Pump").ShouldBe(isTold ? "plc Flow.A.Pump.B" : null);
        _plant.Proposed("B P_A", "Pump").ShouldBe(isTold ? "plc Flow.B.Pump.A" : null);
        _plant.Proposed("A P_A", "Pump").ShouldBe("plc Flow.A.Pump.A");
    }

    /// <summary>Two units of one template share the tag of their area, which a rule names for both.</summary>
    [Fact]
    public void A_tag_that_feeds_two_is_counted_for_both()
    {
        _plant.Kind("Pump");
        foreach (var area in new[] { "A1", "A2" })
        {
            _plant.Place(area, $"Area {area}", EquipmentLevel.Area, "Quay");
            _plant.Tag($"{area}_FT11");
            for (var n = 1; n <= 3; n++)
                _plant.Place($"P{n}", $"Pump {n}", EquipmentLevel.Unit, area, "Pump", $"{area} P{n}");
        }
        foreach (var n in new[] { 1, 2, 3 })
            _plant.Builder.Do(x => new Bind(x[$"A1 P{n}"], x["PumpFlow"], x["plc A1_FT11"], null, Share: true));
        Should.NotThrow(() => Proposer.Propose(new(_plant.Builder.Model)).Proposals.Length).ShouldBe(3);
    }
}
