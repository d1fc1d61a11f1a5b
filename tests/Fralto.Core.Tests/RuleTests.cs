using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Modbus;
using Fralto.Core.NamingRules;
using Fralto.Core.Properties;
using Fralto.Core.Proposals;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>What one example teaches about names: of parts, of places, of numbers that are no places, and of controllers.</summary>
public sealed class RuleTests
{
    private int _offset;

    /// <summary>Two sites with two halls of kilns; each kiln has a main and an exhaust fan with a speed.</summary>
    private static PlantBuilder House(int kilns = 5)
    {
        var b = new PlantBuilder()
            .Do(new SaveController(null, "one", "127.0.0.1", 502, 1, 500), "one")
            .Do(new SaveController(null, "two", "127.0.0.1", 503, 1, 500), "two")
            .Do(new SaveTemplate(null, "Fan", "Fan", null, ""), "Fan")
            .Do(
                x => new SaveProperty(
                    x["Fan"],
                    null,
                    "Speed",
                    "Speed",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    new() { Unit = "RPM", Range = new(0, 1500) }
                ),
                "Speed"
            )
            .Do(new SaveTemplate(null, "Kiln", "Kiln", null, ""), "Kiln")
            .Do(
                x => new SaveProperty(
                    x["Kiln"],
                    null,
                    "Top",
                    "Top",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    new() { Unit = "CEL", Range = new(0, 120) }
                ),
                "Top"
            )
            .Do(
                x => new SaveProperty(
                    x["Kiln"],
                    null,
                    "Base",
                    "Base",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    new() { Unit = "CEL", Range = new(0, 120) }
                ),
                "Base"
            )
            .Do(x => new SavePart(x["Kiln"], null, "MF", "Main fan", x["Fan"], EquipmentLevel.EquipmentModule, 1))
            .Do(x => new SavePart(x["Kiln"], null, "EF", "Exhaust fan", x["Fan"], EquipmentLevel.EquipmentModule, 1))
            .Do(new SaveEquipment(null, "Works", "Works", EquipmentLevel.Enterprise, null, null), "Works");
        foreach (var (site, name) in new[] { ("Quay", "Tarn Quay"), ("Hill", "Ash hill") })
        {
            b.Do(x => new SaveEquipment(null, site, name, EquipmentLevel.Site, x["Works"], null), site);
            foreach (var hall in new[] { "NO", "SO" })
            {
                b.Do(x => new SaveEquipment(null, hall, $"{name} {hall} hall", EquipmentLevel.Area, x[site], null), site + hall);
                b.Do(x => new AddSeries(x[site + hall], EquipmentLevel.Unit, x["Kiln"], new("Kiln {n}", "K{n}", 1, 1, kilns, 1)));
            }
        }
        return b;
    }

    private void Tag(PlantBuilder b, string name, string plc = "one", RawType type = RawType.Float32) =>
        b.Do(
            x => new SaveTag(null, x[plc], name, RegisterArea.HoldingRegister, _offset += 4, type, WordOrder.HighFirst, "", 1, null),
            $"{plc}/{name}"
        );

    private static IEnumerable<(string Site, string Hall, int Kiln, string Path)> Kilns(int kilns = 5) =>
        from site in new[] { "Quay", "Hill" }
        from hall in new[] { "NO", "SO" }
        from n in Enumerable.Range(1, kilns)
        select (site, hall, n, $"Works/{site}/{hall}/K{n}");

    private static void Bind(PlantBuilder b, string path, string property, string tag) =>
        b.Do(x => new Bind(x.Model.Index.Find(path)!.Id, x[property], x[tag]));

    private static ILookup<ProposalKind, string> Ask(PlantBuilder b, string property) =>
        Proposer
            .Propose(new(b.Model))
            .Proposals.Where(p => p.PropertyId == b[property])
            .ToLookup(p => p.Kind, p => $"{b.Model.Index.PathOf(p.EquipmentId)} = {(p.TagId is { } tag ? b.Model.Tags[tag].Name : "")}");

    [Fact]
    public void What_is_run_together_is_cut_where_codes_begin()
    {
        var cut = WordCutter.Cut("1INBA101IVZSO01", NameToken.Of("1INBA101IVZSO01"), ["in", "ba101", "iv"], new HashSet<string>());
        string.Join('|', cut.Tokens.Select(t => t.Text)).ShouldBe("1|in|ba|101|iv|zso|01");
        NameToken.KeyOf(cut.Tokens).ShouldBe(NameToken.KeyOf("1INBA101IVZSO01"));
        cut.IsInside(2).ShouldBeTrue();
        cut.IsInside(3).ShouldBeFalse();
        string.Join(
                '|',
                WordCutter.Cut("FAULTNORTHIN", NameToken.Of("FAULTNORTHIN"), ["north"], new HashSet<string>()).Tokens.Select(t => t.Text)
            )
            .ShouldBe("fault|north|in");
        WordCutter.Cut("LEVEL", NameToken.Of("LEVEL"), ["tank", "vessel"], new HashSet<string>()).Tokens.Length.ShouldBe(1);
        // The letter of an area is no part of a word that begins so, but is one before what is known.
        WordCutter.Cut("AGIRUN", NameToken.Of("AGIRUN"), ["a"], new HashSet<string> { "dr" }).Tokens.Length.ShouldBe(1);
        WordCutter.Cut("ADR", NameToken.Of("ADR"), ["a"], new HashSet<string> { "dr" }).Tokens.Length.ShouldBe(2);
    }

    [Fact]
    public void A_sharp_s_is_cut_where_it_stands()
    {
        var cut = WordCutter.Cut("GroßNORD", NameToken.Of("GroßNORD"), ["gross", "nord"], new HashSet<string>());
        string.Join('|', cut.Tokens.Select(t => $"{t.Text}@{t.Start}")).ShouldBe("gross@0|nord@4");
    }

    [Fact]
    public void One_fan_bound_leads_to_those_of_all_kilns_by_the_codes_of_the_parts_even_run_together()
    {
        var b = House();
        foreach (var (site, hall, n, _) in Kilns())
        foreach (var part in new[] { "MF", "EF" })
            Tag(b, $"{site}{hall}K{n}{part}S01");
        Bind(b, "Works/Quay/NO/K1/MF", "Speed", "one/QuayNOK1MFS01");
        var asked = Ask(b, "Speed");
        asked[ProposalKind.Proposed]
            .Order()
            .ShouldBe(
                Kilns()
                    .SelectMany(k => new[] { "MF", "EF" }.Select(p => $"{k.Path}/{p} = {k.Site}{k.Hall}K{k.Kiln}{p}S01"))
                    .Where(l => !l.StartsWith("Works/Quay/NO/K1/MF", StringComparison.Ordinal))
                    .Order()
            );
    }

    [Fact]
    public void Numbers_that_count_over_the_whole_plant_or_among_all_siblings_are_followed()
    {
        var b = House();
        var count = 0;
        foreach (var _ in Kilns())
            Tag(b, $"MW{++count * 100}");
        Bind(b, "Works/Quay/NO/K2", "Top", "one/MW200");
        var asked = Ask(b, "Top");
        asked[ProposalKind.Proposed].Count().ShouldBe(19);
        asked[ProposalKind.Proposed].ShouldContain("Works/Hill/SO/K5 = MW2000");
        Proposer.Propose(new(b.Model)).Rules.First(r => r.PropertyId == b["Top"]).Pattern.ToString().ShouldBe("MW{count*100}");
        var nodes = new PlantNames(b.Model);
        NamePattern.Parse("F{position}", out _)!.TextFor(nodes.Of(b.Model.Index.Find("Works/Quay/NO/K1/EF")!.Id)).ShouldBe("F2");
        NamePattern.Parse("F{tail}", out _)!.TextFor(nodes.Of(b.Model.Index.Find("Works/Quay/NO/K1")!.Id)).ShouldBeNull();
        NamePattern.Parse("F{area.count}", out _)!.TextFor(nodes.Of(b.Model.Index.Find("Works/Hill/NO/K1")!.Id)).ShouldBe("F3");
    }

    [Fact]
    public void A_unit_number_that_holds_that_of_its_line_is_found_in_two_parts()
    {
        var b = House(1);
        int[] numbers = [101, 102, 104, 107, 108, 203, 204, 206, 209];
        foreach (var n in numbers)
            b.Do(x => new SaveEquipment(null, $"DR{n}", $"Dryer {n}", EquipmentLevel.Unit, x["QuayNO"], x["Kiln"]));
        foreach (var n in numbers)
            Tag(b, $"DR-{n / 100}-{n % 100:00}_TT");
        // Others that stand in the gaps belong to dryers the model does not have.
        foreach (var n in new[] { 103, 105, 106, 201, 202 })
            Tag(b, $"DR-{n / 100}-{n % 100:00}_TT");
        Bind(b, "Works/Quay/NO/DR101", "Top", "one/DR-1-01_TT");
        Ask(b, "Top")[ProposalKind.Proposed]
            .Order()
            .ShouldBe(numbers.Skip(1).Select(n => $"Works/Quay/NO/DR{n} = DR-{n / 100}-{n % 100:00}_TT").Order());
    }

    [Fact]
    public void A_number_that_tells_the_properties_apart_is_not_taken_for_that_of_a_place()
    {
        var b = House();
        // Every kiln has V1 and V2; in the example the number of the kiln happens to be that of the property.
        foreach (var (site, hall, n, _) in Kilns())
        foreach (var v in new[] { 1, 2 })
            Tag(b, $"{site}.{hall}.K{n}.V{v}");
        Bind(b, "Works/Quay/NO/K1", "Top", "one/Quay.NO.K1.V1");
        Bind(b, "Works/Quay/NO/K1", "Base", "one/Quay.NO.K1.V2");
        Ask(b, "Top")[ProposalKind.Proposed].ShouldContain("Works/Hill/SO/K2 = Hill.SO.K2.V1");
        Ask(b, "Base")[ProposalKind.Proposed].ShouldContain("Works/Hill/SO/K1 = Hill.SO.K1.V2");
        Ask(b, "Top")[ProposalKind.Proposed].Count().ShouldBe(19);
    }

    [Fact]
    public void Where_two_controllers_have_the_same_names_what_lacks_in_one_is_not_taken_from_the_other()
    {
        var b = House(6);
        foreach (var (site, hall, n, _) in Kilns(6))
            if ((site, hall, n) != ("Quay", "NO", 3))
                Tag(b, $"{hall}_K{n}_T", site == "Quay" ? "one" : "two");
        Bind(b, "Works/Quay/NO/K1", "Top", "one/NO_K1_T");
        Bind(b, "Works/Hill/NO/K1", "Top", "two/NO_K1_T");
        var matrix = Proposer.Propose(new(b.Model));
        foreach (var proposal in matrix.Proposals.Where(p => p.PropertyId == b["Top"] && p.Kind == ProposalKind.Proposed))
            b.Model.Tags[proposal.TagId!.Value]
                .ControllerId.ShouldBe(
                    b[b.Model.Index.PathOf(proposal.EquipmentId).StartsWith("Works/Quay", StringComparison.Ordinal) ? "one" : "two"]
                );
        matrix.Proposals.Count(p => p.PropertyId == b["Top"] && p.Kind == ProposalKind.Proposed).ShouldBe(21);
        var lacking = matrix.Proposals.Single(p => p.PropertyId == b["Top"] && p.EquipmentId == b.Model.Index.Find("Works/Quay/NO/K3")!.Id);
        lacking.Kind.ShouldNotBe(ProposalKind.Proposed);
    }

    [Fact]
    public void A_rule_that_names_a_tag_for_every_other_number_there_is_is_not_believed()
    {
        var b = House(8);
        // Half the kilns have a tag called so, of something else: so has every other number there is.
        foreach (var (site, hall) in Kilns(8).Select(k => (k.Site, k.Hall)).Distinct())
            for (var n = 1; n <= 40; n += 2)
                Tag(b, $"{site}{hall}X{n}");
        Bind(b, "Works/Quay/NO/K1", "Top", "one/QuayNOX1");
        Ask(b, "Top")[ProposalKind.Proposed].ShouldBeEmpty();
    }

    [Fact]
    public void Without_an_example_a_text_that_fits_two_places_of_one_name_is_left_open()
    {
        var b = House();
        // The kilns of both sites and halls are called alike, and the tags do not say which is meant.
        foreach (var n in Enumerable.Range(1, 5))
            Tag(b, $"kiln-{n}/top");
        Ask(b, "Top")[ProposalKind.Proposed].ShouldBeEmpty();
        // Where they say the site and the hall, the same words are enough.
        foreach (var (site, hall, n, _) in Kilns())
            Tag(b, $"{site}/{hall}/kiln-{n}/top");
        Ask(b, "Top")[ProposalKind.Proposed]
            .Order()
            .ShouldBe(Kilns().Select(k => $"{k.Path} = {k.Site}/{k.Hall}/kiln-{k.Kiln}/top").Order());
    }

    [Fact]
    public void What_was_asked_before_and_from_which_certainty_changes_no_answer()
    {
        var b = House();
        foreach (var (site, hall, n, _) in Kilns())
            Tag(b, $"{site}{hall}K{n}_TT");
        Bind(b, "Works/Quay/NO/K1", "Top", "one/QuayNOK1_TT");
        static (long, long, ProposalKind, long?, double)[] Lines(ProposalMatrix matrix) =>
            [.. matrix.Proposals.Select(p => (p.EquipmentId, p.PropertyId, p.Kind, p.TagId, p.Certainty)).Order()];
        var whole = Lines(Proposer.Propose(new(b.Model)));
        whole.Count(l => l.Item3 == ProposalKind.Proposed).ShouldBe(19);
        // Window by window, of a model that was asked before and of one that was not: the addresses of neighbours weigh more or less, the
        // answer is the same.
        static (long, long, ProposalKind, long?)[] Answers(IEnumerable<(long, long, ProposalKind, long?, double)> lines) =>
            [.. lines.Select(l => (l.Item1, l.Item2, l.Item3, l.Item4))];
        foreach (var model in new[] { b.Model, b.Model with { } })
        {
            var window = Answers(Lines(Proposer.Propose(new(model) { Below = b.Model.Index.Find("Works/Quay/NO")!.Id })));
            window.Length.ShouldBeGreaterThan(15);
            window.ShouldBeSubsetOf(Answers(whole));
            Lines(Proposer.Propose(new(model))).ShouldBe(whole);
        }
        var sure = Proposer.Propose(new(b.Model) { Threshold = 0.95 }).Proposals.Where(p => p.Kind == ProposalKind.Proposed).ToArray();
        sure.ShouldNotBeEmpty();
        foreach (var p in sure)
            whole.ShouldContain((p.EquipmentId, p.PropertyId, ProposalKind.Proposed, p.TagId, p.Certainty));
    }

    /// <summary>Names of the tags of two contractors who shared every hall by halves: the second calls them by hall and number.</summary>
    private static string ByHalves(string site, string hall, int n) => n % 2 == 1 ? $"{site}{hall}K{n}_TT" : $"TEMP.{hall}.{site}.{n:000}";

    [Fact]
    public void A_rule_that_fits_exactly_is_believed_where_half_are_called_otherwise_and_a_second_example_teaches_the_rest()
    {
        var b = House(8);
        foreach (var (site, hall, n, _) in Kilns(8))
            Tag(b, ByHalves(site, hall, n));
        string[] Halves(int rest) =>
            [.. Kilns(8).Where(k => k.Kiln % 2 == rest).Select(k => $"{k.Path} = {ByHalves(k.Site, k.Hall, k.Kiln)}")];
        Bind(b, "Works/Quay/NO/K1", "Top", "one/QuayNOK1_TT");
        var first = Ask(b, "Top")[ProposalKind.Proposed].ToArray();
        first.ShouldBeSubsetOf(Halves(1));
        first.Length.ShouldBe(15);

        // What a right example of another convention teaches takes nothing away.
        Bind(b, "Works/Hill/SO/K4", "Top", "one/TEMP.SO.Hill.004");
        var second = Ask(b, "Top")[ProposalKind.Proposed].ToArray();
        first.ShouldBeSubsetOf(second);
        second.ShouldBeSubsetOf([.. Halves(1), .. Halves(0)]);
        second.Length.ShouldBe(30);
    }

    [Fact]
    public void Many_right_examples_of_one_convention_do_not_weaken_the_rule_of_another()
    {
        var b = House(8);
        foreach (var (site, hall, n, _) in Kilns(8))
            Tag(b, ByHalves(site, hall, n));
        Bind(b, "Works/Quay/NO/K1", "Top", "one/QuayNOK1_TT");
        foreach (var (site, hall, n, path) in Kilns(8).Where(k => k.Kiln % 2 == 0))
            Bind(b, path, "Top", $"one/{ByHalves(site, hall, n)}");
        Ask(b, "Top")[ProposalKind.Proposed]
            .Order()
            .ShouldBe(Kilns(8).Where(k => k.Kiln % 2 == 1).Skip(1).Select(k => $"{k.Path} = {ByHalves(k.Site, k.Hall, k.Kiln)}").Order());
    }

    [Fact]
    public void What_is_counted_is_found_from_the_last_of_it_as_well_and_in_each_site_for_itself()
    {
        var b = House();
        foreach (var (site, plc) in new[] { ("Quay", "one"), ("Hill", "two") })
        {
            var count = 0;
            foreach (var _ in Kilns().Where(k => k.Site == site))
                Tag(b, $"KD[{40 + count++ * 7}]", plc);
        }
        Bind(b, "Works/Quay/SO/K5", "Top", "one/KD[103]");
        Bind(b, "Works/Hill/SO/K5", "Top", "two/KD[103]");
        Ask(b, "Top")[ProposalKind.Proposed]
            .Order()
            .ShouldBe(
                Kilns()
                    .Where(k => (k.Hall, k.Kiln) != ("SO", 5))
                    .Select(k => $"{k.Path} = KD[{40 + ((k.Hall == "NO" ? 0 : 5) + k.Kiln - 1) * 7}]")
                    .Order()
            );
    }

    [Fact]
    public void A_column_that_lacks_many_tags_is_believed_by_the_columns_beside_it()
    {
        var b = House();
        var count = 0;
        var whole = new List<string>();
        foreach (var (_, _, n, path) in Kilns())
        {
            Tag(b, $"DB7.W{100 + count * 6}");
            // A third of the kilns have no second thermometer.
            if (count % 3 != 1)
            {
                Tag(b, $"DB7.W{102 + count * 6}");
                whole.Add($"{path} = DB7.W{102 + count * 6}");
            }
            count++;
        }
        Bind(b, "Works/Quay/NO/K1", "Top", "one/DB7.W100");
        Bind(b, "Works/Quay/NO/K1", "Base", "one/DB7.W102");
        Ask(b, "Top")[ProposalKind.Proposed].Count().ShouldBe(19);
        Ask(b, "Base")[ProposalKind.Proposed].Order().ShouldBe(whole.Skip(1).Order());
    }

    [Fact]
    public void What_controllers_of_other_places_are_called_says_which_serves_one()
    {
        var b = House();
        var nodes = new PlantNames(b.Model);
        InstanceNames Kiln(string path) => nodes.Of(b.Model.Index.Find($"Works/{path}")!.Id);
        (string, long)[] controllers =
        [
            ("plc Quay NO 1", 3),
            ("plc Quay SO 1", 4),
            ("plc Hill NO 1", 5),
            ("plc Hill SO 1", 6),
            ("plcHill-SO1", 7),
        ];
        ControllerNames From(params (string Path, string Name)[] serving) =>
            new(controllers, serving.Select(s => (Kiln(s.Path), s.Name)), [Kiln("Quay/NO/K1"), Kiln("Quay/SO/K1")], nodes);
        // The site and the hall are in the name: also where only one hall has anything bound.
        From(("Quay/NO/K1", "plc Quay NO 1")).For(Kiln("Quay/SO/K3")).ShouldBe(4);
        From(("Quay/NO/K1", "plc Quay NO 1")).For(Kiln("Hill/NO/K2")).ShouldBe(5);
        // Two are called so, and names that do not follow places say nothing.
        From(("Quay/NO/K1", "plc Quay NO 1")).For(Kiln("Hill/SO/K2")).ShouldBeNull();
        From(("Quay/NO/K1", "plcQuay-NO1"), ("Hill/NO/K1", "plc Quay SO 1")).For(Kiln("Quay/NO/K2")).ShouldBeNull();
        From().For(Kiln("Quay/NO/K1")).ShouldBeNull();
        // What is another place's is not this one's; what is called after no place may serve any.
        From(("Quay/NO/K1", "plc Quay NO 1")).IsOthers(Kiln("Quay/NO/K2"), 4).ShouldBeTrue();
        From(("Quay/NO/K1", "plc Quay NO 1")).IsOthers(Kiln("Quay/NO/K2"), 3).ShouldBeFalse();
        From(("Quay/NO/K1", "plc Quay NO 1")).IsOthers(Kiln("Quay/NO/K2"), 7).ShouldBeFalse();
        From().IsOthers(Kiln("Quay/NO/K2"), 4).ShouldBeFalse();
    }

    [Fact]
    public void What_became_of_the_tag_a_rule_names_is_said_as_it_is()
    {
        var b = House();
        foreach (var (site, hall, n, path) in Kilns())
            if (path != "Works/Hill/SO/K5")
                Tag(b, $"{site}.{hall}.K{n}.T");
        Bind(b, "Works/Quay/NO/K1", "Top", "one/Quay.NO.K1.T");
        string Reason(string path) =>
            Proposer
                .Propose(new(b.Model))
                .Proposals.Single(p => p.PropertyId == b["Top"] && b.Model.Index.PathOf(p.EquipmentId) == path)
                .Reason.ShouldNotBeNull();
        Reason("Works/Hill/SO/K5").ShouldBe("There is no tag Hill.SO.K5.T.");
        b.Do(x => new RefuseTags([new(x.Model.Index.Find("Works/Hill/SO/K4")!.Id, x["Top"], x["one/Hill.SO.K4.T"])]));
        Reason("Works/Hill/SO/K4").ShouldBe("Hill.SO.K4.T was refused here.");
    }

    [Theory]
    [InlineData("P{number}", true)]
    [InlineData("P{number*100}", true)]
    [InlineData("P{number+1000}", true)]
    [InlineData("P{area.number*1000+number}", true)]
    [InlineData("P{number+7}", false)]
    [InlineData("P{number-81}", false)]
    [InlineData("P{number*10+100}", false)]
    [InlineData("P{number*2}", false)]
    [InlineData("P{count}", false)]
    public void Digits_that_something_is_added_to_are_not_those_of_the_instance(string pattern, bool follows) =>
        NamePattern.Parse(pattern, out _)!.FollowsName.ShouldBe(follows);

    [Fact]
    public void A_site_counts_for_itself()
    {
        var b = House();
        var nodes = new PlantNames(b.Model);
        string? Text(string pattern, string path) =>
            NamePattern.Parse(pattern, out _)!.TextFor(nodes.Of(b.Model.Index.Find($"Works/{path}")!.Id));
        Text("N{count}", "Hill/SO/K2").ShouldBe("N17");
        Text("N{sitecount}", "Hill/SO/K2").ShouldBe("N7");
        Text("N{sitecount}", "Quay/SO/K2").ShouldBe("N7");
        Text("N{area.sitecount}", "Hill/SO/K2").ShouldBe("N2");
    }

    [Fact]
    public void A_hall_that_looks_alike_is_learned_when_one_of_its_own_is_bound()
    {
        // The shape of the names is the same in all halls; what stands in them is the contractor's own number of the hall.
        var b = House(6);
        static int Hall(string site, string hall) =>
            (site, hall) switch
            {
                ("Quay", "NO") => 37,
                ("Quay", "SO") => 12,
                ("Hill", "NO") => 88,
                _ => 51,
            };
        foreach (var (site, hall, n, _) in Kilns(6))
            Tag(b, $"P{Hall(site, hall)}.K{n}.TT");
        foreach (var (site, hall) in new[] { ("Quay", "NO"), ("Quay", "SO"), ("Hill", "NO"), ("Hill", "SO") })
            Bind(b, $"Works/{site}/{hall}/K2", "Top", $"one/P{Hall(site, hall)}.K2.TT");
        Ask(b, "Top")[ProposalKind.Proposed]
            .Order()
            .ShouldBe(Kilns(6).Where(k => k.Kiln != 2).Select(k => $"{k.Path} = P{Hall(k.Site, k.Hall)}.K{k.Kiln}.TT").Order());
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void The_order_of_tags_and_noise_beside_them_change_no_answer(int seed)
    {
        string[] Asked(bool shuffled, bool noisy)
        {
            var b = House(6);
            var names = Kilns(6).Select(k => ByHalves(k.Site, k.Hall, k.Kiln)).ToList();
            if (noisy)
                names.AddRange(Enumerable.Range(0, 60).Select(i => $"Lamp{i}_Door{i * 7 % 11}"));
            if (shuffled)
            {
                var random = new Random(seed);
                names = [.. names.OrderBy(_ => random.Next())];
            }
            foreach (var name in names)
                Tag(b, name);
            Bind(b, "Works/Quay/NO/K3", "Top", "one/QuayNOK3_TT");
            return [.. Ask(b, "Top").SelectMany(g => g.Select(a => $"{g.Key} {a}")).Order(StringComparer.Ordinal)];
        }
        var plain = Asked(false, false);
        plain.Count(a => a.StartsWith("Proposed", StringComparison.Ordinal)).ShouldBe(11);
        Asked(true, false).ShouldBe(plain);
        Asked(false, true).ShouldBe(plain);
        Asked(true, true).ShouldBe(plain);
    }

    [Fact]
    public void A_tag_that_names_another_hall_in_full_is_not_proposed_here()
    {
        var b = House(4);
        foreach (var n in Enumerable.Range(1, 4))
            Tag(b, $"Quay_K{n}_TT");
        Bind(b, "Works/Quay/NO/K1", "Top", "one/Quay_K1_TT");
        Ask(b, "Top")[ProposalKind.Proposed].ShouldNotContain(a => a.StartsWith("Works/Hill", StringComparison.Ordinal));
    }

    [Fact]
    public void Of_two_places_of_one_name_only_the_one_whose_controller_has_the_tag_is_proposed_for()
    {
        // Both sites call their halls and kilns alike; each has a controller, and only some tags there are in both.
        var b = House(6);
        foreach (var (site, hall, n, _) in Kilns(6))
            if (n % 2 == (site == "Quay" ? 1 : 0) || n == 2)
                Tag(b, $"{hall}_K{n}_TT", site == "Quay" ? "one" : "two");
        Bind(b, "Works/Quay/NO/K2", "Top", "one/NO_K2_TT");
        Bind(b, "Works/Hill/NO/K2", "Top", "two/NO_K2_TT");
        var matrix = Proposer.Propose(new(b.Model));
        var proposed = matrix.Proposals.Where(p => p.PropertyId == b["Top"] && p.Kind == ProposalKind.Proposed).ToArray();
        proposed.ShouldNotBeEmpty();
        foreach (var proposal in proposed)
            b.Model.Tags[proposal.TagId!.Value]
                .ControllerId.ShouldBe(
                    b[b.Model.Index.PathOf(proposal.EquipmentId).StartsWith("Works/Quay", StringComparison.Ordinal) ? "one" : "two"]
                );
    }

    [Fact]
    public void Without_an_example_a_column_that_few_names_fit_stays_open_with_all_that_is_called_nearly_so()
    {
        // Numbers in fives: what is called 5 is the first kiln, and no name says so.
        var b = House(20);
        foreach (var (site, hall, n, _) in Kilns(20))
        {
            Tag(b, $"{site}.{hall}.kiln-{n * 5}.top");
            Tag(b, $"{site}.{hall}.kiln-{n * 5}.top_SP");
        }
        Ask(b, "Top")[ProposalKind.Proposed].ShouldBeEmpty();
    }
}
