using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Modbus;
using Fralto.Core.Proposals;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>What names of a plant have in common, and what controllers are called, tells tags apart that one template leaves
/// open.</summary>
public sealed class SharedNamingTests
{
    private readonly PlantBuilder _b = ProposalTests.Quay();
    private int _offset;

    private string Tag(string name, string plc = "plc", string description = "")
    {
        _b.Do(
            x => new SaveTag(
                null,
                x[plc],
                name,
                RegisterArea.HoldingRegister,
                _offset += 4,
                RawType.Float32,
                WordOrder.HighFirst,
                description,
                1,
                "MQH"
            ),
            $"{plc} {name}"
        );
        return name;
    }

    private void Place(string code, string name, EquipmentLevel level, string above, string? kind = null, string? key = null) =>
        _b.Do(x => new SaveEquipment(null, code, name, level, x[above], kind is null ? null : x[kind]), key ?? code);

    private void Bind(string unit, string kind, string tag) => _b.Do(x => new Bind(x[unit], x[$"{kind}Flow"], x[tag], null));

    /// <summary>What is proposed for a unit: the tag, or null where it is held back or there is none.</summary>
    private string? Proposed(string unit, string kind)
    {
        var its = Proposer.Propose(new(_b.Model)).Proposals.Single(p => p.EquipmentId == _b[unit] && p.PropertyId == _b[$"{kind}Flow"]);
        return its is { Kind: ProposalKind.Proposed, TagId: { } id }
            ? $"{_b.Model.Controllers[_b.Model.Tags[id].ControllerId].Name} {_b.Model.Tags[id].Name}"
            : null;
    }

    /// <summary>All names end with PUMP-01, whatever the pump: the 01 is no pump's number, also where pump 1 was the example.</summary>
    [Fact]
    public void A_number_that_all_names_have_is_that_of_no_unit()
    {
        ProposalTests.WithFlow(_b, "Pump");
        for (var n = 1; n <= 8; n++)
        {
            Place($"P{n}", $"Pump {n}", EquipmentLevel.Unit, "Quay", "Pump");
            Tag($"{n + 80}-FLOW-PUMP-01");
        }
        Bind("P1", "Pump", "plc 81-FLOW-PUMP-01");
        for (var n = 2; n <= 8; n++)
            Proposed($"P{n}", "Pump").ShouldBe($"plc {n + 80}-FLOW-PUMP-01");
    }

    /// <summary>Where names say PUMP-02 and PUMP-03 too, what says PUMP-01 is pump 1's, however the loop numbers fall in.</summary>
    [Fact]
    public void A_number_that_differs_between_names_is_the_units()
    {
        ProposalTests.WithFlow(_b, "Pump");
        for (var n = 1; n <= 8; n++)
        {
            Place($"P{n}", $"Pump {n}", EquipmentLevel.Unit, "Quay", "Pump");
            for (var loop = 81; loop <= 84; loop++)
                Tag($"PUMP-{n:00}-FLOW-{loop}");
        }
        Bind("P1", "Pump", "plc PUMP-01-FLOW-81");
        for (var n = 2; n <= 8; n++)
            Proposed($"P{n}", "Pump").ShouldBe($"plc PUMP-{n:00}-FLOW-81");
    }

    /// <summary>P[7] is an element, and not pump 7, where its description says that it is pump 2.</summary>
    [Fact]
    public void An_element_of_an_array_is_not_the_unit_of_its_number()
    {
        ProposalTests.WithFlow(_b, "Pump");
        for (var n = 1; n <= 8; n++)
        {
            Place($"P{n}", $"Pump {n}", EquipmentLevel.Unit, "Quay", "Pump");
            Tag($"P[{n * 2 + 3}]", description: $"Pump {n} flow");
        }
        // There is no pump 11, of which the example could speak.
        Bind("P4", "Pump", "plc P[11]");
        foreach (var n in new[] { 1, 2, 3, 5, 6, 7, 8 })
            Proposed($"P{n}", "Pump").ShouldBe($"plc P[{n * 2 + 3}]");
    }

    /// <summary>Two sites called alike, a controller for each area of each: one example says how controllers are called, so that each
    /// unit has the tag of its own and none that of another, also where its own has none.</summary>
    [Fact]
    public void Controllers_called_after_places_tell_whose_tags_of_one_name_are()
    {
        ProposalTests.WithFlow(_b, "Pump");
        var missing = new[] { "plc1South 3", "plc2North 2", "plc2North 5", "plc2South 4" };
        foreach (var site in new[] { 1, 2 })
        {
            Place($"S{site}", $"Site {site}", EquipmentLevel.Site, "Works");
            foreach (var area in new[] { "North", "South" })
            {
                _b.Do(new SaveController(null, $"plc{site}{area}", "127.0.0.1", 510, 1, 500), $"plc{site}{area}");
                Place(area, area, EquipmentLevel.Area, $"S{site}", key: $"S{site} {area}");
                for (var n = 1; n <= 6; n++)
                {
                    Place($"P{n}", $"Pump {n}", EquipmentLevel.Unit, $"S{site} {area}", "Pump", $"S{site} {area} P{n}");
                    if (!missing.Contains($"plc{site}{area} {n}"))
                        Tag($"DURCHFL/{area}/PUMP/{n + 39}", $"plc{site}{area}");
                }
            }
        }
        Bind("S1 North P1", "Pump", "plc1North DURCHFL/North/PUMP/40");
        foreach (var (site, area) in new[] { (1, "North"), (1, "South"), (2, "North"), (2, "South") })
            for (var n = site == 1 && area == "North" ? 2 : 1; n <= 6; n++)
                Proposed($"S{site} {area} P{n}", "Pump")
                    .ShouldBe(missing.Contains($"plc{site}{area} {n}") ? null : $"plc{site}{area} DURCHFL/{area}/PUMP/{n + 39}");
    }

    /// <summary>Pump 30 is called 303 and dryer 10 263: that shows how tank 20 is called 283, of which too few tags are there to
    /// tell.</summary>
    [Fact]
    public void What_units_of_other_templates_are_called_shows_how_numbers_are_reckoned()
    {
        foreach (var (kind, code) in new[] { ("Pump", "PU"), ("Dryer", "DR"), ("Tank", "TK") })
        {
            ProposalTests.WithFlow(_b, kind);
            foreach (var n in new[] { 10, 20, 30, 40, 50, 60, 70 })
            {
                Place($"{code}{n}", $"{kind} {n}", EquipmentLevel.Unit, "Quay", kind);
                if (kind != "Tank" || n is 20 or 50)
                    Tag($"ns2:{n * 2 + 243}:{code}:FT11");
            }
        }
        Bind("PU30", "Pump", "plc ns2:303:PU:FT11");
        Bind("DR10", "Dryer", "plc ns2:263:DR:FT11");
        Bind("TK20", "Tank", "plc ns2:283:TK:FT11");
        Proposed("TK50", "Tank").ShouldBe("plc ns2:343:TK:FT11");
        Proposed("TK10", "Tank").ShouldBeNull();
    }

    /// <summary>Areas A and B, pumps A to B or A to H, nothing bound: what says B and A may be either's, unless pumps go on where areas
    /// do not.</summary>
    [Theory]
    [InlineData("AB", false)]
    [InlineData("ABCDEFGH", true)]
    public void Two_letters_tell_only_where_one_of_them_goes_on(string pumps, bool isTold)
    {
        ProposalTests.WithFlow(_b, "Pump");
        foreach (var area in "AB")
        {
            Place($"{area}", $"Area {area}", EquipmentLevel.Area, "Quay");
            foreach (var pump in pumps)
            {
                Place($"P_{pump}", $"Pump {pump}", EquipmentLevel.Unit, $"{area}", "Pump", $"{area} P_{pump}");
                Tag($"Flow.{area}.Pump.{pump}");
            }
        }
        Proposed("A P_B", "Pump").ShouldBe(isTold ? "plc Flow.A.Pump.B" : null);
        Proposed("B P_A", "Pump").ShouldBe(isTold ? "plc Flow.B.Pump.A" : null);
        Proposed("A P_A", "Pump").ShouldBe("plc Flow.A.Pump.A");
    }

    /// <summary>Two units of one template share the tag of their area, which a rule names for both.</summary>
    [Fact]
    public void A_tag_that_feeds_two_is_counted_for_both()
    {
        ProposalTests.WithFlow(_b, "Pump");
        foreach (var area in new[] { "A1", "A2" })
        {
            Place(area, $"Area {area}", EquipmentLevel.Area, "Quay");
            Tag($"{area}_FT11");
            for (var n = 1; n <= 3; n++)
                Place($"P{n}", $"Pump {n}", EquipmentLevel.Unit, area, "Pump", $"{area} P{n}");
        }
        foreach (var n in new[] { 1, 2, 3 })
            _b.Do(x => new Bind(x[$"A1 P{n}"], x["PumpFlow"], x["plc A1_FT11"], null, Share: true));
        Should.NotThrow(() => Proposer.Propose(new(_b.Model)).Proposals.Length).ShouldBe(3);
    }
}
