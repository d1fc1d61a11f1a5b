using System.Text;
using CsCheck;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Diagnosis;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Limits;
using Fralto.Core.Memory;
using Fralto.Core.Modbus;
using Fralto.Core.NamingRules;
using Fralto.Core.Notices;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Whatever sequence of edits a person makes: what must hold then.</summary>
public sealed class RandomEditTests
{
    private static readonly Gen<int[]> Steps = Gen.Int[0, 1_000_000].Array[1, 60];

    [Fact]
    public void Look_ups_carried_over_are_those_built_anew() =>
        Steps.Sample(
            steps =>
            {
                foreach (var model in Run(steps).Select(r => r.After))
                {
                    SameLookUps(model, model.Index, (model with { }).Index);
                }
            },
            iter: 150
        );

    [Fact]
    public void Findings_carried_along_are_those_found_anew_whether_edits_come_singly_or_several_at_once() =>
        Gen.Select(Steps, Gen.Int[1, 7])
            .Sample(
                (steps, several) =>
                {
                    var (book, changes, count) = (new FindingBook(Tanks), new List<ModelChange>(), 0);
                    foreach (var ((_, outcome, after), _) in Edits(steps, Tanks, OfTanks))
                    {
                        changes.AddRange(outcome.Changes);
                        if (++count % several != 0)
                            continue;
                        book.Follow(after, changes);
                        changes.Clear();
                        var anew = after with { };
                        Keys(book.BySeverity.SelectMany(f => f)).ShouldBe(Keys(new FindingBook(anew).BySeverity.SelectMany(f => f)));
                        Keys(book.BySeverity.SelectMany(f => f))
                            .ShouldBe(
                                Keys(
                                    Planner
                                        .Compile(anew)
                                        .Findings.Where(f => f.Code != Planner.NameApart)
                                        .Select(f => new ModelFinding(f, f.EquipmentId == 0 ? null : EntityKinds.Equipment, f.EquipmentId))
                                        .Concat(ModelFindings.Of(anew))
                                )
                            );
                    }
                },
                iter: 400
            );

    private static string[] Keys(IEnumerable<ModelFinding> all) =>
        [.. all.Select(f => $"{f.Key} {f.Finding.Severity} {f.Finding.Words}").Order(StringComparer.Ordinal)];

    [Fact]
    public void A_formula_is_looked_at_again_when_what_it_takes_comes_goes_moves_or_turns_round_far_below()
    {
        var b = new PlantBuilder()
            .Do(new SaveTemplate(null, "Tank", "Tank", null, ""), "Tank")
            .Do(x => new SaveProperty(
                x["Tank"],
                null,
                "Level",
                "Level",
                PropertyKind.Measured,
                PropertyType.Number,
                new() { Unit = "MTR" }
            ))
            .Do(x => Worked(x["Tank"], "Twice", "MTR", "Level + Level"), "Twice")
            .Do(new SaveTemplate(null, "Site", "Site", null, ""), "Site")
            .Do(x => Worked(x["Site"], "Stock", "MTR", "sum(below Tank: Twice)"))
            .Do(new SaveTemplate(null, "Yard", "Yard", null, ""), "Yard")
            .Do(x => new SaveProperty(x["Yard"], null, "Level", "Level", PropertyKind.Entered, PropertyType.Number, new() { Unit = "MTR" }))
            .Do(new SaveEquipment(null, "Co", "Co", EquipmentLevel.Enterprise, null, null), "Co")
            .Do(x => new SaveEquipment(null, "North", "North", EquipmentLevel.Site, x["Co"], x["Site"]), "North")
            .Do(x => new SaveEquipment(null, "South", "South", EquipmentLevel.Site, x["Co"], x["Yard"]), "South")
            .Do(x => new SaveEquipment(null, "A", "A", EquipmentLevel.Area, x["North"], null), "A")
            .Do(x => new SaveEquipment(null, "B", "B", EquipmentLevel.Area, x["South"], null), "B")
            .Do(x => new SaveEquipment(null, "T1", "T1", EquipmentLevel.Unit, x["B"], x["Tank"]), "T1");
        var (book, model) = (new FindingBook(b.Model), b.Model);
        void Then(Edit edit, bool turnsRound)
        {
            var outcome = edit.On(model);
            outcome.Problems.ShouldBeEmpty();
            model = model.Apply(outcome.Changes);
            book.Follow(model, outcome.Changes);
            var all = book.BySeverity.SelectMany(f => f).ToArray();
            Keys(all).ShouldBe(Keys(new FindingBook(model with { }).BySeverity.SelectMany(f => f)));
            all.Any(f => f.Finding.Code == Planner.CircularFormula).ShouldBe(turnsRound);
        }

        // Below the yard it takes what is entered there; below the site what is worked out of itself.
        Then(new PatchProperty([b["T1"]], b["Twice"], new() { Formula = "Level + nearest.Level" }, []), false);
        var site = model.Templates[b["Site"]];
        Then(Worked(site.Id, "Level", "MTR", "Stock / 2"), false);
        Then(new MoveEquipment(b["T1"], b["A"]), true);
        Then(new MoveEquipment(b["T1"], b["B"]), false);
        Then(new SaveEquipment(null, "T2", "T2", EquipmentLevel.Unit, b["A"], b["Tank"]), false);
    }

    [Fact]
    public void Every_kind_of_edit_is_among_those_that_are_tried_and_every_kind_is_accepted()
    {
        var kinds = typeof(Edit)
            .Assembly.GetTypes()
            .Where(t => t.IsSubclassOf(typeof(Edit)) && !t.IsAbstract)
            .Select(t => t.Name)
            .ToHashSet();
        var accepted = new HashSet<string>();
        for (var seed = 0; seed < 400 && accepted.Count < kinds.Count; seed++)
        {
            var random = new Random(seed);
            foreach (var (_, edit) in Edits([.. Enumerable.Range(0, 60).Select(_ => random.Next(1_000_000))]))
                accepted.Add(edit.GetType().Name);
        }
        kinds.Except(accepted).ShouldBeEmpty("kinds of edits that no random sequence has made");
    }

    [Fact]
    public void No_two_siblings_stand_at_one_position() =>
        Steps.Sample(
            steps =>
            {
                foreach (var model in Run(steps).Select(r => r.After))
                    model
                        .Equipment.Values.GroupBy(e => (e.ParentId, e.Order))
                        .Where(g => g.Count() > 1)
                        .Select(g => string.Join(" and ", g.Select(e => e.Name)))
                        .ShouldBeEmpty();
            },
            iter: 150
        );

    [Fact]
    public void Every_kind_of_entity_is_in_the_journal_in_words_and_kept_by_its_own_name()
    {
        EntityKinds
            .All.Select(k => k.Id)
            .ShouldBe([
                "state-list",
                "unit",
                "scale",
                "template",
                "equipment",
                "controller",
                "layout",
                "device",
                "tag",
                "binding",
                "calendar",
                "alarms",
                "naming-convention",
            ]);
        Steps.Sample(
            steps =>
            {
                foreach (var (before, outcome, after) in Run(steps))
                foreach (var change in outcome.Changes)
                {
                    var kind = EntityKinds.Of((change.After ?? change.Before)!);
                    kind.NameOf((change.After ?? change.Before)!, after).ShouldNotBeEmpty();
                    if (change.After is { } now)
                        kind.Find(after, kind.KeyOf(now)).ShouldNotBeNull();
                    // What has changed is shown: two entities that differ read differently.
                    if (!Equals(change.Before, change.After))
                        ChangeText.Of(change, change.After is null ? before : after).ShouldNotBeEmpty($"{change}");
                }
            },
            iter: 100
        );
    }

    [Fact]
    public void An_edit_and_its_inverse_leave_the_model_as_it_was() =>
        Steps.Sample(
            steps =>
            {
                foreach (var (before, outcome, after) in Run(steps))
                {
                    var back = after.Apply(outcome.Inverse.ToArray());
                    foreach (var kind in EntityKinds.All)
                        kind.All(back).ShouldBe(kind.All(before), ignoreOrder: true);
                }
            },
            iter: 150
        );

    [Fact]
    public void Looking_at_what_changes_touch_finds_trouble_exactly_when_looking_at_all_does() =>
        Steps.Sample(
            steps =>
            {
                var runs = Run(steps).ToArray();
                var last = runs[^1].After;
                foreach (
                    var inverse in runs.Select(r => r.Outcome.Inverse.ToArray())
                        .Where(i => i.All(c => Equals(last.Current((c.Before ?? c.After)!), c.Before)))
                )
                {
                    var back = last.Apply(inverse);
                    Integrity.Problems(back, inverse).Any().ShouldBe(Integrity.Problems(back).Any());
                }
            },
            iter: 150
        );

    [Fact]
    public void Every_edit_leaves_a_whole_model_that_compiles() =>
        Steps.Sample(
            steps =>
            {
                var last = Run(steps).Last().After;
                Integrity.Problems(last).ShouldBeEmpty();
                Planner.Compile(last).Plan.Points.Count(p => p.Source == PointSource.Tag).ShouldBe(last.Bindings.Count);
            },
            iter: 150
        );

    [Fact]
    public void Given_out_and_taken_in_changes_nothing() =>
        Steps.Sample(
            steps =>
            {
                var model = Run(steps).Last().After;
                var bytes = ModelFormat.Write(model);
                var outcome = new ReplaceModel(ModelFormat.Read(bytes, out _)!).On(model);
                outcome.Problems.ShouldBeEmpty();
                outcome.Changes.ShouldBeEmpty();
                var empty = new ReplaceModel(ModelFormat.Read(bytes, out _)!).On(PlantModel.Empty);
                empty.Problems.ShouldBeEmpty();
                var (one, other) = (Lines(ModelFormat.Write(PlantModel.Empty.Apply(empty.Changes))), Lines(bytes));
                var at = Enumerable.Range(0, Math.Min(one.Length, other.Length)).FirstOrDefault(i => one[i] != other[i], -1);
                (at < 0 ? [] : one.Skip(at - 4).Take(8)).ShouldBe(at < 0 ? [] : other.Skip(at - 4).Take(8));
                one.Length.ShouldBe(other.Length);
                foreach (var kind in Enum.GetValues<TableKind>())
                {
                    var preview = new ImportTable(kind, ImportTable.Of(model, kind)).Preview(model);
                    preview.Lines.ShouldBeEmpty();
                    preview.Changes.ShouldBeEmpty();
                }
            },
            iter: 150
        );

    private static string[] Lines(byte[] text) => Encoding.UTF8.GetString(text).Split((char)10);

    /// <summary>Every look-up there is, of one index and another.</summary>
    private static void SameLookUps(PlantModel model, ModelIndex one, ModelIndex other)
    {
        one.EquipmentInOrder.ShouldBe(other.EquipmentInOrder);
        one.Below(null).ShouldBe(other.Below(null));
        one.Below(null).Count.ShouldBe(model.Equipment.Count);
        one.Below(long.MaxValue).ShouldBeEmpty();
        one.Simulations.ShouldBe(other.Simulations);
        one.TagsInOrder.ShouldBe(other.TagsInOrder);
        one.UsedTagCount.ShouldBe(other.UsedTagCount);
        foreach (var at in model.Equipment.Keys.Select(id => (long?)id).Append(null))
        {
            one.ChildrenOf(at).ShouldBe(other.ChildrenOf(at));
            one.NextOrderBelow(at).ShouldBe(other.NextOrderBelow(at));
        }
        foreach (var node in model.Equipment.Values)
        {
            one.RangeOf(node.Id).ShouldBe(other.RangeOf(node.Id));
            one.ChildCountOf(node.Id).ShouldBe(other.ChildCountOf(node.Id));
            one.Below(node.Id).ShouldBe(other.Below(node.Id));
            one.BoundCountOf(node.Id).ShouldBe(other.BoundCountOf(node.Id));
            one.BoundOf(node).ShouldBe(other.BoundOf(node), ignoreOrder: true);
            one.TaggedBelow(node.Id).ShouldBe(other.TaggedBelow(node.Id));
            one.LineageOf(node.Id).ShouldBe(other.LineageOf(node.Id));
            one.PathOf(node.Id).ShouldBe(other.PathOf(node.Id));
            one.Find(one.PathOf(node.Id)).ShouldBe(node);
            one.LabelsOf(node).ShouldBe(other.LabelsOf(node));
            one.PropertiesOf(node).Select(p => (p.Id, p.Facts)).ShouldBe(other.PropertiesOf(node).Select(p => (p.Id, p.Facts)));
        }
        foreach (var template in model.Templates.Keys)
        {
            one.InstancesOf(template).ShouldBe(other.InstancesOf(template));
            one.InstanceCountOf(template).ShouldBe(other.InstanceCountOf(template));
            one.ReachOf(template).ShouldBe(other.ReachOf(template));
            one.TemplatesBelow(template).ShouldBe(other.TemplatesBelow(template));
            one.AncestryOf(template).ShouldBe(other.AncestryOf(template));
            one.FamilyOf(template).ShouldBe(other.FamilyOf(template));
            one.PartsOf(template).ShouldBe(other.PartsOf(template));
            one.LevelsOf(template).ShouldBe(other.LevelsOf(template));
            one.LabelsOf(template).ShouldBe(other.LabelsOf(template));
            one.PropertiesOf(template).Select(p => (p.Id, p.Facts)).ShouldBe(other.PropertiesOf(template).Select(p => (p.Id, p.Facts)));
        }
        foreach (var controller in model.Controllers.Keys)
            one.TagsOf(controller).ShouldBe(other.TagsOf(controller));
        foreach (var tag in model.Tags.Keys)
        {
            one.BindingsOf(tag).ShouldBe(other.BindingsOf(tag), ignoreOrder: true);
            one.IsUsed(tag).ShouldBe(other.IsUsed(tag));
        }
        foreach (var text in new[] { "kiln", "tt1", "r1", "n" })
            Finder.Find(model, text, 9).Select(f => f.Id).ShouldBe(Finder.Find(model with { }, text, 9).Select(f => f.Id));
    }

    /// <summary>Makes the edits that numbers stand for, passing over those that are refused.</summary>
    internal static IEnumerable<(PlantModel Before, EditOutcome Outcome, PlantModel After)> Run(int[] steps)
    {
        yield return (Begin, EditOutcome.Changed("begin"), Begin);
        foreach (var (run, _) in Edits(steps))
            yield return run;
    }

    private static readonly PlantModel Begin = PlantBuilder.Kiln().Model;

    /// <summary>Tanks whose formulas look up, down and at everything below.</summary>
    private static readonly PlantModel Tanks = new PlantBuilder()
        .Do(new SaveController(null, "mem", new MemoryConnection(), 0), "mem")
        .Do(new SaveTemplate(null, "Tank", "Tank", null, ""), "Tank")
        .Do(b => new SaveProperty(b["Tank"], null, "Level", "Level", PropertyKind.Measured, PropertyType.Number, new() { Unit = "MTR" }))
        .Do(b => new SaveProperty(
            b["Tank"],
            null,
            "Area",
            "Area",
            PropertyKind.Fixed,
            PropertyType.Number,
            new() { Unit = "MTK", Value = "2" }
        ))
        .Do(b => Worked(b["Tank"], "Volume", "MTQ", "Level * Area"))
        .Do(b => Worked(b["Tank"], "Double", "MTQ", "Volume + Volume"))
        .Do(new SaveTemplate(null, "Site", "Site", null, ""), "Site")
        .Do(b => Worked(b["Site"], "Stock", "MTQ", "sum(below Tank: Volume)"))
        .Do(b => new SaveProperty(b["Site"], null, "Ambient", "Ambient", PropertyKind.Entered, PropertyType.Number, new() { Unit = "CEL" }))
        .Do(b => Worked(b["Tank"], "Outside", "CEL", "nearest.Ambient"))
        // They have no formula, and are looked at.
        .Do(new SaveTemplate(null, "Probe", "Probe", null, ""), "Probe")
        .Do(b => new SaveProperty(b["Probe"], null, "Depth", "Depth", PropertyKind.Measured, PropertyType.Number, new() { Unit = "MTR" }))
        .Do(b => Worked(b["Site"], "Deepest", "MTR", "max(below Probe: Depth)"))
        .Do(new SaveEquipment(null, "Co", "Co", EquipmentLevel.Enterprise, null, null), "Co")
        .Do(b => new SaveEquipment(null, "North", "North", EquipmentLevel.Site, b["Co"], b["Site"]), "North")
        .Do(b => new SaveEquipment(null, "South", "South", EquipmentLevel.Site, b["Co"], null))
        .Do(b => new SaveEquipment(null, "A", "A", EquipmentLevel.Area, b["North"], null), "A")
        .Do(b => new SaveEquipment(null, "T1", "T1", EquipmentLevel.Unit, b["A"], b["Tank"]))
        .Do(b => new SaveEquipment(null, "T2", "T2", EquipmentLevel.Unit, b["A"], b["Tank"]), "T2")
        .Do(b => new SaveEquipment(null, "PR", "Probe", EquipmentLevel.EquipmentModule, b["T2"], b["Probe"]))
        .Do(b => new SaveEquipment(null, "P2", "Probe 2", EquipmentLevel.Unit, b["A"], b["Probe"]))
        .Do(b => Worked(b["Tank"], "Spare", "MTR", "PR.Depth"))
        // Of what only a label tells apart, of what stands above each member, and of a code that may be a minus.
        .Do(b => Worked(b["Site"], "Held", "MTQ", "sum(below Tank with kind=hold: Volume)"))
        .Do(b => Worked(b["Site"], "Warmth", "CEL", "mean(below Tank: nearest.Ambient)"))
        .Do(b => Worked(b["Tank"], "Odd", "MTR", "Level-Level"))
        .Do(b => new SaveTag(null, b["mem"], "one", new MemoryAddress(), RawType.Float64, WordOrder.HighFirst, ""))
        .Do(b => new SaveTag(null, b["mem"], "two", new MemoryAddress(), RawType.Float64, WordOrder.HighFirst, ""))
        .Model;

    private static SaveProperty Worked(long template, string code, string unit, string formula) =>
        new(template, null, code, code, PropertyKind.Calculated, PropertyType.Number, new() { Unit = unit, Formula = formula });

    /// <summary>Edits that touch what formulas look at; null for any other.</summary>
    private static Edit? OfTanks(PlantModel model, int step)
    {
        var nodes = model.Equipment.Values.Where(e => e.TemplateId is not null).OrderBy(e => e.Id).ToArray();
        if (step % 2 == 0 || nodes.Length == 0)
            return null;
        var node = nodes[step / 8 % nodes.Length];
        long IdOf(string code) => model.Templates.Values.SelectMany(t => t.Properties).FirstOrDefault(p => p.Code == code)?.Id ?? 0;
        var tag = model.Tags.Keys.Order().ElementAtOrDefault(step / 16 % Math.Max(1, model.Tags.Count));
        return (step / 2 % 8) switch
        {
            5 => new SaveEquipment(
                node.Id,
                new[] { node.Code, "Level-Level", node.Code }[step / 16 % 3],
                node.Name,
                node.Level,
                node.ParentId,
                node.TemplateId,
                node.Labels.SetItem("kind", step / 48 % 2 == 0 ? "hold" : "other")
            ),
            6 when model.Equipment.Values.FirstOrDefault(e => e.Code is "North" or "A") is { } place => new SaveEquipment(
                place.Id,
                place.Code,
                place.Name,
                place.Level,
                place.ParentId,
                place.TemplateId,
                place.Labels.SetItem("kind", step / 16 % 2 == 0 ? "hold" : "other")
            ),
            7 => new SaveTemplate(
                node.TemplateId,
                step / 16 % 3 == 0 ? "Tank" : $"Vessel{step / 16 % 5}",
                model.Templates[node.TemplateId!.Value].Name,
                null,
                ""
            ),
            0 => new Bind(node.Id, IdOf(step % 3 == 0 ? "Depth" : "Level"), tag),
            1 => new Unbind(node.Id, IdOf(step % 3 == 0 ? "Depth" : "Level")),
            2 => new PatchProperty(
                [node.Id],
                IdOf("Volume"),
                new() { Formula = new[] { "Level * 10 m²", "Double / 2", "up.Stock", "nearest.Ambient * Area" }[step / 32 % 4] },
                []
            ),
            3 => new PatchProperty([node.Id], IdOf("Area"), new() { Value = step % 3 == 0 ? "3" : null }, []),
            _ => new MoveEquipment(
                node.Id,
                model.Equipment.Values.Where(e => e.Level < node.Level).OrderBy(e => e.Id).ElementAtOrDefault(step / 64 % 4)?.Id
                    ?? node.ParentId
            ),
        };
    }

    private static IEnumerable<((PlantModel Before, EditOutcome Outcome, PlantModel After) Run, Edit Edit)> Edits(
        int[] steps,
        PlantModel? begin = null,
        Func<PlantModel, int, Edit?>? more = null
    )
    {
        var (model, past) = (begin ?? Begin, new List<EditOutcome>());
        foreach (var step in steps)
        {
            var edit = more?.Invoke(model, step) ?? EditOf(model, step, past);
            var outcome = edit.On(model);
            if (outcome.IsRefused)
                continue;
            var next = model.Apply(outcome.Changes);
            Integrity.NewProblems(model, next, outcome.Changes).Select(p => $"{edit.GetType().Name}: {p.Message}").ShouldBeEmpty();
            yield return ((model, outcome, next), edit);
            model = next;
            past.Add(outcome);
        }
    }

    private static Edit EditOf(PlantModel model, int step, List<EditOutcome> past)
    {
        T? Of<T>(IEnumerable<T> all, int salt) => all.ElementAtOrDefault((step / salt) % Math.Max(1, all.Count()));
        var nodes = model.Equipment.Values.OrderBy(e => e.Id).ToArray();
        var node = nodes.Length == 0 ? 0 : Of(nodes, 14)!.Id;
        var other = nodes.Length == 0 ? 0 : Of(nodes, 97)!.Id;
        var template = Of(model.Templates.Values.OrderBy(t => t.Id), 31)?.Id;
        var level = Of(LevelRules.FromTheTop, 53);
        var (controller, layout, device) = (
            model.Controllers.Keys.Order().FirstOrDefault(),
            Of(model.Layouts.Values.OrderBy(l => l.Id), 23),
            Of(model.Devices.Values.OrderBy(d => d.Id), 41)
        );
        static LayoutPoint Point(int i) => new(0, $"P{i}", RegisterArea.HoldingRegister, i, null, RawType.Int16, WordOrder.HighFirst);
        var cells = model.Bindings.Keys.OrderBy(k => k.EquipmentId).ThenBy(k => k.PropertyId).ToArray();
        var (cell, tag) = (Of(cells, 19), Of(model.Tags.Values.OrderBy(t => t.Id), 29)?.Id ?? 0);
        var takes = model
            .Equipment.Values.OrderBy(e => e.Id)
            .SelectMany(e => model.Index.PropertiesOf(e).Where(p => p.TakesTag).Select(p => (e.Id, p.Id)))
            .ToArray();
        var (list, scale, unit) = (
            Of(model.StateLists.Values.OrderBy(s => s.Id), 7),
            Of(model.Scales.Values.OrderBy(s => s.Id), 11),
            Of(model.OwnUnits.Values.OrderBy(u => u.Id), 13)
        );
        var declared = Of(
            model.Templates.Values.OrderBy(t => t.Id).SelectMany(t => t.Properties.Select(p => (Template: t.Id, Property: p))),
            5
        );
        var part = Of(model.Templates.Values.OrderBy(t => t.Id).SelectMany(t => t.Parts.Select(p => (Template: t.Id, p.Id))), 3);
        var some = Of(model.Controllers.Keys.Order(), 37);
        switch (step % 71)
        {
            case > 66:
                return new SaveNamingConventions([
                    (EquipmentLevel.Unit, null, step % 2 == 0, $"K{step % 5}#"),
                    .. declared.Template == 0
                        ? []
                        : new[] { ((EquipmentLevel?)null, (long?)declared.Template, step % 3 == 0, $"*{step % 3}?") },
                ]);
            case 50:
                return new SaveCalendar(
                    new[] { "UTC", "Europe/Lisbon", "Nowhere/Land" }[step % 3],
                    step % 2 == 0 ? [] : [new("early", new(6, 0)), new("late", new(18, 0))]
                );
            case 54:
                return new SaveLimit(
                    declared.Template,
                    declared.Property?.Id ?? 0,
                    new[] { "H", "Lost" }[step % 2],
                    step % 3 == 0 ? null
                        : step % 2 == 0 ? new(90) { Action = $"act {step}" }
                        : new(OnDelay: step % 50) { Kind = LimitKind.BadQuality }
                );
            case 55:
                return new SaveResponses([new($"Call {step % 3}", ResponseKind.Call, "http://127.0.0.1/") { Priorities = [1 + step % 4] }]);
            case 59:
                return new SaveNoticeLists([
                    new("On call", ["oncall@maltings.test"]) { OnlyEscalated = true, Days = [DayOfWeek.Monday] },
                    new($"Shift {step % 3}", ["shift@maltings.test", $"lead{step % 5}@maltings.test"])
                    {
                        PlaceId = step % 2 == 0 && node > 0 ? node : null,
                        Priorities = [1 + step % 4],
                        From = new(22, step % 60),
                        Until = new(6, 0),
                        RepeatAfter = step % 2 == 0 ? TimeSpan.FromMinutes(1 + step % 20) : null,
                        EscalateAfter = TimeSpan.FromMinutes(5),
                        EscalateTo = "On call",
                        Language = step % 2 == 0 ? "de" : null,
                    },
                ]);
            case 60:
                return new SaveMailServer(
                    step % 3 == 0
                        ? null
                        : new($"mail{step % 4}.maltings.test", 25 + step % 500, MailSecurity.StartTls, "plant@maltings.test")
                        {
                            User = step % 2 == 0 ? "plant" : null,
                        }
                );
            case 61:
                return new SaveAlarmSetup(step % 2 == 0 ? ["en", "de"] : [], 30 + step % 400);
            case 53:
                return new SaveShelvingRules([
                    new($"Rule {step % 4}", TimeSpan.FromHours(1 + step % 3), [TimeSpan.FromMinutes(30 + step % 40)]),
                ]);
            case 25:
                return new SaveStateList(
                    step % 2 == 0 ? list?.Id : null,
                    step % 2 == 0 && list is not null ? list.Code : $"L{step}",
                    $"List {step}",
                    [new(0, "Off"), new(1 + (step % 3), "On")]
                );
            case 26:
                return new RemoveStateList(list?.Id ?? 0);
            case 27:
                return new SaveOwnUnit(
                    step % 2 == 0 ? unit?.Id : null,
                    step % 2 == 0 && unit is not null ? unit.Code : $"U{step}",
                    $"u{step}",
                    $"Unit {step}",
                    1 + (step % 7),
                    "KGM"
                );
            case 28:
                return new RemoveOwnUnit(unit?.Id ?? 0);
            case 29:
                return new SaveScale(
                    step % 2 == 0 ? scale?.Id : null,
                    step % 2 == 0 && scale is not null ? scale.Code : $"S{step}",
                    $"Scale {step}",
                    "",
                    new LinearScale(new Span(0, 100), new(0, 1 + (step % 9))) { Unit = step % 3 == 0 ? unit?.Code : null }
                );
            case 30:
                return new RemoveScale(scale?.Id ?? 0);
            case 31:
                return step % 2 == 0 ? new SaveController(null, $"c{step}", new MemoryConnection(), 0) : new RemoveController(some);
            case 32 when step % 2 == 0 && takes.Length > 0:
                var (into, what) = Of(takes, 43);
                return new DeclareAndBind(
                    into,
                    what,
                    new(null, some, $"new{step}", RegisterArea.HoldingRegister, step % 100, RawType.Int16, WordOrder.HighFirst, "")
                );
            case 32:
                return new RemoveTags(tag);
            case 33:
                return new RemoveLayout(layout?.Id ?? 0);
            case 34:
                return new RemovePart(part.Template, part.Id, step % 2 == 0);
            case 35:
                return new RemoveProperty(declared.Template, declared.Property?.Id ?? 0);
            case 36:
                return new MoveProperty(
                    declared.Template,
                    declared.Property?.Id ?? 0,
                    model.Templates.GetValueOrDefault(declared.Template)?.ParentId ?? template ?? 0
                );
            case 37:
                return new ChangeTags([tag], new() { WordOrder = (WordOrder)(step / 50 % 4) });
            case 45:
                return new ChangeTags(
                    [tag, .. model.Tags.Keys.Order().Skip(step % 5).Take(2)],
                    (step / 50 % 4) switch
                    {
                        0 => new() { Rename = new("T*1", $"R{step}*") },
                        1 => new() { Type = (RawType)(step / 200 % 6) },
                        2 => new() { Unit = step % 3 == 0 ? "" : unit?.Code ?? "CEL" },
                        _ => new() { Description = $"said {step}" },
                    }
                );
            case 46:
                return new ChangeTemplate([node], step % 4 == 0 ? null : template);
            case 49:
                return new ChangeLimits(
                    template ?? 0,
                    LimitField.Setpoint,
                    [new(Of(takes, 11).Item2, (LimitCondition)(step % 4), step % 3 == 0 ? null : step % 90)]
                );
            case 48:
                return new MakeEquipment(
                    step % 3 == 0 && model.Templates.Count > 0 ? model.Templates.Values.MinBy(t => t.Id)!.Name : $"Made {step}",
                    $"Corvane / Made place / Made {step / 2}",
                    [new(tag, $"Made {step % 4}", null, null)]
                );
            case 47:
                return new Several([new MoveEquipment(node, other), new RemoveEquipment(Of(nodes, 29)?.Id ?? 0)]);
            case 38:
                return step % 2 == 0
                        ? new SaveTag(
                            null,
                            controller,
                            $"word{step}",
                            RegisterArea.HoldingRegister,
                            step % 65000,
                            RawType.UInt16,
                            WordOrder.HighFirst,
                            ""
                        )
                    : Of(model.Tags.Values.Where(t => UnfoldTag.WhyNot(t) is null).OrderBy(t => t.Id), 3) is { } packed
                        ? new UnfoldTag(packed.Id, [.. Enumerable.Range(0, UnfoldTag.PartsOf(packed)).Select(i => $"{packed.Name}_{i}")])
                    : new UnfoldTag(0, []);
            case 39 when step % 2 == 0:
                return new TakeLibrary(
                    new(
                        [new("Mode", "Mode", [new(0, "Off"), new(1, "On")])],
                        [
                            new(
                                "t",
                                $"Taken{step % 3}Type",
                                "Taken",
                                "",
                                null,
                                [
                                    new("Flow", "Flow", PropertyType.Number, PropertyKind.Measured, "MQH", new(0, step % 90 + 1), null),
                                    new("Mode", "Mode", PropertyType.State, PropertyKind.Measured, null, null, "Mode"),
                                    new(
                                        "Twice",
                                        "Twice",
                                        PropertyType.Number,
                                        PropertyKind.Calculated,
                                        "MQH",
                                        null,
                                        null,
                                        null,
                                        "Flow * 2"
                                    ),
                                ],
                                []
                            ),
                        ],
                        [
                            new(
                                "o",
                                $"TK{step % 7}",
                                "Taken",
                                null,
                                "t",
                                null,
                                [new(new ModbusAddress(RegisterArea.HoldingRegister, step % 60_000), ["Flow"], RawType.Int16, 1, "")]
                            ),
                        ]
                    ),
                    node,
                    step % 4 == 0 ? some : null
                );
            case 39:
                return new DeclareTags(
                    some,
                    [new(new ModbusAddress(RegisterArea.HoldingRegister, step % 60_000), ["found", $"at{step}"], RawType.Int16, 1, "")]
                );
            case 40:
                return new Unbind(cell.EquipmentId, cell.PropertyId);
            case 41 or >= 48 when past.Count > 0:
                return new TakeBack("back", past[^(1 + (step / 47 % Math.Min(past.Count, 6)))].Changes);
            case 42:
                return new ReplaceModel(
                    ModelFormat.Read(
                        ModelFormat.Write(past.Count == 0 || step % 2 == 0 ? Begin : model with { Bindings = model.Bindings.Clear() }),
                        out _
                    )!
                );
            case 43:
                var table = ImportTable.Of(model, TableKind.Equipment);
                var row = table.Rows.Count == 0 ? 0 : step / 45 % table.Rows.Count;
                return new ImportTable(
                    TableKind.Equipment,
                    table with
                    {
                        Rows =
                        [
                            .. table.Rows.Select(
                                (r, i) => i == row ? [.. r.Select((cell, c) => c == table.IndexOf("name") ? $"Listed {step}" : cell)] : r
                            ),
                        ],
                    }
                );
            case 44:
                var listed = new Table(
                    ["Name", "Address", "Type"],
                    [
                        [$"listed{step}", $"holding {step % 60_000}", "int16"],
                    ]
                );
                return model.Controllers.GetValueOrDefault(controller) is { } its
                    ? new ImportTags(controller, listed, [.. TagTable.Recognise(listed, its, model.Units)])
                    : new RemoveController(0);
            case 41 or >= 48:
                return new RemoveEquipment(0);
            case 19:
                return new BindMany(
                    [
                        .. takes
                            .Skip(step % 3)
                            .Take(2)
                            .Select((c, i) => new BindingLine(c.Item1, c.Item2, Of(model.Tags.Values.OrderBy(t => t.Id), 7 + i)?.Id ?? 0)),
                    ],
                    step % 2 == 0
                );
            case 20:
                return new SwapBindings(cell, Of(takes, 43));
            case 21:
                return new RefuseTags([new(node, Of(takes, 17).Item2, tag)], step % 4 == 0);
            case 22:
                return new KeepRule(
                    template ?? 0,
                    Of(takes, 13).Item2,
                    (TagFace)(step % 3),
                    step % 5 == 0 ? "" : $"T{{number*{1 + step % 9}}}"
                );
            case 23:
                return new MarkChecked(
                    [cell],
                    step % 3 == 0 ? null : new("somebody", new DateTimeOffset(2026, 6, 1, 0, 0, step % 60, TimeSpan.Zero))
                );
            case 24:
                return new UnbindMany([cell, Of(cells, 3)]);
            case 14:
                return new SaveLayout(
                    step % 2 == 0 ? layout?.Id : null,
                    step % 2 == 0 && layout is not null ? layout.Code : $"L{step}",
                    "Layout",
                    "_",
                    [.. Enumerable.Range(step % 5, 1 + (step % 3)).Select(Point)]
                );
            case 15:
                return new AddDevices(controller, layout?.Id ?? 0, $"D{step}x{{n}}", 1, 1 + (step % 3), step % 60_000, 10);
            case 16:
                return step % 2 == 0
                    ? new RemoveDevice(device?.Id ?? 0)
                    : new SaveDevice(device?.Id ?? 0, $"E{step}", step % 60_000, 0, step % 7);
            case 17:
                return new Simulate(
                    [.. model.Bindings.Keys.OrderBy(k => k.EquipmentId).Take(1 + (step % 2))],
                    step % 3 == 0 ? null : SimulationShape.Ramp
                );
            case 18:
                return new SaveController(
                    controller,
                    "plc",
                    new ModbusConnection("h", 502, 1 + (step % 200)),
                    500,
                    [new($"class{step % 3}", TimeSpan.FromSeconds(5))]
                );
            case 0:
                return new SaveEquipment(
                    null,
                    $"N{step}",
                    $"Node {step}",
                    level,
                    node,
                    step % 3 == 0 ? template : null,
                    Labels.None.Add("step", $"{step}")
                );
            case 1:
                return new MoveEquipment(node, other);
            case 2:
                return new RemoveEquipment(step % 3 == 0 ? node : nodes.LastOrDefault()?.Id ?? 0);
            case 3:
                return new CopyEquipment(node, other, $"C{step}", $"Copy {step}", step % 2 == 0);
            case 4:
                return new AddSeries(node, level, template, new("S {n}", $"S{step}x{{n}}", 1, 1, 1 + (step % 3), 1));
            case 5:
                return new SaveTemplate(null, $"T{step}", $"Template {step}", template, "");
            case 6:
                return step % 7 == 0 && list is not null
                    ? new SaveProperty(
                        template ?? 0,
                        null,
                        $"P{step}",
                        $"Property {step}",
                        PropertyKind.Measured,
                        PropertyType.State,
                        new() { StateListId = list.Id }
                    )
                    : new SaveProperty(
                        template ?? 0,
                        null,
                        $"P{step}",
                        $"Property {step}",
                        (PropertyKind)(step / 5 % 5),
                        PropertyType.Number,
                        new()
                        {
                            Range = new(0, 1 + (step % 9)),
                            ScaleId = step % 11 == 0 ? scale?.Id : null,
                            Unit = step % 13 == 0 ? unit?.Code : null,
                        }
                    );
            case 7:
                return new SavePart(
                    template ?? 0,
                    null,
                    $"Part{step}",
                    "Part",
                    Of(model.Templates.Values.OrderBy(t => t.Id), 11)?.Id,
                    level,
                    1,
                    step % 2 == 0
                );
            case 8:
                return new AddParts([node]);
            case 9:
                return new SaveTag(
                    null,
                    model.Controllers.Keys.FirstOrDefault(),
                    $"tag{step}",
                    RegisterArea.HoldingRegister,
                    step % 65000,
                    RawType.Int16,
                    WordOrder.HighFirst,
                    ""
                );
            case 10:
                var instance = model.Equipment.GetValueOrDefault(node);
                var property = instance is null ? null : model.Index.PropertiesOf(instance).FirstOrDefault(p => p.TakesTag);
                return new Bind(node, property?.Id ?? 0, model.Tags.Keys.Order().LastOrDefault());
            case 11:
                var patched = model.Equipment.GetValueOrDefault(node) is { } own ? model.Index.PropertiesOf(own).FirstOrDefault() : null;
                return step % 3 == 0
                    ? new ChangeRecording([(node, patched?.Id ?? 0)], new() { KeepDays = 1 + step % 50, Deadband = 1 })
                    : new PatchProperty([node], patched?.Id ?? 0, new() { Description = $"step {step}" }, []);
            case 12:
                return new RemoveTemplate(template ?? 0, step % 5 == 0);
            default:
                return model.Equipment.TryGetValue(node, out var was)
                    ? new SaveEquipment(node, $"R{step}", $"Renamed {step}", was.Level, was.ParentId, was.TemplateId)
                    : new RemoveEquipment(node);
        }
    }
}
