using CsCheck;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Modbus;
using Fralto.Core.NamingRules;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Whatever sequence of edits a person makes: what must hold then.</summary>
public sealed class RandomEditTests
{
    private static readonly Gen<int[]> Steps = Gen.Int[0, 1_000_000].Array[1, 40];

    [Fact]
    public void Look_ups_carried_over_are_those_built_anew() => Steps.Sample(steps =>
    {
        foreach (var model in Run(steps).Select(r => r.After))
        {
            var (carried, anew) = (model.Index, (model with { }).Index);
            carried.EquipmentInOrder.ShouldBe(anew.EquipmentInOrder);
            carried.Below(null).Count.ShouldBe(model.Equipment.Count);
            carried.Below(long.MaxValue).Select(e => e.Id).ShouldBeEmpty();
            foreach (var node in model.Equipment.Values)
            {
                carried.ChildrenOf(node.Id).ShouldBe(anew.ChildrenOf(node.Id));
                carried.Below(node.Id).ShouldBe(anew.Below(node.Id));
                carried.TaggedBelow(node.Id).ShouldBe(anew.TaggedBelow(node.Id));
                carried.PathOf(node.Id).ShouldBe(anew.PathOf(node.Id));
                carried.PropertiesOf(node).Select(p => p.Facts).ShouldBe(anew.PropertiesOf(node).Select(p => p.Facts));
            }
            foreach (var template in model.Templates.Keys)
            {
                carried.InstancesOf(template).ShouldBe(anew.InstancesOf(template));
                carried.TemplatesBelow(template).ShouldBe(anew.TemplatesBelow(template));
            }
            foreach (var controller in model.Controllers.Keys) carried.TagsOf(controller).ShouldBe(anew.TagsOf(controller));
            carried.Simulations.ShouldBe(anew.Simulations);
            foreach (var tag in model.Tags.Keys) carried.BindingsOf(tag).ShouldBe(anew.BindingsOf(tag), ignoreOrder: true);
        }
    }, iter: 150);

    [Fact]
    public void An_edit_and_its_inverse_leave_the_model_as_it_was() => Steps.Sample(steps =>
    {
        foreach (var (before, outcome, after) in Run(steps))
        {
            var back = after.Apply(outcome.Inverse.ToArray());
            back.Equipment.ShouldBe(before.Equipment, ignoreOrder: true);
            back.Templates.ShouldBe(before.Templates, ignoreOrder: true);
            back.Bindings.ShouldBe(before.Bindings, ignoreOrder: true);
            back.Tags.ShouldBe(before.Tags, ignoreOrder: true);
            back.Layouts.ShouldBe(before.Layouts, ignoreOrder: true);
            back.Devices.ShouldBe(before.Devices, ignoreOrder: true);
            back.Controllers.ShouldBe(before.Controllers, ignoreOrder: true);
        }
    }, iter: 150);

    [Fact]
    public void Looking_at_what_changes_touch_finds_trouble_exactly_when_looking_at_all_does() => Steps.Sample(steps =>
    {
        var runs = Run(steps).ToArray();
        var last = runs[^1].After;
        foreach (var inverse in runs.Select(r => r.Outcome.Inverse.ToArray()).Where(i => i.All(c => Equals(last.Current((c.Before ?? c.After)!), c.Before))))
        {
            var back = last.Apply(inverse);
            Integrity.Problems(back, inverse).Any().ShouldBe(Integrity.Problems(back).Any());
        }
    }, iter: 150);

    [Fact]
    public void Every_edit_leaves_a_whole_model_that_compiles() => Steps.Sample(steps =>
    {
        var last = Run(steps).Last().After;
        Integrity.Problems(last).ShouldBeEmpty();
        Planner.Compile(last).Plan.Points.Length.ShouldBe(last.Bindings.Count);
    }, iter: 150);

    [Fact]
    public void Given_out_and_taken_in_changes_nothing() => Steps.Sample(steps =>
    {
        var model = Run(steps).Last().After;
        var bytes = ModelFormat.Write(model);
        var outcome = new ReplaceModel(ModelFormat.Read(bytes, out _)!).On(model);
        outcome.Problems.ShouldBeEmpty();
        outcome.Changes.ShouldBeEmpty();
        var empty = new ReplaceModel(ModelFormat.Read(bytes, out _)!).On(PlantModel.Empty);
        empty.Problems.ShouldBeEmpty();
        ModelFormat.Write(PlantModel.Empty.Apply(empty.Changes)).ShouldBe(bytes);
        foreach (var kind in Enum.GetValues<TableKind>())
        {
            var preview = new ImportTable(kind, ImportTable.Of(model, kind)).Preview(model);
            preview.Lines.ShouldBeEmpty();
            preview.Changes.ShouldBeEmpty();
        }
    }, iter: 150);

    /// <summary>Makes the edits that numbers stand for, passing over those that are refused.</summary>
    private static IEnumerable<(PlantModel Before, EditOutcome Outcome, PlantModel After)> Run(int[] steps)
    {
        var model = PlantBuilder.Kiln().Model;
        yield return (model, EditOutcome.Changed("begin"), model);
        foreach (var step in steps)
        {
            var outcome = EditOf(model, step).On(model);
            if (outcome.IsRefused) continue;
            var next = model.Apply(outcome.Changes);
            yield return (model, outcome, next);
            model = next;
        }
    }

    private static Edit EditOf(PlantModel model, int step)
    {
        T? Of<T>(IEnumerable<T> all, int salt) => all.ElementAtOrDefault((step / salt) % Math.Max(1, all.Count()));
        var nodes = model.Equipment.Values.OrderBy(e => e.Id).ToArray();
        var node = nodes.Length == 0 ? 0 : Of(nodes, 14)!.Id;
        var other = nodes.Length == 0 ? 0 : Of(nodes, 97)!.Id;
        var template = Of(model.Templates.Values.OrderBy(t => t.Id), 31)?.Id;
        var level = Of(LevelRules.FromTheTop, 53);
        var (controller, layout, device) = (model.Controllers.Keys.Order().FirstOrDefault(), Of(model.Layouts.Values.OrderBy(l => l.Id), 23), Of(model.Devices.Values.OrderBy(d => d.Id), 41));
        static LayoutPoint Point(int i) => new(0, $"P{i}", RegisterArea.HoldingRegister, i, null, RawType.Int16, WordOrder.HighFirst);
        var cells = model.Bindings.Keys.OrderBy(k => k.EquipmentId).ThenBy(k => k.PropertyId).ToArray();
        var (cell, tag) = (Of(cells, 19), Of(model.Tags.Values.OrderBy(t => t.Id), 29)?.Id ?? 0);
        var takes = model.Equipment.Values.OrderBy(e => e.Id).SelectMany(e => model.Index.PropertiesOf(e).Where(p => p.TakesTag).Select(p => (e.Id, p.Id))).ToArray();
        switch (step % 25)
        {
            case 19: return new BindMany([.. takes.Skip(step % 3).Take(2).Select((c, i) => new BindingLine(c.Item1, c.Item2, Of(model.Tags.Values.OrderBy(t => t.Id), 7 + i)?.Id ?? 0))], step % 2 == 0);
            case 20: return new SwapBindings(cell, Of(takes, 43));
            case 21: return new RefuseTags([new(node, Of(takes, 17).Item2, tag)], step % 4 == 0);
            case 22: return new KeepRule(template ?? 0, Of(takes, 13).Item2, (TagFace)(step % 3), step % 5 == 0 ? "" : $"T{{number*{1 + step % 9}}}");
            case 23: return new MarkChecked([cell], step % 3 == 0 ? null : new("somebody", new DateTimeOffset(2026, 6, 1, 0, 0, step % 60, TimeSpan.Zero)));
            case 24: return new UnbindMany([cell, Of(cells, 3)]);
            case 14: return new SaveLayout(step % 2 == 0 ? layout?.Id : null, step % 2 == 0 && layout is not null ? layout.Code : $"L{step}", "Layout", "_", [.. Enumerable.Range(step % 5, 1 + (step % 3)).Select(Point)]);
            case 15: return new AddDevices(controller, layout?.Id ?? 0, $"D{step}x{{n}}", 1, 1 + (step % 3), step % 60_000, 10);
            case 16: return step % 2 == 0 ? new RemoveDevice(device?.Id ?? 0) : new SaveDevice(device?.Id ?? 0, $"E{step}", step % 60_000, 0, step % 7);
            case 17: return new Simulate([.. model.Bindings.Keys.OrderBy(k => k.EquipmentId).Take(1 + (step % 2))], step % 3 == 0 ? null : SimulationShape.Ramp);
            case 18: return new SaveController(controller, "plc", new ModbusConnection("h", 502, 1 + (step % 200)), 500, [new($"class{step % 3}", TimeSpan.FromSeconds(5))]);
            case 0: return new SaveEquipment(null, $"N{step}", $"Node {step}", level, node, step % 3 == 0 ? template : null, Labels.None.Add("step", $"{step}"));
            case 1: return new MoveEquipment(node, other);
            case 2: return new RemoveEquipment(step % 3 == 0 ? node : nodes.LastOrDefault()?.Id ?? 0);
            case 3: return new CopyEquipment(node, other, $"C{step}", $"Copy {step}", step % 2 == 0);
            case 4: return new AddSeries(node, level, template, new("S {n}", $"S{step}x{{n}}", 1, 1, 1 + (step % 3), 1));
            case 5: return new SaveTemplate(null, $"T{step}", $"Template {step}", template, "");
            case 6: return new SaveProperty(template ?? 0, null, $"P{step}", $"Property {step}", (PropertyKind)(step / 5 % 5), PropertyType.Number, new() { Range = new(0, 1 + (step % 9)) });
            case 7: return new SavePart(template ?? 0, null, $"Part{step}", "Part", Of(model.Templates.Values.OrderBy(t => t.Id), 11)?.Id, level, 1, step % 2 == 0);
            case 8: return new AddParts([node]);
            case 9: return new SaveTag(null, model.Controllers.Keys.FirstOrDefault(), $"tag{step}", RegisterArea.HoldingRegister, step % 65000, RawType.Int16, WordOrder.HighFirst, "");
            case 10:
                var instance = model.Equipment.GetValueOrDefault(node);
                var property = instance is null ? null : model.Index.PropertiesOf(instance).FirstOrDefault(p => p.TakesTag);
                return new Bind(node, property?.Id ?? 0, model.Tags.Keys.Order().LastOrDefault());
            case 11:
                var patched = model.Equipment.GetValueOrDefault(node) is { } own ? model.Index.PropertiesOf(own).FirstOrDefault() : null;
                return new PatchProperty([node], patched?.Id ?? 0, new() { Description = $"step {step}" }, []);
            case 12: return new RemoveTemplate(template ?? 0, step % 5 == 0);
            default: return model.Equipment.TryGetValue(node, out var was) ? new SaveEquipment(node, $"R{step}", $"Renamed {step}", was.Level, was.ParentId, was.TemplateId) : new RemoveEquipment(node);
        }
    }
}
