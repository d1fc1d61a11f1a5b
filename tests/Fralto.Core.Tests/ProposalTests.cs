using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Modbus;
using Fralto.Core.NamingRules;
using Fralto.Core.Properties;
using Fralto.Core.Proposals;
using Fralto.Core.Quality;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>What is proposed for a house of kilns, and what is held back.</summary>
public sealed class ProposalTests
{
    private int _offset;

    /// <summary>Four kilns with a temperature, a pressure and a door; the first has its tags and is bound.</summary>
    private static PlantBuilder House(int kilns = 4) =>
        new PlantBuilder()
            .Do(new SaveController(null, "plc", "127.0.0.1", 502, 1, 500), "plc")
            .Do(new SaveTemplate(null, "Kiln", "Kiln", null, ""), "Kiln")
            .Do(
                b => new SaveProperty(
                    b["Kiln"],
                    null,
                    "AirOn",
                    "Air-on temperature",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    new() { Unit = "CEL", Range = new(0, 120) }
                ),
                "AirOn"
            )
            .Do(
                b => new SaveProperty(
                    b["Kiln"],
                    null,
                    "AirOff",
                    "Air-off temperature",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    new() { Unit = "CEL", Range = new(200, 400) }
                ),
                "AirOff"
            )
            .Do(
                b => new SaveProperty(
                    b["Kiln"],
                    null,
                    "Gas",
                    "Gas pressure",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    new() { Unit = "MBR", Range = new(0, 120) }
                ),
                "Gas"
            )
            .Do(
                b => new SaveProperty(
                    b["Kiln"],
                    null,
                    "Door",
                    "Door closed",
                    PropertyKind.Measured,
                    PropertyType.Boolean,
                    PropertyPatch.Empty
                ),
                "Door"
            )
            .Do(
                b => new SaveProperty(
                    b["Kiln"],
                    null,
                    "Set",
                    "Setpoint",
                    PropertyKind.Command,
                    PropertyType.Number,
                    new() { Unit = "CEL", Range = new(0, 120) }
                ),
                "Set"
            )
            .Do(new SaveEquipment(null, "Works", "Works", EquipmentLevel.Enterprise, null, null), "Works")
            .Do(b => new SaveEquipment(null, "Quay", "Quay", EquipmentLevel.Site, b["Works"], null), "Quay")
            .Do(b => new AddSeries(b["Quay"], EquipmentLevel.Unit, b["Kiln"], new("Kiln {n}", "KLN{n}", 1, 1, kilns, 1)));

    private PlantBuilder Tag(
        PlantBuilder b,
        string name,
        RawType type = RawType.Float32,
        string? unit = null,
        string description = "",
        int? offset = null,
        string plc = "plc",
        int count = 1
    ) =>
        b.Do(
            x => new SaveTag(
                null,
                x[plc],
                name,
                type == RawType.Bool && count == 1 ? RegisterArea.DiscreteInput : RegisterArea.HoldingRegister,
                offset ?? (_offset += 4),
                type,
                WordOrder.HighFirst,
                description,
                count,
                unit
            ),
            name
        );

    private static long Kiln(PlantBuilder b, int number) => b.Model.Equipment.Values.Single(e => e.Code == $"KLN{number}").Id;

    private static PlantBuilder Bind(PlantBuilder b, int kiln, string property, string tag, string slice = "") =>
        b.Do(x => new Bind(Kiln(x, kiln), x[property], x[tag], Slice.Parse(slice)));

    private static Proposal Ask(PlantBuilder b, int kiln, string property, Func<Tag, double?>? raw = null) =>
        Proposer.Propose(new(b.Model) { Raw = raw }).Proposals.Single(p => p.EquipmentId == Kiln(b, kiln) && p.PropertyId == b[property]);

    private PlantBuilder Temperatures(int kilns = 4)
    {
        var b = House(kilns);
        for (var n = 1; n <= kilns; n++)
            Tag(b, $"KLN{n}_TT11", unit: "CEL", description: $"Kiln {n} air on");
        return Bind(b, 1, "AirOn", "KLN1_TT11");
    }

    [Fact]
    public void Words_that_are_run_together_say_what_is_measured_and_what_it_is_for_without_an_example()
    {
        var b = House()
            .Do(new SaveTemplate(null, "Oven", "Oven", null, ""), "Oven")
            .Do(x => new AddSeries(x["Quay"], EquipmentLevel.Unit, x["Oven"], new("Oven {n}", "OVN{n}", 1, 1, 4, 1)))
            .Do(
                x => new SaveProperty(
                    x["Oven"],
                    null,
                    "InletTemperature",
                    "Inlet temperature",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    new() { Unit = "CEL", Range = new(0, 120) }
                ),
                "Inlet"
            )
            .Do(
                x => new SaveProperty(
                    x["Oven"],
                    null,
                    "InletSetpoint",
                    "Inlet temperature setpoint",
                    PropertyKind.Command,
                    PropertyType.Number,
                    new() { Unit = "CEL", Range = new(0, 120) }
                ),
                "InletSet"
            );
        for (var n = 1; n <= 4; n++)
        {
            Tag(b, $"OVN{n}_VORLAUFTEMPERATUR", unit: "CEL");
            Tag(b, $"OVN{n}_VORLAUFTEMPERATURSOLLWERT", unit: "CEL");
        }
        for (var n = 1; n <= 4; n++)
        {
            var oven = b.Model.Equipment.Values.Single(e => e.Code == $"OVN{n}").Id;
            var of = Proposer.Propose(new(b.Model)).Proposals.Where(p => p.EquipmentId == oven).ToDictionary(p => p.PropertyId);
            var (value, setpoint) = (of[b["Inlet"]], of[b["InletSet"]]);
            (value.Kind, value.TagId).ShouldBe((ProposalKind.Proposed, b[$"OVN{n}_VORLAUFTEMPERATUR"]));
            (setpoint.Kind, setpoint.TagId).ShouldBe((ProposalKind.Proposed, b[$"OVN{n}_VORLAUFTEMPERATURSOLLWERT"]));
        }
    }

    [Fact]
    public void One_example_leads_to_the_others_with_reasons()
    {
        var b = Temperatures();
        var proposal = Ask(b, 3, "AirOn");
        proposal.Kind.ShouldBe(ProposalKind.Proposed);
        proposal.TagId.ShouldBe(b["KLN3_TT11"]);
        proposal.Certainty.ShouldBeInRange(0.9, 1);
        proposal.Parts.ShouldContain(p => p.Kind == ScorePartKind.Rule && p.Words.Contains("_TT11", StringComparison.Ordinal));
        proposal.Parts.ShouldContain(p => p.Kind == ScorePartKind.Unit && p.Words == "both in °C");
        Proposer
            .Propose(new(b.Model))
            .Rules.ShouldContain(r => r.PropertyId == b["AirOn"] && r.Face == TagFace.Name && r.Found == 3 && r.Of == 3);
    }

    [Fact]
    public void A_tag_of_the_wrong_dimension_is_held_back()
    {
        var b = House();
        for (var n = 1; n <= 4; n++)
            Tag(b, $"KLN{n}_PT01", unit: n == 3 ? "CEL" : "MBR");
        Bind(b, 1, "Gas", "KLN1_PT01");
        Ask(b, 2, "Gas").Kind.ShouldBe(ProposalKind.Proposed);
        var held = Ask(b, 3, "Gas");
        held.Kind.ShouldBe(ProposalKind.Clash);
        held.TagId.ShouldBe(b["KLN3_PT01"]);
        held.Reason!.ShouldContain("temperature");
    }

    [Fact]
    public void A_name_and_a_description_that_disagree_are_held_back()
    {
        var b = House(6);
        for (var n = 1; n <= 6; n++)
            Tag(b, $"KLN{n}_TT11", unit: "CEL", description: $"Kiln {(n == 5 ? 4 : n == 4 ? 5 : n)} air on");
        Bind(b, 1, "AirOn", "KLN1_TT11");
        Ask(b, 3, "AirOn").Kind.ShouldBe(ProposalKind.Proposed);
        Ask(b, 4, "AirOn").Kind.ShouldBe(ProposalKind.Clash);
        Ask(b, 5, "AirOn").Reason!.ShouldContain("lead to expect KLN5_TT11");
    }

    [Fact]
    public void A_name_that_two_controllers_have_goes_to_the_one_that_serves_the_place_or_is_held_back()
    {
        var b = Temperatures();
        b.Do(new SaveController(null, "other", "127.0.0.1", 503, 1, 500), "other")
            .Do(new SaveController(null, "third", "127.0.0.1", 504, 1, 500), "third");
        Tag(b, "kln2-tt11", unit: "CEL", description: "Kiln 2 air on", plc: "other");
        Ask(b, 2, "AirOn").TagId.ShouldBe(b["KLN2_TT11"]);
        // At another site nothing is bound yet that would tell which of two controllers serves it.
        b.Do(x => new SaveEquipment(null, "Hill", "Hill", EquipmentLevel.Site, x["Works"], null), "Hill")
            .Do(x => new SaveEquipment(null, "KLN7", "Kiln 7", EquipmentLevel.Unit, x["Hill"], x["Kiln"]), "KLN7");
        foreach (var plc in new[] { "other", "third" })
            Tag(b, "KLN7_TT11", unit: "CEL", plc: plc);
        var held = Ask(b, 7, "AirOn");
        held.Kind.ShouldNotBe(ProposalKind.Proposed);
        held.Parts.ShouldContain(p => p.Words.Contains("a tag of this name as others have", StringComparison.Ordinal));
    }

    [Fact]
    public void A_series_bound_one_off_is_told_by_what_the_tags_are_called()
    {
        var b = Temperatures(8);
        // From the sixth on every kiln has the tag of the next.
        for (var n = 2; n <= 7; n++)
            Bind(b, n, "AirOn", $"KLN{(n < 6 ? n : n + 1)}_TT11");
        var doubts = BindingDoubts.Of(b.Model, null, _ => new(60, StatusCode.Good, "")).Where(d => d.Kind == DoubtKind.Name).ToArray();
        doubts.Select(d => b.Model.Equipment[d.EquipmentId].Code).Distinct().Order().ShouldBe(["KLN6", "KLN7"]);
    }

    [Fact]
    public void What_is_bound_elsewhere_is_not_given_away_again()
    {
        var b = Temperatures(8);
        Bind(b, 2, "AirOn", "KLN3_TT11");
        var clash = Ask(b, 3, "AirOn");
        clash.Kind.ShouldNotBe(ProposalKind.Proposed);
        clash.Reason!.ShouldContain("already feeds Works/Quay/KLN2");
    }

    [Fact]
    public void What_was_refused_is_not_proposed_again_until_it_is_forgotten()
    {
        var b = Temperatures();
        BindingLine[] line = [new(Kiln(b, 2), b["AirOn"], b["KLN2_TT11"])];
        b.Do(new RefuseTags([.. line]));
        Ask(b, 2, "AirOn").Kind.ShouldBe(ProposalKind.Open);
        b.Do(new RefuseTags([.. line], Forget: true));
        Ask(b, 2, "AirOn").TagId.ShouldBe(b["KLN2_TT11"]);
    }

    [Fact]
    public void Two_values_that_lie_in_each_others_range_are_held_back()
    {
        var b = House();
        for (var n = 1; n <= 4; n++)
        {
            Tag(b, $"KLN{n}_TT11", unit: "CEL");
            Tag(b, $"KLN{n}_TT12", unit: "CEL");
        }
        Bind(Bind(b, 1, "AirOn", "KLN1_TT11"), 1, "AirOff", "KLN1_TT12");
        double? Raw(Tag tag) =>
            tag.Name is "KLN3_TT11" ? 300
            : tag.Name is "KLN3_TT12" ? 60
            : tag.Name.EndsWith("11", StringComparison.Ordinal) ? 60
            : 300;
        Ask(b, 2, "AirOn", Raw).Kind.ShouldBe(ProposalKind.Proposed);
        Ask(b, 3, "AirOn", Raw).Kind.ShouldNotBe(ProposalKind.Proposed);
        Ask(b, 3, "AirOff", Raw).Kind.ShouldNotBe(ProposalKind.Proposed);
    }

    [Fact]
    public void Two_examples_show_the_step_from_contact_to_contact()
    {
        var b = Tag(House(6), "CONTACTS", RawType.Bool, count: 192);
        Bind(Bind(b, 1, "Door", "CONTACTS", "[3]"), 2, "Door", "CONTACTS", "[19]");
        var fifth = Ask(b, 5, "Door");
        fifth.Slice.ShouldBe(new Slice(67));
        fifth.Kind.ShouldBe(ProposalKind.Proposed);
    }

    [Fact]
    public void Bits_of_a_status_word_follow_the_word()
    {
        var b = House();
        for (var n = 1; n <= 4; n++)
            Tag(b, $"K{n}_STATUS", RawType.UInt16);
        Bind(b, 1, "Door", "K1_STATUS", ".4");
        (Ask(b, 2, "Door") is { Kind: ProposalKind.Proposed } p ? (p.TagId, p.Slice) : default).ShouldBe(
            (b["K2_STATUS"], new Slice(null, 4))
        );
    }

    [Theory]
    [InlineData(100, 20)]
    [InlineData(4000, 37)]
    public void Numbers_with_an_offset_and_a_step_are_followed(int offset, int step)
    {
        var b = House(6);
        for (var n = 1; n <= 6; n++)
            Tag(b, $"TI{offset + (n - 1) * step}", unit: "CEL");
        Bind(b, 1, "AirOn", $"TI{offset}");
        Ask(b, 4, "AirOn").TagId.ShouldBe(b[$"TI{offset + 3 * step}"]);
    }

    [Fact]
    public void A_kept_rule_needs_no_example_and_a_wrong_one_is_refused()
    {
        var b = House();
        for (var n = 1; n <= 4; n++)
            Tag(b, $"X{n * 7}", unit: "CEL");
        Ask(b, 2, "AirOn").Kind.ShouldBe(ProposalKind.Open);
        b.Do(x => new KeepRule(x["Kiln"], x["AirOn"], TagFace.Name, "X{number*7}"));
        Ask(b, 2, "AirOn").TagId.ShouldBe(b["X14"]);
        Proposer.Propose(new(b.Model)).Rules.ShouldContain(r => r.IsKept);
        new KeepRule(b["Kiln"], b["AirOn"], TagFace.Name, "X{numbr}").On(b.Model).Problems.Single().Message.ShouldContain("not understood");
        new KeepRule(b["Kiln"], b["AirOn"], TagFace.Name, "X7")
            .On(b.Model)
            .Problems.Single()
            .Message.ShouldContain("same tag for every instance");
        b.Do(x => new KeepRule(x["Kiln"], x["AirOn"], TagFace.Name, ""));
        b.Model.Templates[b["Kiln"]].Rules.ShouldBeEmpty();
    }

    [Fact]
    public void Without_an_example_plain_words_lead_to_honest_certainty()
    {
        var b = House();
        for (var n = 1; n <= 4; n++)
        {
            Tag(b, $"KLN{n}.GasPressure", unit: "MBR");
            Tag(b, $"KLN{n}.DoorClosed", RawType.Bool);
        }
        var gas = Ask(b, 2, "Gas");
        gas.TagId.ShouldBe(b["KLN2.GasPressure"]);
        gas.Certainty.ShouldBeInRange(0.8, 0.95);
        Ask(b, 2, "AirOn").Kind.ShouldBe(ProposalKind.Open);
    }

    [Fact]
    public void Without_an_example_a_thousand_tags_of_one_shape_are_given_by_number_each_to_its_own()
    {
        var b = House(1);
        for (var area = 1; area <= 30; area++)
        {
            b.Do(x => new SaveEquipment(null, $"H{area}", $"Hall {area}", EquipmentLevel.Area, x["Quay"], null), $"H{area}");
            b.Do(x => new AddSeries(x[$"H{area}"], EquipmentLevel.Unit, x["Kiln"], new("Kiln {n}", "KLN{n}", 1, 1, 40, 1)));
            for (var n = 1; n <= 40; n++)
                if ((area + n) % 11 != 0)
                    Tag(b, $"H{area}.KLN{n}.GasPressure", unit: "MBR");
        }
        var proposed = Proposer.Propose(new(b.Model)).Proposals.Where(p => p.Kind == ProposalKind.Proposed).ToArray();
        proposed.Length.ShouldBeGreaterThan(1000);
        foreach (var p in proposed)
            b.Model.Index.PathOf(p.EquipmentId)
                .ShouldEndWith(b.Model.Tags[p.TagId!.Value].Name.Replace(".GasPressure", "").Replace('.', '/'));
    }

    /// <summary>TA is short for Tank A; T.A is what somebody calls a T in area A, unless the tank itself is called so.</summary>
    [Theory]
    [InlineData("TK_{0}", "T{0}.GasPressure", true)]
    [InlineData("TK_{0}", "T.{0}.GasPressure", false)]
    [InlineData("T_{0}", "T.{0}.GasPressure", true)]
    [InlineData("T_{0}", "T{0}.GasPressure", true)]
    [InlineData("TK_{0}", "TK_{0}.GasPressure", true)]
    public void Letters_that_stand_by_themselves_are_not_spelled_together(string code, string name, bool areTheirs)
    {
        var b = House(1);
        foreach (var letter in "ABCDE")
        {
            b.Do(x => new SaveEquipment(null, Of(code, letter), $"Tank {letter}", EquipmentLevel.Unit, x["Quay"], x["Kiln"]));
            Tag(b, Of(name, letter), unit: "MBR");
        }
        var proposed = Proposer.Propose(new(b.Model)).Proposals.Where(p => p.Kind == ProposalKind.Proposed).ToArray();
        proposed.Length.ShouldBe(areTheirs ? 5 : 0);
        foreach (var p in proposed)
            b.Model.Tags[p.TagId!.Value].Name.ShouldBe(Of(name, b.Model.Equipment[p.EquipmentId].Code[^1]));
        static string Of(string format, char letter) => string.Format(CultureInfo.InvariantCulture, format, letter);
    }

    /// <summary>Tags that run from 2 to 9 where the kilns run from 1 to 8 are counted from elsewhere; where one is missing and one to
    /// spare they are not.</summary>
    [Theory]
    [InlineData("2 3 4 5 6 7 8 9", false)]
    [InlineData("2 4 6 8 10 12 14 16", false)]
    [InlineData("11 12 13 14 15 16 17 18 1 2 3", false)]
    [InlineData("1 2 3 4 5 6 7 8", true)]
    [InlineData("1 2 4 5 6 7 8 9", true)]
    [InlineData("1 2 3 4 5 6 7 8 9 10 11", true)]
    public void Without_an_example_numbers_that_run_otherwise_than_those_of_the_kilns_are_not_theirs(string numbers, bool areTheirs)
    {
        var b = House(8);
        foreach (var n in numbers.Split(' '))
        {
            Tag(b, $"KLN{n}.GasPressure", unit: "MBR");
            Tag(b, $"KLN{n}.DoorClosed", RawType.Bool);
        }
        var proposed = Proposer.Propose(new(b.Model)).Proposals.Count(p => p.Kind == ProposalKind.Proposed);
        proposed.ShouldBe(areTheirs ? 2 * numbers.Split(' ').Count(n => int.Parse(n, CultureInfo.InvariantCulture) <= 8) : 0);
        if (!areTheirs)
            Ask(b, 2, "Gas").Parts.ShouldContain(p => p.Words.Contains("may be counted otherwise", StringComparison.Ordinal));
    }

    /// <summary>A works of one site, with a controller and nothing else.</summary>
    internal static PlantBuilder Quay() =>
        new PlantBuilder()
            .Do(new SaveController(null, "plc", "127.0.0.1", 502, 1, 500), "plc")
            .Do(new SaveEquipment(null, "Works", "Works", EquipmentLevel.Enterprise, null, null), "Works")
            .Do(x => new SaveEquipment(null, "Quay", "Quay", EquipmentLevel.Site, x["Works"], null), "Quay");

    /// <summary>A template with a measured flow.</summary>
    internal static void WithFlow(PlantBuilder b, string kind) =>
        b.Do(new SaveTemplate(null, kind, kind, null, ""), kind)
            .Do(
                x => new SaveProperty(
                    x[kind],
                    null,
                    "Flow",
                    "Flow",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    new() { Unit = "MQH", Range = new(0, 120) }
                ),
                $"{kind}Flow"
            );

    /// <summary>Pump 20 in hall 20 does not tell whose 20 stands first; a tank in another hall does, for those who named both.</summary>
    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void What_tags_of_one_template_leave_open_those_of_another_tell(bool isHallLast)
    {
        string Name(string kind, int unit, int hall) => isHallLast ? $"{kind}_{unit:000}_h{hall}" : $"{kind}_{hall:000}_h{unit}";
        var b = Quay();
        foreach (var kind in new[] { "Pump", "Tank" })
        {
            WithFlow(b, kind);
        }
        foreach (var hall in new[] { 10, 20, 30, 40 })
        {
            b.Do(x => new SaveEquipment(null, $"H{hall}", $"Hall {hall}", EquipmentLevel.Area, x["Quay"], null), $"H{hall}");
            foreach (var (kind, code, letter) in new[] { ("Pump", "P", "p"), ("Tank", "TK", "tk") })
            foreach (var unit in new[] { 10, 20, 30, 40 })
            {
                b.Do(
                    x => new SaveEquipment(null, $"{code}{unit}", $"{kind} {unit}", EquipmentLevel.Unit, x[$"H{hall}"], x[kind]),
                    $"{code}{unit} H{hall}"
                );
                Tag(b, Name($"{letter}_ft11", unit, hall), unit: "MQH");
            }
        }
        b.Do(x => new Bind(x["P20 H20"], x["PumpFlow"], x["p_ft11_020_h20"], null));
        Proposal[] Pumps() => [.. Proposer.Propose(new(b.Model)).Proposals.Where(p => p.PropertyId == b["PumpFlow"])];
        string Wanted(Proposal p) =>
            (
                from hall in new[] { 10, 20, 30, 40 }
                from unit in new[] { 10, 20, 30, 40 }
                where b[$"P{unit} H{hall}"] == p.EquipmentId
                select Name("p_ft11", unit, hall)
            ).Single();

        b.Do(x => new Bind(x["TK10 H30"], x["TankFlow"], x[Name("tk_ft11", 10, 30)], null));
        var told = Pumps();
        told.Length.ShouldBe(15);
        told.Select(p => (p.Kind, p.TagId)).ShouldBe(told.Select(p => (ProposalKind.Proposed, (long?)b[Wanted(p)])));
    }

    /// <summary>Two contractors, one of whom describes in English and the other in German, with names that say nothing: what says the
    /// instance, its place and the property in another order and language than the example is not held against a tag; what says another
    /// place is, and what says more is.</summary>
    [Fact]
    public void A_description_that_says_the_same_otherwise_speaks_for_its_tag()
    {
        var b = Quay();
        WithFlow(b, "Pump");
        var wanted = new Dictionary<(string, int), string>();
        var opaque = 700;
        foreach (var area in new[] { "North", "South" })
        {
            b.Do(x => new SaveEquipment(null, area, area, EquipmentLevel.Area, x["Quay"], null), area);
            foreach (var unit in Enumerable.Range(1, 8))
            {
                b.Do(x => new SaveEquipment(null, $"P{unit}", $"Pump {unit}", EquipmentLevel.Unit, x[area], x["Pump"]), $"{area} P{unit}");
                var name = unit % 2 == 1 ? $"{area}:{unit:000}:Pump:Flow" : $"IO_{opaque += 7}";
                wanted[(area, unit)] = name;
                Tag(b, name, unit: "MQH", description: unit % 2 == 1 ? $"{area} Pump {unit} flow" : $"Durchfluss, {area}, Pump {unit}");
                if (unit % 2 == 0)
                    Tag(b, $"IO_{opaque += 2}", unit: "MQH", description: $"Durchfluss Sollwert, {area}, Pump {unit}");
            }
        }
        b.Do(x => new Bind(x["North P1"], x["PumpFlow"], x[wanted[("North", 1)]], null));
        var given = Proposer.Propose(new(b.Model)).Proposals;
        foreach (var ((area, unit), name) in wanted.Where(w => w.Key != ("North", 1)))
        {
            var its = given.Single(p => p.EquipmentId == b[$"{area} P{unit}"]);
            (its.Kind, its.TagId).ShouldBe((ProposalKind.Proposed, b[name]), $"{area} P{unit}: {its.Reason}");
        }
    }

    [Theory]
    [InlineData("Durchfluss", true)]
    [InlineData("Volumenstrom", true)]
    [InlineData("Zuluftdurchfluss", false)]
    [InlineData("Kesseldurchfluss", false)]
    public void A_word_that_is_put_together_says_more_than_its_last_part(string said, bool isAll)
    {
        var b = Quay();
        WithFlow(b, "Pump");
        TagWord[] words = [.. NameToken.Of(said).Select(t => TagWord.Of(t, inName: false))];
        var pump = b.Model.Index.PropertiesOf(b["Pump"]).ToArray();
        new PropertyWords(b.Model, pump).IsAllSaid(b["PumpFlow"], words, "Pump").ShouldBe(isAll);
    }

    [Fact]
    public void A_tag_that_breaks_the_series_of_addresses_is_less_certain()
    {
        var b = House(8);
        for (var n = 1; n <= 8; n++)
            Tag(b, $"KLN{n}_TT11", unit: "CEL", offset: n == 6 ? 500 : n * 10);
        Bind(b, 1, "AirOn", "KLN1_TT11");
        Ask(b, 5, "AirOn").Parts.ShouldContain(p => p.Kind == ScorePartKind.Neighbours && p.Weight > 0);
        var odd = Ask(b, 6, "AirOn");
        odd.Parts.ShouldContain(p => p.Kind == ScorePartKind.Neighbours && p.Weight < 0);
        odd.Certainty.ShouldBeLessThan(Ask(b, 5, "AirOn").Certainty);
    }

    [Fact]
    public void A_tag_feeds_several_only_when_that_is_said_and_a_command_never_shares()
    {
        var b = Temperatures();
        new Bind(Kiln(b, 2), b["AirOn"], b["KLN1_TT11"]).On(b.Model).Problems.Single().Message.ShouldContain("say that it feeds both");
        new Bind(Kiln(b, 2), b["AirOn"], b["KLN1_TT11"], Share: true).On(b.Model).Problems.ShouldBeEmpty();
        new Bind(Kiln(b, 2), b["Set"], b["KLN1_TT11"], Share: true).On(b.Model).Problems.Single().Message.ShouldContain("takes commands");
        Tag(b, "SP", unit: "CEL");
        b.Do(x => new Bind(Kiln(x, 2), x["Set"], x["SP"]));
        new Bind(Kiln(b, 3), b["AirOn"], b["SP"], Share: true).On(b.Model).Problems.Single().Message.ShouldContain("takes commands");
        var copy = b.Model.Apply(new CopyEquipment(Kiln(b, 2), b["Quay"], "KLN9", "Kiln 9", true).On(b.Model).Changes);
        copy.Index.BindingsOf(b["SP"]).Count().ShouldBe(1);
        Integrity.Problems(copy).ShouldBeEmpty();
    }

    [Fact]
    public void Many_are_bound_at_once_or_none()
    {
        var b = Temperatures();
        BindingLine Line(int kiln, string tag) => new(Kiln(b, kiln), b["AirOn"], b[tag]);
        var refused = new BindMany([Line(2, "KLN2_TT11"), Line(3, "KLN2_TT11"), Line(3, "KLN3_TT11")]).On(b.Model);
        refused.Problems.Select(p => p.Field).ShouldBe(["1", "2"]);
        refused.Changes.ShouldBeEmpty();
        b.Do(new BindMany([Line(2, "KLN2_TT11"), Line(3, "KLN3_TT11"), Line(4, "KLN4_TT11")]));
        // Two that change their tags with each other are no sharing.
        new BindMany([Line(2, "KLN3_TT11"), Line(3, "KLN2_TT11")]).On(b.Model).Problems.ShouldBeEmpty();
        b.Do(new SwapBindings((Kiln(b, 2), b["AirOn"]), (Kiln(b, 3), b["AirOn"])));
        b.Model.Bindings[(Kiln(b, 2), b["AirOn"])].TagId.ShouldBe(b["KLN3_TT11"]);
        new SwapBindings((Kiln(b, 2), b["AirOn"]), (Kiln(b, 2), b["Gas"]))
            .On(b.Model)
            .Problems.Single()
            .Message.ShouldContain("no factor leads");
        b.Do(new UnbindMany([(Kiln(b, 2), b["AirOn"]), (Kiln(b, 3), b["AirOn"]), (Kiln(b, 3), b["Gas"])]));
        b.Model.Bindings.Count.ShouldBe(2);
        new UnbindMany([(Kiln(b, 2), b["AirOn"])]).On(b.Model).IsRefused.ShouldBeTrue();
    }

    [Fact]
    public void A_series_goes_on_as_far_as_there_are_tags()
    {
        var b = Temperatures();
        long[] below = [Kiln(b, 2), Kiln(b, 3), Kiln(b, 4)];
        SeriesFill
            .Lines(b.Model, (Kiln(b, 1), b["AirOn"]), below)
            .Select(l => l.TagId)
            .ShouldBe([b["KLN2_TT11"], b["KLN3_TT11"], b["KLN4_TT11"]]);
        Bind(b, 3, "AirOn", "KLN3_TT11");
        SeriesFill.Lines(b.Model, (Kiln(b, 1), b["AirOn"]), below).Length.ShouldBe(1);
        SeriesFill.Lines(b.Model, (Kiln(b, 2), b["AirOn"]), below).ShouldBeEmpty();
        Tag(b, "BITS", RawType.Bool, count: 3);
        Bind(b, 1, "Door", "BITS", "[0]");
        SeriesFill.Lines(b.Model, (Kiln(b, 1), b["Door"]), below).Select(l => l.Slice).ShouldBe([new Slice(1), new Slice(2)]);
    }

    [Fact]
    public void A_check_names_who_and_when_and_ends_with_a_new_binding()
    {
        var b = Temperatures();
        var at = new DateTimeOffset(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);
        (long, long) cell = (Kiln(b, 1), b["AirOn"]);
        b.Do(new MarkChecked([cell], new("R. Malt", at)));
        b.Model.Bindings[cell].Checked.ShouldBe(new BindingCheck("R. Malt", at));
        new MarkChecked([cell], new("R. Malt", at)).On(b.Model).IsRefused.ShouldBeTrue();
        Bind(b, 1, "AirOn", "KLN2_TT11");
        b.Model.Bindings[cell].Checked.ShouldBeNull();
        new MarkChecked([cell], null).On(b.Model).IsRefused.ShouldBeTrue();
        new MarkChecked([(1, 2)], null).On(b.Model).IsRefused.ShouldBeTrue();
    }

    [Fact]
    public void Bindings_that_look_wrong_are_found_by_value_name_and_reading()
    {
        var b = Temperatures(8);
        for (var n = 2; n <= 8; n++)
            Bind(b, n, "AirOn", $"KLN{(n == 6 ? 7 : n == 7 ? 6 : n)}_TT11");
        var values = new Dictionary<int, double>
        {
            [1] = 60,
            [2] = 61,
            [3] = 59,
            [4] = 60.5,
            [5] = 5,
            [6] = 61,
            [7] = 60,
            [8] = double.NaN,
        };
        LiveReading? Live((long EquipmentId, long PropertyId) cell)
        {
            var value = values[int.Parse(b.Model.Equipment[cell.EquipmentId].Code[3..], System.Globalization.CultureInfo.InvariantCulture)];
            return double.IsNaN(value)
                ? new(value, StatusCode.BadNoCommunication, "controller not reachable")
                : new(value, StatusCode.Good, "");
        }
        var doubts = BindingDoubts.Of(b.Model, [b["Kiln"]], Live).ToLookup(d => b.Model.Equipment[d.EquipmentId].Code, d => d);
        doubts["KLN5"].Single().Words.ShouldContain("where the others are about 60");
        doubts["KLN6"].ShouldContain(d => d.Kind == DoubtKind.Name && d.Words.Contains("KLN6_TT11", StringComparison.Ordinal));
        doubts["KLN8"].Single().Words.ShouldBe("controller not reachable.");
        doubts["KLN1"].ShouldBeEmpty();
    }

    [Fact]
    public void A_value_far_off_speaks_against_a_tag_unless_the_plant_stands_still()
    {
        var b = House();
        for (var n = 1; n <= 4; n++)
            Tag(b, $"KLN{n}_TT12", unit: "CEL");
        Bind(b, 1, "AirOff", "KLN1_TT12");
        double Value(double first, double second) =>
            Ask(b, 2, "AirOff", t => t.Name == "KLN1_TT12" ? first : second).Parts.Single(p => p.Kind == ScorePartKind.Value).Weight;
        Value(300, 300).ShouldBeGreaterThan(0);
        Value(300, 5000).ShouldBe(-2.5);
        Value(300, 0).ShouldBeInRange(-1, -0.5);
        Value(0, 0).ShouldBeInRange(-0.5, 0);
        // 4.5 as a 32-bit float is 40 90 00 00; read with its words the wrong way round it is 00 00 40 90, or 2.3e-41.
        var held = Ask(b, 2, "AirOff", t => t.Name == "KLN1_TT12" ? 300 : BitConverter.Int32BitsToSingle(0x00004090));
        held.Kind.ShouldBe(ProposalKind.Clash);
        held.Reason!.ShouldContain("wrong order");
    }

    /// <summary>A float read with its words the wrong way round looks like a measurement one time in five; once it has been both nothing
    /// and beyond all measure, that does not help it.</summary>
    [Fact]
    public void A_swapped_float_is_held_back_also_when_it_happens_to_look_right()
    {
        var b = House();
        for (var n = 1; n <= 4; n++)
            Tag(b, $"KLN{n}_TT12", unit: "CEL");
        Bind(b, 1, "AirOff", "KLN1_TT12");
        Proposal After(IEnumerable<double> held, double? now)
        {
            var been = held.Aggregate(Magnitudes.None, (m, raw) => m.With(raw));
            return Proposer
                .Propose(new(b.Model) { Raw = _ => now, Magnitudes = _ => been })
                .Proposals.Single(p => p.EquipmentId == Kiln(b, 2) && p.PropertyId == b["AirOff"]);
        }
        // A drier that drifts about 300 degrees, as a 32-bit float with its words swapped: the moving digits become sign and exponent.
        var random = new Random(7);
        for (var round = 0; round < 200; round++)
        {
            var swapped = Enumerable
                .Range(0, 40)
                .Select(_ => BitConverter.SingleToInt32Bits((float)(300 + random.NextDouble())))
                .Select(bits => (double)BitConverter.Int32BitsToSingle((bits << 16) | (int)((uint)bits >> 16)))
                .Where(double.IsFinite);
            var held = After(swapped, round % 2 == 0 ? 300 : null);
            (held.Kind, held.Certainty <= 0.5).ShouldBe((ProposalKind.Clash, true));
            held.Reason!.ShouldContain("wrong order");
        }
        // Read rightly, at rest, run out by a filter, or with the largest number for "no value": as good as ever.
        foreach (
            var held in new double[][]
            {
                [],
                [0],
                [299, 301],
                [0, 300, 1e-7],
                [300, 1e-30],
                [300, float.MaxValue, 0.001],
                [-300, double.MaxValue],
            }
        )
            After(held, 300).Kind.ShouldBe(ProposalKind.Proposed);
    }

    [Fact]
    public void A_tag_whose_value_is_none_of_the_states_is_held_back_however_well_it_is_named()
    {
        var b = House().Do(new SaveStateList(null, "Phase", "Phase", [new(0, "Idle"), new(1, "Dry")]), "Phase");
        b.Do(
            x => new SaveProperty(
                x["Kiln"],
                null,
                "Phase",
                "Phase",
                PropertyKind.Measured,
                PropertyType.State,
                new() { StateListId = x["Phase"] }
            ),
            "KilnPhase"
        );
        for (var n = 1; n <= 4; n++)
            Tag(b, $"KLN{n}_PH", RawType.Int16);
        Bind(b, 1, "KilnPhase", "KLN1_PH");
        double? Raw(Tag tag) => tag.Name == "KLN3_PH" ? 17 : 1;
        Ask(b, 2, "KilnPhase", Raw).Kind.ShouldBe(ProposalKind.Proposed);
        var held = Ask(b, 3, "KilnPhase", Raw);
        held.Kind.ShouldBe(ProposalKind.Clash);
        held.Reason!.ShouldContain("17, which is none of its states");
        held.Certainty.ShouldBeLessThan(0.8);
        // Where what is bound is no state either, the list of states is wrong, and the tag is not.
        Ask(b, 3, "KilnPhase", _ => 17).Kind.ShouldBe(ProposalKind.Proposed);
        // Nor without any example, where words alone speak for it.
        b.Do(x => new Unbind(Kiln(x, 1), x["KilnPhase"]));
        Proposer
            .Propose(new(b.Model) { Raw = Raw })
            .Proposals.ShouldNotContain(p => p.Kind == ProposalKind.Proposed && p.TagId == b["KLN3_PH"]);
    }

    [Fact]
    public void A_contact_of_an_array_is_read_as_one_that_stands_alone()
    {
        var b = House(6);
        Tag(b, "CONTACTS", RawType.Bool, count: 8);
        for (var n = 1; n <= 5; n++)
        {
            Tag(b, $"KLN{n}_ZS", RawType.Bool);
            Bind(b, n, "Door", $"KLN{n}_ZS");
        }
        Bind(b, 6, "Door", "CONTACTS", "[5]");
        BindingDoubts.Of(b.Model, null, _ => new(1, StatusCode.Good, "")).ShouldNotContain(d => d.Kind == DoubtKind.Reading);
        Tag(b, "KLN6_W", RawType.UInt16);
        Bind(b, 6, "Door", "KLN6_W");
        BindingDoubts
            .Of(b.Model, null, _ => new(1, StatusCode.Good, ""))
            .Single(d => d.Kind == DoubtKind.Reading)
            .EquipmentId.ShouldBe(Kiln(b, 6));
    }

    [Fact]
    public void A_pair_that_lies_the_other_way_round_than_everywhere_else_looks_swapped()
    {
        var b = House(6);
        foreach (var (property, suffix) in new[] { ("AirOn", "TT11"), ("Set", "TT12") })
            for (var n = 1; n <= 6; n++)
            {
                Tag(b, $"KLN{n}_{suffix}", unit: "CEL");
                Bind(b, n, property, $"KLN{n}_{suffix}");
            }
        LiveReading? Live((long EquipmentId, long PropertyId) cell) =>
            new((cell.PropertyId == b["AirOn"]) != (cell.EquipmentId == Kiln(b, 4)) ? 62 : 58, StatusCode.Good, "");
        var swapped = BindingDoubts.Of(b.Model, null, Live).Where(d => d.Kind == DoubtKind.Swapped).ToArray();
        swapped.Select(d => d.EquipmentId).Distinct().ShouldBe([Kiln(b, 4)]);
        swapped.Length.ShouldBe(2);
    }
}
