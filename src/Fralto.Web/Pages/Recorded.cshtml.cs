using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Recording;
using Fralto.Runtime.Recording;
using Fralto.Store;
using Fralto.Web.Forms;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>Everything that is recorded: how, how much of it there is, and what is done with all that is filtered.</summary>
public sealed class RecordedModel(HistoryRecorder recorder, History history, HistoryStore store, TimeProvider clock) : FraltoPage
{
    /// <summary>How many rows are shown.</summary>
    public const int Most = 200;

    private const int LongestCsv = 900_000;
    private const int MostShown = 5;

    private IReadOnlyList<Row>? _rows;

    /// <inheritdoc/>
    protected override bool ShowsReleased => true;

    /// <summary>Words of the path.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Words { get; set; }

    /// <summary>on, off, or empty for both.</summary>
    [BindProperty(SupportsGet = true, Name = "is")]
    public string? Is { get; set; }

    /// <summary>What the rows that fit are, the largest first.</summary>
    public IReadOnlyList<Row> Rows => _rows ??= MakeRows();

    /// <summary>How recording stands.</summary>
    public RecorderState Recorder => recorder.State;

    /// <summary>Chunks that were damaged when they were read since Fralto started.</summary>
    public long Damaged => history.Damaged;

    /// <summary>Bytes the history takes on disk.</summary>
    public long Bytes => store.Bytes;

    /// <summary>What handed-in values would do; null before anybody asked.</summary>
    public string? Preview { get; private set; }

    /// <summary>What another way of recording would do; null before anybody asked.</summary>
    public string? Effect { get; private set; }

    /// <summary>Switches recording of all that is filtered on or off: one edit, instance by instance.</summary>
    public IActionResult OnPostSwitch(bool off)
    {
        var rows = Rows.Where(r => r.Point.Recording is null != off).ToArray();
        if (rows.Length == 0)
            return Again("Nothing of what is filtered would change.");
        var words = $"Record {Properties(rows.Length)} {(off ? "no longer" : "again")}";
        return Do(EditOf(rows, new() { Off = off }, words), new FormReader(Request.Form), _ => Back(), Page);
    }

    /// <summary>Says how all that is filtered is recorded, or what that would do.</summary>
    /// <param name="take">True does it; else it is only said.</param>
    public IActionResult OnPostHow(bool take)
    {
        var reader = new FormReader(Request.Form);
        Form = reader.State();
        var edit = EditOf(Rows, FactFields.ReadRecording(reader, PropertyType.Number) ?? RecordingPatch.Empty);
        if (reader.HasProblems)
        {
            Form = reader.State();
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        if (take)
            return Do(edit, reader, _ => Back(), Page);
        var outcome = edit.On(Workspace.Model);
        if (outcome.IsRefused)
            return Again(string.Join(" ", outcome.Problems.Take(MostShown).Select(p => p.Message)));
        Effect =
            $"{outcome.Summary}, of {Rows.Count} that are filtered; {outcome.Changes.Length} instances say it themselves from then on.";
        return Page();
    }

    /// <summary>Forgets what is older than a day, or all of what is filtered.</summary>
    /// <param name="before">Days that stay; null takes all out.</param>
    public IActionResult OnPostClear(double? before, bool all)
    {
        if (!all && before is not (> 0 and < 100_000))
            return Again("Say how many days stay.");
        var time = clock.GetUtcNow().AddDays(-(before ?? 0));
        try
        {
            foreach (var row in Rows)
                if (all)
                    recorder.TakeOut(row.Point.EquipmentId, row.Point.PropertyId);
                else
                    recorder.Clear(row.Point.EquipmentId, row.Point.PropertyId, time);
        }
        catch (StoreException e)
        {
            return Again(e.Message);
        }
        Done = all
            ? $"The history of {Rows.Count} properties is taken out"
            : $"What is older than {before} days is taken out of {Rows.Count} properties";
        return Back();
    }

    /// <summary>Takes values of the past in, or says what that would do.</summary>
    /// <param name="path">The property.</param>
    /// <param name="values">A line each: time, value.</param>
    /// <param name="take">True takes them in; else it is only said.</param>
    public IActionResult OnPostEnter(string? path, string? values, bool take)
    {
        var reader = new FormReader(Request.Form);
        Form = reader.State();
        if (Api.HistoryApi.PointOf(Model, Snapshot.Plan, (path ?? "").Trim().Trim('/')) is not { } point)
            return Again("Give the path of a property that has values.");
        if (values is null || values.Length > LongestCsv)
            return Again($"Paste lines of time and value, at most {LongestCsv} characters.");
        var samples = HistoryText.Read(values, point, clock.GetUtcNow(), out var problems);
        if (problems.Count > 0)
            return Again(
                string.Join(" ", problems.Take(MostShown)) + (problems.Count > MostShown ? $" And {problems.Count - MostShown} more." : "")
            );
        if (samples.Count == 0)
            return Again("There is no line with a value.");
        var span =
            $"{samples.Count} values of {point.Path} from {samples.Min(s => s.At):yyyy-MM-dd HH:mm:ss} to "
            + $"{samples.Max(s => s.At):yyyy-MM-dd HH:mm:ss} UTC";
        if (!take)
        {
            Preview = $"This takes in {span}; what was recorded at the same moments gives way.";
            return Page();
        }
        try
        {
            recorder.Enter(point, samples, Actor.Name);
        }
        catch (StoreException e)
        {
            return Again(e.Message);
        }
        Done = $"Taken in: {span}";
        return Back();
    }

    private static ChangeRecording EditOf(IEnumerable<Row> rows, RecordingPatch says, string words = "") =>
        new([.. rows.Select(r => (r.Point.EquipmentId, r.Point.PropertyId))], says, words);

    private static string Properties(int count) => count == 1 ? "1 property" : $"{count} properties";

    private RedirectToPageResult Back() => RedirectToPage(new { q = Words, @is = Is });

    private PageResult Again(string problem)
    {
        Refusal = problem;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    private IReadOnlyList<Row> MakeRows()
    {
        var words = (Words ?? "").Split([' ', '/'], StringSplitOptions.RemoveEmptyEntries);
        var extents = store.Extents();
        return
        [
            .. Snapshot
                .Plan.Points.Take(Snapshot.Plan.Shown)
                .Where(p => p.Source != PointSource.Fixed)
                .Where(p => Is is null or "" || (Is == "off") == p.Recording is null)
                .Where(p => words.All(w => p.Path.Contains(w, StringComparison.OrdinalIgnoreCase)))
                .Select(p => new Row(p, extents.GetValueOrDefault(recorder.SeriesIdOf(p.EquipmentId, p.PropertyId))))
                .OrderByDescending(r => r.Bytes)
                .ThenBy(r => r.Point.Path, StringComparer.Ordinal),
        ];
    }

    /// <summary>A property that has values.</summary>
    /// <param name="Point">The point.</param>
    /// <param name="Extent">How much of it is kept in closed chunks; null for nothing.</param>
    public sealed record Row(PlanPoint Point, HistoryExtent? Extent)
    {
        /// <summary>Bytes it takes.</summary>
        public long Bytes => (Extent?.Bytes ?? 0) + (Extent?.RollupBytes ?? 0);

        /// <summary>Values a day; 0 while too few are known.</summary>
        public double PerDay =>
            Extent is { Count: > 1 } its && its.Last > its.First ? its.Count / ((its.Last - its.First) / (double)TimeSpan.TicksPerDay) : 0;

        /// <summary>How it is recorded, and what that means.</summary>
        public string How
        {
            get
            {
                if (Point.Recording is not { } rule)
                    return "not recorded";
                var how = new List<string>();
                if (rule.OnChange)
                    how.Add(
                        rule.Deadband > 0
                            ? string.Create(CultureInfo.InvariantCulture, $"moved by {rule.Deadband:0.####} {Point.Unit?.Symbol}").TrimEnd()
                            : "every change"
                    );
                if (rule.Every > 0)
                    how.Add(string.Create(CultureInfo.InvariantCulture, $"every {rule.Every:0.#} s"));
                if (rule.While is { } condition)
                    how.Add($"while {condition}");
                return string.Join(", ", how);
            }
        }

        /// <summary>How far back one will be able to look, and what it will take.</summary>
        public string Keeps =>
            Point.Recording is { } rule
                ? $"{Core.Pictures.TrendTime.Length(rule.Reach(PerDay) * 86_400)}"
                    + (
                        PerDay > 0 && Extent is { Count: > 0 } its
                            ? $", {Size(Bytes / (double)its.Count * PerDay * rule.Reach(PerDay))}"
                            : ""
                    )
                : "";

        /// <summary>Bytes as people say them.</summary>
        public static string Size(double bytes) =>
            bytes < 1e4 ? string.Create(CultureInfo.InvariantCulture, $"{bytes:0} B")
            : bytes < 1e6 ? string.Create(CultureInfo.InvariantCulture, $"{bytes / 1e3:0.#} kB")
            : bytes < 1e9 ? string.Create(CultureInfo.InvariantCulture, $"{bytes / 1e6:0.#} MB")
            : string.Create(CultureInfo.InvariantCulture, $"{bytes / 1e9:0.#} GB");
    }
}
