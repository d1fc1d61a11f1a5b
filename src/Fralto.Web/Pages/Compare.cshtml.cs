using Fralto.Core.Hierarchy;
using Fralto.Core.Pictures;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Runtime.Recording;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>One property of all instances of a template: on one ruler, and as small curves beside one another, the odd ones
/// first.</summary>
public sealed class CompareModel(Trends trends) : FraltoPage
{
    private const int MostInstances = 200;
    private const int SparkWidth = 200;

    private IReadOnlyList<Row>? _rows;

    /// <inheritdoc/>
    protected override bool ShowsReleased => true;

    /// <summary>The template.</summary>
    [BindProperty(SupportsGet = true, Name = "template")]
    public long? Template { get; set; }

    /// <summary>The property.</summary>
    [BindProperty(SupportsGet = true, Name = "p")]
    public long? P { get; set; }

    /// <summary>How long the small curves are, in seconds.</summary>
    [BindProperty(SupportsGet = true, Name = "for")]
    public double? For { get; set; }

    /// <summary>When the time ends, as a local time; null for now. What has ended is compared by its mean.</summary>
    [BindProperty(SupportsGet = true, Name = "until")]
    public string? Until { get; set; }

    private long? End =>
        DateTime.TryParse(
            Until,
            System.Globalization.CultureInfo.InvariantCulture,
            System.Globalization.DateTimeStyles.AssumeLocal,
            out var at
        )
        && at.ToUniversalTime().Ticks is var ticks
        && ticks < trends.Now
            ? ticks
            : null;

    /// <summary>True where means of the time are compared.</summary>
    public bool IsMean => Of == "mean" || End is not null;

    /// <summary>odd, value or place.</summary>
    [BindProperty(SupportsGet = true, Name = "by")]
    public string By { get; set; } = "odd";

    /// <summary>mean compares the mean of the time, now the values of now.</summary>
    [BindProperty(SupportsGet = true, Name = "of")]
    public string Of { get; set; } = "now";

    /// <summary>Templates with two instances and more.</summary>
    public IEnumerable<Template> Templates =>
        Model.Templates.Values.Where(t => Model.Index.InstanceCountOf(t.Id) > 1).OrderBy(t => t.Name, StringComparer.Ordinal);

    /// <summary>Properties of the template that are numbers.</summary>
    public IEnumerable<ResolvedProperty> Properties =>
        Template is { } id && Model.Templates.ContainsKey(id)
            ? Model.Index.PropertiesOf(id).Where(p => p.Declaration.Type.IsNumeric() && p.Declaration.Kind != PropertyKind.Fixed)
            : [];

    /// <summary>The property.</summary>
    public ResolvedProperty? Property => Properties.FirstOrDefault(p => p.Id == P);

    /// <summary>Instances with their value and curve.</summary>
    public IReadOnlyList<Row> Rows => _rows ??= MakeRows();

    /// <summary>The axis all share.</summary>
    public Span Axis { get; private set; }

    /// <summary>How long the small curves are.</summary>
    public double Seconds => For is > 0 and < 400_000_000 ? For.Value : 3600;

    public IActionResult OnGet(bool plot = false)
    {
        Template ??= Templates.OrderByDescending(t => Model.Index.InstanceCountOf(t.Id)).FirstOrDefault()?.Id;
        P = Properties.Any(p => p.Id == P) ? P : Properties.FirstOrDefault()?.Id;
        return plot ? Partial("_CompareBody", this) : Page();
    }

    private Row[] MakeRows()
    {
        if (Property is not { } property)
            return [];
        var (plan, to) = (Snapshot.Plan, End ?? trends.Now);
        var from = to - (long)(Seconds * TimeSpan.TicksPerSecond);
        var instances = Model.Index.InstancesOf(Template!.Value).Take(MostInstances).ToArray();
        var lines = Trends.Lines(Model, plan, instances.Select(e => (e.Id, property.Id)));
        var found = new List<(Equipment Node, TrendLine Line, Core.History.Rollup[] Stretches, double Value)>();
        foreach (var (node, line) in instances.Zip(lines))
        {
            var stretches = trends.Stretches(line, from, to, SparkWidth);
            var now = Snapshot.Find(node.Id, property.Id)?.Value;
            var value =
                IsMean ? (stretches.Length == 0 ? double.NaN : Core.History.Rollup.Together(stretches, from).Mean)
                : now is { Status.IsBad: false } known ? known.Value
                : double.NaN;
            found.Add((node, line, stretches, value));
        }
        var range = Model.RangeOf(property.Facts);
        var wide = range is { IsUsable: true } r
            ? new Span(r.Minimum - Math.Abs(r.Width), r.Maximum + Math.Abs(r.Width))
            : new Span(double.MinValue, double.MaxValue);
        var spans = found
            .SelectMany(f => f.Stretches)
            .Where(s => s.HeldSeconds > 0 && double.IsFinite(s.Minimum))
            .Select(s => new Span(s.Minimum, s.Maximum))
            .Concat(found.Where(f => double.IsFinite(f.Value)).Select(f => new Span(f.Value, f.Value)))
            .Select(s => s.Within(wide));
        Axis = TrendCurve.AxisOf(spans, range);
        var scores = OddOnes.Scores([.. found.Select(f => f.Value)], Math.Abs(range?.Width ?? 0) * 0.01);
        var rows = found
            .Select(
                (f, i) =>
                    new Row(
                        f.Node,
                        f.Line,
                        TrendCurve.Of(f.Stretches, f.Stretches.Length, SparkWidth, Axis, Row.Height - 2, 2),
                        f.Value,
                        scores[i]
                    )
            )
            .ToArray();
        return By switch
        {
            "value" => [.. rows.OrderByDescending(r => double.IsFinite(r.Value)).ThenByDescending(r => r.Value)],
            "place" => rows,
            _ => [.. rows.OrderByDescending(r => !double.IsFinite(r.Value)).ThenByDescending(r => r.Score)],
        };
    }

    /// <summary>An instance among its neighbours.</summary>
    /// <param name="Node">The instance.</param>
    /// <param name="Line">Its line.</param>
    /// <param name="Curve">Its curve.</param>
    /// <param name="Value">The value that is compared; not-a-number for none.</param>
    /// <param name="Score">How far out it lies.</param>
    public sealed record Row(Equipment Node, TrendLine Line, TrendCurve Curve, double Value, double Score)
    {
        /// <summary>Height of a small curve.</summary>
        public const double Height = 44;

        /// <summary>True where it stands out.</summary>
        public bool IsOdd => Score > OddOnes.Odd;
    }
}
