using System.Diagnostics;
using System.Globalization;
using Fralto.Core.Exchange;
using Fralto.Runtime.Listings;

namespace Fralto.Bench;

/// <summary>How fast a list of 100,000 rows is filtered and sorted.</summary>
internal static class ListsBench
{
    private const int Rows = 100_000;
    private const int Rounds = 9;

    public static void Run()
    {
        var random = new Random(7);
        var rows = Enumerable
            .Range(0, Rows)
            .Select(i => new Row(
                string.Create(CultureInfo.InvariantCulture, $"area{random.Next(20)}_KLN{random.Next(40)}_TT{random.Next(200)}.PV{i}"),
                random.Next(3) == 0 ? "int16" : "float32",
                random.NextDouble() * 1000,
                string.Create(CultureInfo.InvariantCulture, $"air temperature {random.Next(10_000)} °C")
            ))
            .ToArray();
        ListingColumn<Row>[] columns =
        [
            new("name", "Name", r => r.Name),
            new("kind", "Kind", r => r.Kind) { IsFacet = true, IsSearched = false },
            new("value", "Value", r => r.Value.ToString(CultureInfo.InvariantCulture)) { Number = r => r.Value, IsSearched = false },
            new("about", "About", r => r.About),
        ];
        var all = ListingQuery.All;
        Measure("filter 100,000 rows by a word, anew", () => ListingOrder.Of(rows, columns, all with { Filter = "tt17" }));
        Measure("sort them by number", () => ListingOrder.Of(rows, columns, all with { Sort = "value" }));
        Measure("sort them by name, anew", () => ListingOrder.Of(rows, columns, all with { Sort = "name" }));
        var cache = new ListingCache();
        Measure("filter them by a word, with their texts kept", () => ListingOrder.Of(rows, columns, all with { Filter = "tt17" }, cache));
        Measure("sort them by name, with the order kept", () => ListingOrder.Of(rows, columns, all with { Sort = "name" }, cache));
        Measure("filter and sort them by name, with the order kept", () =>
            ListingOrder.Of(rows, columns, all with { Filter = "tt17", Sort = "name" }, cache)
        );
        Import();
    }

    private static void Import()
    {
        var model = HugePlant.Make();
        var nodes = model.Index.EquipmentInOrder;
        var labels = new Table(["path", "label", "labelValue"], [.. nodes.Select(e => new[] { model.Index.PathOf(e.Id), "owner", "a" })]);
        var settings = new Table(
            ["path", "property", "rangeLow", "rangeHigh"],
            [
                .. nodes
                    .Where(e => e.TemplateId is not null)
                    .Select(e => new[] { model.Index.PathOf(e.Id), model.Index.PropertiesOf(e).First(p => p.TakesTag).Code, "0", "140" }),
            ]
        );
        foreach (var (kind, table) in new[] { (TableKind.Labels, labels), (TableKind.Settings, settings) })
        {
            var begun = Stopwatch.GetTimestamp();
            var result = new ImportTable(kind, table).Preview(model);
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"figure: look at {table.Rows.Count} rows of {ImportTable.NameOf(kind)} = "
                        + $"{Stopwatch.GetElapsedTime(begun).TotalSeconds:0.0} s (aim 10), "
                        + $"{result.Changed + result.Added} would do something"
                )
            );
        }
    }

    private static void Measure(string what, Action act)
    {
        act();
        var times = Enumerable
            .Range(0, Rounds)
            .Select(_ =>
            {
                var begun = Stopwatch.GetTimestamp();
                act();
                return Stopwatch.GetElapsedTime(begun).TotalMilliseconds;
            })
            .Order()
            .ToArray();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"figure: {what} = {times[Rounds / 2]:0.#} ms (aim 50)"));
    }

    private sealed record Row(string Name, string Kind, double Value, string About);
}
