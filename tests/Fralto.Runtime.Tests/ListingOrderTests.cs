using System.Diagnostics;
using System.Globalization;
using Fralto.Runtime.Listings;

namespace Fralto.Runtime.Tests;

/// <summary>Filtering and sorting of lists, against the plain way of doing it.</summary>
public sealed class ListingOrderTests
{
    private static readonly string[] Kinds = ["int16", "float32", "bool"];

    private static readonly ListingColumn<Row>[] Columns =
    [
        new("name", "Name", r => r.Name),
        new("kind", "Kind", r => r.Kind) { IsFacet = true, IsSearched = false },
        new("use", "Use", r => r.IsUsed ? "used" : "unused") { IsFacet = true, IsSearched = false },
        new("value", "Value", r => r.Value.ToString("R", CultureInfo.InvariantCulture)) { Number = r => r.Value, IsSearched = false },
        new("about", "About", r => r.About),
        new("acts", "", _ => "") { IsUnsorted = true },
    ];

    [Fact]
    public void Any_filter_facet_and_sorting_gives_what_doing_it_plainly_gives()
    {
        var random = new Random(5);
        var rows = Rows(random, 400);
        var cache = new ListingCache();
        foreach (var _ in Enumerable.Range(0, 300))
        {
            var query = new ListingQuery(
                random.Next(3) switch
                {
                    0 => "",
                    1 => $"t{random.Next(9)}",
                    _ => $"AIR {random.Next(9)}",
                },
                new[] { null, "name", "kind", "use", "value", "about", "acts", "none" }[random.Next(8)],
                random.Next(2) == 0,
                random.Next(3) switch
                {
                    0 => ListingQuery.All.Facets,
                    1 => ListingQuery.All.Facets.Add("kind", Kinds[random.Next(3)]),
                    _ => ListingQuery.All.Facets.Add("kind", Kinds[random.Next(3)]).Add("use", "used"),
                }
            );
            var order = ListingOrder.Of(rows, Columns, query, random.Next(2) == 0 ? cache : null);

            bool Has(Row r, string? without = null) =>
                query.Words.All(w =>
                    r.Name.Contains(w, StringComparison.OrdinalIgnoreCase) || r.About.Contains(w, StringComparison.OrdinalIgnoreCase)
                ) && query.Facets.All(f => f.Key == without || Columns.First(c => c.Key == f.Key).Text(r) == f.Value);
            var expected = Enumerable.Range(0, rows.Length).Where(i => Has(rows[i])).ToArray();
            order.Rows.Order().ShouldBe(expected);
            foreach (var facet in order.Facets)
                facet.Values.Sum(v => v.Count).ShouldBe(rows.Count(r => Has(r, facet.Key)));
            if (query.Sort is "value")
            {
                var values = order.Rows.Select(i => rows[i].Value).ToArray();
                values.SkipWhile(v => !double.IsNaN(v)).ShouldAllBe(v => double.IsNaN(v), "what is no number comes last, either way");
                var numbers = values.TakeWhile(v => !double.IsNaN(v)).ToArray();
                numbers.ShouldBe(query.IsDescending ? numbers.OrderByDescending(v => v) : numbers.Order());
            }
            else if (query.Sort is "name" or "kind" or "use" or "about")
            {
                var text = Columns.First(c => c.Key == query.Sort).Text;
                var texts = order.Rows.Select(i => text(rows[i])).ToArray();
                for (var i = 1; i < texts.Length; i++)
                    (Core.Basics.NaturalOrder.Compare(texts[i - 1], texts[i]) * (query.IsDescending ? -1 : 1)).ShouldBeLessThanOrEqualTo(0);
            }
            else
                order.Rows.ShouldBe(expected, "without a column to sort by, rows come as they are");
        }
    }

    [Fact]
    public void A_hundred_thousand_rows_are_filtered_and_sorted_within_the_blink_of_a_key()
    {
        var rows = Rows(new(7), 100_000);
        var cache = new ListingCache();
        foreach (var sort in new[] { "name", "value", "about" })
        {
            var query = new ListingQuery("t1", sort, true, ListingQuery.All.Facets);
            var all = ListingQuery.All with { Sort = sort };
            // The best of several: other tests run beside this one. The aim is 50 ms; a machine that is busy has ten times that.
            var best = Enumerable
                .Range(0, 5)
                .Select(_ =>
                {
                    var begun = Stopwatch.GetTimestamp();
                    ListingOrder.Of(rows, Columns, query, cache).Rows.Length.ShouldBeGreaterThan(1000);
                    ListingOrder.Of(rows, Columns, all, cache).Rows.Length.ShouldBe(rows.Length);
                    return Stopwatch.GetElapsedTime(begun) / 2;
                })
                .Min();
            TestContext.Current.TestOutputHelper?.WriteLine($"{sort}: {best.TotalMilliseconds:0} ms");
            best.ShouldBeLessThan(TimeSpan.FromMilliseconds(500), sort);
        }
    }

    private static Row[] Rows(Random random, int count) =>
        [
            .. Enumerable
                .Range(0, count)
                .Select(i => new Row(
                    $"area{random.Next(20)}_KLN{random.Next(40)}_TT{random.Next(200)}.PV{i}",
                    Kinds[random.Next(3)],
                    random.Next(2) == 0,
                    random.Next(20) == 0 ? double.NaN : random.NextDouble() * 1000,
                    $"air temperature {random.Next(10_000)} °C"
                )),
        ];

    private sealed record Row(string Name, string Kind, bool IsUsed, double Value, string About);
}
