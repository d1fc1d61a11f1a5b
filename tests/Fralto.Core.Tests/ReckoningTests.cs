using Fralto.Bench.Naming;
using Fralto.Core.Basics;

namespace Fralto.Core.Tests;

/// <summary>What places in an array and reckoned numbers tell, as plants drawn by chance are judged by: asked by trying every way of
/// reckoning.</summary>
public sealed class ReckoningTests
{
    private readonly NamedPlant _plant = new();

    public ReckoningTests()
    {
        _plant.Kind("Pump");
        for (var n = 1; n <= 3; n++)
            _plant.Place($"P{n}", $"Pump {n}", EquipmentLevel.Unit, "Quay", "Pump");
    }

    /// <summary>Pump 1 is P[10]. P[12] may be that of pump 2 or of pump 3, unless P[14] is there as well; with P[11] it may be
    /// again.</summary>
    [Theory]
    [InlineData(new[] { 10, 12 }, false)]
    [InlineData(new[] { 10, 12, 13 }, false)]
    [InlineData(new[] { 10, 12, 13, 14 }, true)]
    [InlineData(new[] { 10, 11, 12, 13, 14 }, false)]
    public void A_place_is_told_where_one_way_of_counting_names_most(int[] places, bool isTold)
    {
        foreach (var place in places)
            _plant.Tag($"P[{place}]");
        var builder = _plant.Builder;
        var truth = new Dictionary<(long, long), long>();
        foreach (var n in new[] { 1, 2, 3 })
            if (places.Contains(8 + 2 * n))
                truth[(builder[$"P{n}"], builder["PumpFlow"])] = builder[$"plc P[{8 + 2 * n}]"];
        var told = Reckoning.ByPlace(new("", builder.Model, truth), builder.Model.Equipment[builder["P1"]], 2).Told(truth.Keys);
        told.Contains((builder["P2"], builder["PumpFlow"])).ShouldBe(isTold);
    }

    /// <summary>Pump 1 is called 21: one other tag may be any pump's, and a third says whose both are.</summary>
    [Theory]
    [InlineData(new[] { 21, 23 }, false)]
    [InlineData(new[] { 21, 22, 23 }, true)]
    public void A_number_that_is_reckoned_is_told_where_one_way_names_most(int[] numbers, bool isTold)
    {
        foreach (var number in numbers)
            _plant.Tag($"P{number}-FLOW");
        var builder = _plant.Builder;
        var truth = numbers.ToDictionary(n => (builder[$"P{n - 20}"], builder["PumpFlow"]), n => builder[$"plc P{n}-FLOW"]);
        var told = new Reckoning(
            new("", builder.Model, truth),
            builder.Model.Equipment[builder["P1"]],
            (_, _) => ("P", "-FLOW"),
            1,
            byNumber: true
        ).Told(truth.Keys);
        told.Contains((builder["P3"], builder["PumpFlow"])).ShouldBe(isTold);
    }

    /// <summary>Of the cells that only a place tells, on plants drawn by chance, some have another way of counting and most have
    /// none.</summary>
    [Fact]
    public void Of_what_is_counted_most_is_told_and_some_is_not()
    {
        var (told, counted) = (0, 0);
        for (var seed = 70_000; seed < 70_040; seed++)
        {
            var drawn = GrammarPlant.Make(seed);
            var lesson = Lesson.Of(drawn.Plant, seed);
            var its = drawn.ToldBy(lesson.Shown);
            var index = drawn.Plant.Model.Index;
            var ways = lesson
                .Shown.Select(e => (e.TemplateId, Site: index.LineageOf(e.Id)[1].Id, Way: WayOf(e.Id)))
                .Where(w => w.Way?.Counts == true)
                .ToHashSet();
            var cells = drawn
                .Conventions.Keys.Select(c => (Cell: c, Unit: drawn.Plant.Model.Equipment[c.EquipmentId]))
                .Where(c => ways.Contains((c.Unit.TemplateId, index.LineageOf(c.Unit.Id)[1].Id, drawn.Conventions[c.Cell])))
                .Select(c => c.Cell)
                .ToArray();
            Convention? WayOf(long unit) => drawn.Conventions.Where(c => c.Key.EquipmentId == unit).Select(c => c.Value).FirstOrDefault();
            (told, counted) = (told + cells.Count(its.Contains), counted + cells.Length);
        }
        told.ShouldBeInRange(counted / 2, counted - counted / 100);
    }
}
