using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Modbus;
using Fralto.Core.Proposals;
using Fralto.Core.Scaling;
using Fralto.Runtime.Views;

namespace Fralto.Runtime.Tests;

/// <summary>What pages show, asked without a page.</summary>
public sealed class ViewTests : IAsyncLifetime
{
    private readonly Plant _plant = new();
    private readonly ProposalMemory _memory = new();
    private ProposalCache _proposals = null!;

    private long Kiln => _plant.Model.Templates.Keys.Single();

    private long AirOn => _plant.Model.Templates.Values.Single().Properties.Single().Id;

    public ValueTask InitializeAsync()
    {
        _proposals = new(_plant.Runtime, _plant.Clock, _memory);
        return ValueTask.CompletedTask;
    }

    public ValueTask DisposeAsync() => _plant.DisposeAsync();

    [Fact]
    public void A_matrix_comes_in_windows_and_what_is_asked_for_beyond_them_is_held_within()
    {
        Series(250);
        var view = Matrix(new() { Window = 3 });
        (view.TemplateId, view.Instances, view.Windows, view.Window).ShouldBe((Kiln, 252, 3, 3));
        view.Sections.Single().Rows.Sum(g => g.Count()).ShouldBe(52);
        (Matrix(new() { Window = 99 }).Window, Matrix(new() { Window = -1 }).Window).ShouldBe((3, 1));
        var open = Matrix(new() { OnlyOpen = true });
        (open.Instances, open.Sections.Single().Rows.SelectMany(g => g).Any(e => e.Code is "K1" or "K2")).ShouldBe((250, false));
    }

    [Fact]
    public void What_is_no_longer_there_shows_what_is()
    {
        var view = Matrix(
            new()
            {
                TemplateId = 999_999,
                PlaceId = 999_999,
                Cell = (999_999, AirOn),
                Mark = (1, 1),
            }
        );
        (view.TemplateId, view.PlaceId, view.At, view.Marked).ShouldBe((Kiln, null, null, null));
        TemplateView.Of(_plant.Model, 999_999, null, false, false).Selected.ShouldBeNull();
        PlantView.Of(_plant.Model, _plant.Runtime.Snapshot, 999_999, "1,x,,-4", 5, false).Selected.ShouldBeNull();
        LiveView.Of(_plant.Model, _plant.Runtime.Snapshot, 999_999, null).ShouldBeNull();
        ControllerView.Of(_plant.Model, _plant.Runtime, 999_999).Selected.ShouldBeNull();
    }

    [Fact]
    public void Only_what_was_shown_and_still_is_proposed_is_accepted()
    {
        Series(4);
        foreach (var n in Enumerable.Range(3, 4))
            _plant.Do(m => new SaveTag(
                null,
                Plant.Of(m, "one"),
                $"T{n}",
                RegisterArea.InputRegister,
                n,
                RawType.Int16,
                WordOrder.HighFirst,
                ""
            ));
        var view = Matrix(new());
        view.Ready.Count.ShouldBe(4);
        var shown = view.ReadyText(null);
        var first = view.Ready[0];
        _plant.Do(_ => new Bind(first.EquipmentId, first.PropertyId, first.TagId!.Value, null, false));
        var (lines, left) = Matrix(new()).Accepted(shown, null, null, everywhere: false);
        (lines.Length, left, lines.Any(l => l.EquipmentId == first.EquipmentId)).ShouldBe((3, 1, false));
        Matrix(new()).Accepted("", null, null, everywhere: false).Lines.ShouldBeEmpty("nothing was shown");
        Matrix(new()).Accepted("", null, null, everywhere: true).Lines.Length.ShouldBe(3);
    }

    [Fact]
    public void A_typed_text_means_the_tag_of_that_name_or_the_only_one_that_matches()
    {
        _plant.Do(m => new SaveTag(null, Plant.Of(m, "one"), "T10", RegisterArea.InputRegister, 9, RawType.Int16, WordOrder.HighFirst, ""));
        Matrix(new() { Filter = "t1" }).MeantTag.ShouldNotBeNull().Name.ShouldBe("T1");
        Matrix(new() { Filter = "10" }).MeantTag.ShouldNotBeNull().Name.ShouldBe("T10");
        Matrix(new() { Filter = "t" }).MeantTag.ShouldBeNull();
        Matrix(new() { Filter = "none" }).MeantTag.ShouldBeNull();
        var used = _plant.Model.Tags.Values.Single(t => t.Name == "T1");
        Matrix(new()).MisfitsOf(used)[AirOn].ShouldBe("", "its bits may feed others");
        _plant.Do(m => new SaveTag(
            null,
            Plant.Of(m, "one"),
            "F",
            RegisterArea.InputRegister,
            20,
            RawType.Float32,
            WordOrder.HighFirst,
            ""
        ));
        _plant.Do(m => new Bind(
            m.Equipment.Values.Single(e => e.Code == "K1").Id,
            AirOn,
            m.Tags.Values.Single(t => t.Name == "F").Id,
            null,
            false
        ));
        Matrix(new()).MisfitsOf(_plant.Model.Tags.Values.Single(t => t.Name == "F"))[AirOn].ShouldBe("F already feeds C/K1.");
    }

    [Fact]
    public async Task A_place_counts_what_lies_below_it_and_says_what_to_do_next()
    {
        await _plant.BegunAsync();
        Series(3);
        _plant.Pass(1);
        var place = _plant.Model.Equipment.Values.Single(e => e.Code == "C");
        PlaceView Look(DoubtState known) =>
            PlaceView.Of(
                _plant.Model,
                _plant.Runtime.Snapshot,
                id => _plant.Runtime.Links.StatusOf(id)?.State,
                known,
                _plant.Trends,
                place
            );
        var view = Look(DoubtState.None);
        (view.Total.Equipment, view.Total.Bound, view.Total.Takes, view.Total.Open).ShouldBe((5, 2, 5, 3));
        view.Rows.Select(r => r.Node.Code).ShouldBe(["K1", "K2", "K3", "K4", "K5"]);
        view.Rows.Sum(r => r.Bound).ShouldBe(view.Total.Bound);
        view.Rows[0].FedBy.Select(c => c.Name).ShouldBe(["one"]);
        view.Rows[2].FedBy.ShouldBeEmpty();
        view.Unfinished.ShouldBe("3 of 5 not bound");
        (view.Total.Doubts, view.Odd).ShouldBe((null, "Being looked at"), "what is not known is not said to be fine");
        view.Tasks.ShouldContain(t => t.Address.StartsWith("/bindings?place=", StringComparison.Ordinal));
        var kiln = _plant.Model.Equipment.Values.Single(e => e.Code == "K1").Id;
        var doubted = Look(
            new(
                _plant.Model,
                new Dictionary<(long, long), BindingDoubt[]>
                {
                    [(kiln, AirOn)] = [new(kiln, AirOn, DoubtKind.Name, "odd")],
                    [(kiln, 999_999)] = [new(kiln, 999_999, DoubtKind.Name, "of a binding that has gone")],
                },
                Plant.Noon,
                false
            )
        );
        (doubted.Total.Doubts, doubted.Rows[0].Doubts, doubted.Rows[1].Doubts).ShouldBe((1, 1, 0));
        doubted.Tasks.ShouldContain(t => t.What == "1 binding looks wrong");
        doubted.Tasks.Count.ShouldBeLessThanOrEqualTo(3);
    }

    [Fact]
    public void Selected_nodes_are_those_that_are_there_and_each_once()
    {
        long Id(string code) => _plant.Model.Equipment.Values.Single(e => e.Code == code).Id;
        var view = PlantView.Of(_plant.Model, _plant.Runtime.Snapshot, Id("K1"), $"{Id("K2")},{Id("K1")},x,999999,{Id("K2")}", null, false);
        view.Many.Select(e => e.Code).ShouldBe(["K1", "K2"]);
        view.Columns.Single().Nodes.Select(e => e.Code).ShouldBe(["K1", "K2"]);
        view.Alike.Single().Code.ShouldBe("K2");
        view.BoundBelow(Id("C")).ShouldBe((2, 2));
    }

    private MatrixView Matrix(MatrixQuestion question) =>
        MatrixView.Of(_plant.Model, question with { Threshold = ProposalQuestion.DefaultThreshold }, _proposals, _memory);

    private void Series(int count) =>
        _plant.Do(m => new AddSeries(
            m.Equipment.Values.Single(e => e.Code == "C").Id,
            EquipmentLevel.Unit,
            Kiln,
            new("Kiln {n}", "K{n}", 3, 1, count, 1)
        ));
}
