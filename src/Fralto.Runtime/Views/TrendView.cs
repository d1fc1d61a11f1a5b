using Fralto.Core.Alarms;
using Fralto.Core.History;
using Fralto.Core.Limits;
using Fralto.Core.Pictures;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Runtime.Recording;
using Fralto.Store;

namespace Fralto.Runtime.Views;

/// <summary>Curves over state strips on one axis of time, with what happened and what it amounts to, as numbers to draw.</summary>
public sealed class TrendView
{
    /// <summary>The most panels; what has other properties then shares those of its unit.</summary>
    public const int MostPanels = 4;

    private const int MostMarks = 400;
    private const double MarkWidth = 14;
    private static readonly long LongestBack = TimeSpan.FromDays(30).Ticks;

    private readonly TrendQuestion _question;

    private TrendView(TrendQuestion question) => _question = question;

    /// <summary>Where the window begins, in ticks; for runs, where it begins before the beginning.</summary>
    public long From { get; private init; }

    /// <summary>Where it ends.</summary>
    public long To { get; private init; }

    /// <summary>True while its right end is now.</summary>
    public bool IsLive => _question is { To: null, RunsOf: null };

    /// <summary>True where runs stand side by side.</summary>
    public bool IsRuns => _question.RunsOf is not null;

    /// <summary>Width of the drawing.</summary>
    public double Width => _question.Width;

    /// <summary>Where now lies in it; null where it lies beyond.</summary>
    public double? NowX { get; private set; }

    /// <summary>The tracks, numbers and states.</summary>
    public IReadOnlyList<TrendTrack> Tracks { get; private set; } = [];

    /// <summary>Strips of states.</summary>
    public IReadOnlyList<TrendStrip> Strips { get; private set; } = [];

    /// <summary>Panels of curves.</summary>
    public IReadOnlyList<TrendPanel> Panels { get; private set; } = [];

    /// <summary>Alarms that were raised.</summary>
    public IReadOnlyList<TrendMark> Alarms { get; private set; } = [];

    /// <summary>Releases that were put to work.</summary>
    public IReadOnlyList<TrendMark> Releases { get; private set; } = [];

    /// <summary>Commands the instances were given.</summary>
    public IReadOnlyList<TrendMark> Commands { get; private set; } = [];

    /// <summary>Edits of the instances and their templates.</summary>
    public IReadOnlyList<TrendMark> Edits { get; private set; } = [];

    /// <summary>What each track amounts to over the window, or the marked span.</summary>
    public IReadOnlyList<TrendFigures> Figures { get; private set; } = [];

    /// <summary>Marks of the axis: where, and what stands there.</summary>
    public IReadOnlyList<(double X, string Text)> Ticks { get; private set; } = [];

    /// <summary>The marked span in picture units; null for none.</summary>
    public (double X, double Width)? Mark { get; private set; }

    /// <summary>Why a line has no curve, by its key.</summary>
    public IReadOnlyDictionary<string, string> Missing { get; private set; } = new Dictionary<string, string>();

    /// <summary>Looks.</summary>
    /// <param name="question">What is wanted.</param>
    /// <param name="model">The model that runs.</param>
    /// <param name="plan">Its plan.</param>
    /// <param name="trends">History.</param>
    /// <param name="store">Where alarms and releases are kept.</param>
    /// <param name="local">UTC ticks to the time people read.</param>
    public static TrendView Of(
        TrendQuestion question,
        PlantModel model,
        Plan plan,
        Trends trends,
        PlantStore store,
        Func<long, DateTime> local
    )
    {
        var length = (long)(Math.Clamp(question.Seconds, 1, TrendQuestion.LongestSeconds) * TimeSpan.TicksPerSecond);
        var to = question.To ?? trends.Now;
        var view = new TrendView(question) { From = to - length, To = to };
        var lines = Trends.Lines(model, plan, question.Lines.Take(TrendQuestion.MostLines));
        view.Tracks = question.RunsOf is { } property ? view.RunsOf(lines, property, model, plan, trends, length) : view.ByClock(lines);
        view.Look(trends);
        if (!view.IsRuns)
        {
            view.NowX = trends.Now < view.To ? view.XOf(trends.Now) : null;
            view.Happened(model, plan, store);
            view.Ticks = [.. TrendTime.Of(view.From, view.To, (int)(view.Width / 90), local).Select(t => (view.XOf(t.Ticks), t.Text))];
        }
        else
            view.Ticks =
            [
                .. TrendCurve
                    .MarksOf(new Span(-question.Before / HourSeconds, question.Seconds / HourSeconds - question.Before / HourSeconds))
                    .Select(h =>
                        ((h * HourSeconds + question.Before) / question.Seconds * view.Width, TrendTime.Length(Math.Abs(h) * HourSeconds))
                    )
                    .Select((t, i) => (t.Item1, t.Item2)),
            ];
        if (question.Mark is { } mark)
            view.Mark = (view.XOf(Math.Min(mark.From, mark.To)), Math.Abs(view.XOf(mark.To) - view.XOf(mark.From)));
        return view;
    }

    private const double HourSeconds = 3600;

    /// <summary>Where a time lies in the drawing.</summary>
    public double XOf(long ticks) => (ticks - From) / (double)(To - From) * Width;

    private List<TrendTrack> ByClock(IReadOnlyList<TrendLine> lines)
    {
        // Of a single instance the properties are told apart, of several the instances.
        if (lines.Select(l => l.Instance).Distinct().Count() == 1)
            lines = [.. lines.Select((l, i) => l with { Number = i + 1, Instance = l.Property })];
        var tracks = lines.Select(l => new TrendTrack(l, From, To, l.Number, l.Instance, false)).ToList();
        if (_question.Earlier > 0)
        {
            var shift = (long)(_question.Earlier * TimeSpan.TicksPerSecond);
            tracks.AddRange(
                lines.Select(l => new TrendTrack(
                    l,
                    From - shift,
                    To - shift,
                    l.Number,
                    $"{l.Instance}, {TrendTime.Length(_question.Earlier)} earlier",
                    true
                ))
            );
        }
        return tracks;
    }

    private List<TrendTrack> RunsOf(IReadOnlyList<TrendLine> lines, long property, PlantModel model, Plan plan, Trends trends, long length)
    {
        var (tracks, number) = (new List<TrendTrack>(), 0);
        foreach (var of in lines.GroupBy(l => l.Point?.EquipmentId ?? 0))
        {
            if (Trends.Lines(model, plan, [(of.Key, property)]) is not [{ Point: not null } state])
                continue;
            var begins = trends.Beginnings(
                state,
                _question.Becomes,
                _question.To ?? trends.Now,
                Math.Clamp(_question.Runs, 1, 6),
                LongestBack
            );
            for (var run = 0; run < begins.Count; run++)
            {
                number++;
                var from = begins[run] - (long)(_question.Before * TimeSpan.TicksPerSecond);
                foreach (var line in of)
                    tracks.Add(new(line, from, from + length, number, run == 0 ? line.Instance : $"{line.Instance}, {run} back", run > 0));
            }
        }
        return tracks;
    }

    private void Look(Trends trends)
    {
        var missing = new Dictionary<string, string>();
        var count = (int)Math.Clamp(Width, 50, 2000);
        var (numbers, strips, figures) = (
            new List<(TrendTrack Track, Rollup[] Stretches, int Known)>(),
            new List<TrendStrip>(),
            new List<TrendFigures>()
        );
        foreach (var track in Tracks)
        {
            if (track.Line.Point is not { } point)
                missing[track.Line.Key] = "it does not run: not bound, or not released";
            else if (point.Recording is null && point.EquipmentId != Trends.OfTags)
                missing[track.Line.Key] = "it is not recorded";
            if (track.Line.Point is null)
            {
                figures.Add(new(track, [], []));
                continue;
            }
            var (markFrom, markTo) = _question.Mark is { } mark
                ? (track.From + Math.Min(mark.From, mark.To) - From, track.From + Math.Max(mark.From, mark.To) - From)
                : (track.From, track.To);
            figures.Add(FiguresOf(track, trends.Window(track.Line, markFrom, markTo)));
            if (track.Line.IsState)
            {
                var states = trends.States(track.Line, track.From, track.To);
                strips.Add(new(track, [.. states.Select(s => (s, X(track, s.From), Math.Max(0.5, X(track, s.To) - X(track, s.From))))]));
                continue;
            }
            var stretches = trends.Stretches(track.Line, track.From, track.To, count);
            var known = (int)
                Math.Clamp(
                    Math.Ceiling((trends.Now - track.From) / Math.Max(1.0, (track.To - track.From) / (double)count)),
                    0,
                    stretches.Length
                );
            numbers.Add((track, stretches, known));
            if (!missing.ContainsKey(track.Line.Key) && !Array.Exists(stretches, s => s.HeldSeconds > 0))
                missing[track.Line.Key] =
                    track.Line.Point?.EquipmentId == Trends.OfTags
                        ? "a tag is seen live, from when it is looked at"
                        : "nothing was recorded in this time";
        }
        var byProperty = numbers.GroupBy(n => (n.Track.Line.Property, Unit: n.Track.Line.Point!.Unit?.Symbol ?? "")).ToArray();
        Panels =
            byProperty.Length <= MostPanels
                ? [.. byProperty.Select(g => PanelOf(trends, g.Key.Property, g.Key.Unit, [.. g]))]
                :
                [
                    .. numbers
                        .GroupBy(n => n.Track.Line.Point!.Unit?.Symbol ?? "")
                        .Select(g =>
                            PanelOf(trends, string.Join(", ", g.Select(n => n.Track.Line.Property).Distinct().Take(3)), g.Key, [.. g])
                        ),
                ];
        (Strips, Figures, Missing) = (strips, figures, missing);
    }

    private double X(TrendTrack track, long ticks) => Math.Clamp((ticks - track.From) / (double)(track.To - track.From), 0, 1) * Width;

    private TrendPanel PanelOf(Trends trends, string title, string unit, (TrendTrack Track, Rollup[] Stretches, int Known)[] numbers)
    {
        const double Bottom = TrendPanel.Height - TrendPanel.Margin;
        var spans = numbers
            .SelectMany(n => n.Stretches.Take(n.Known))
            .Where(s => s.HeldSeconds > 0 && double.IsFinite(s.Minimum))
            .Select(s => new Span(s.Minimum, s.Maximum));
        var point = numbers[0].Track.Line.Point!;
        // A value that cannot be, as one read with its words the wrong way round, does not press all others flat.
        if (point.Range is { IsUsable: true } range)
        {
            var wide = new Span(range.Minimum - Math.Abs(range.Width) / 2, range.Maximum + Math.Abs(range.Width) / 2);
            var possible = spans.Where(s => s.Minimum >= wide.Low && s.Maximum <= wide.High).ToArray();
            if (possible.Length > 0)
                spans = possible;
        }
        var axis = TrendCurve.AxisOf(spans, point.Range);
        // A limit that is near is worth seeing; one far off would press the curve flat.
        var limits = LimitsOf(trends, [.. numbers.Select(n => n.Track)]);
        foreach (var (limit, _, _) in limits)
            if (limit.Setpoint > axis.High && limit.Setpoint - axis.High < axis.Width * 0.6)
                axis = TrendCurve.AxisOf([axis, new(limit.Setpoint, limit.Setpoint)], null);
            else if (limit.Setpoint < axis.Low && axis.Low - limit.Setpoint < axis.Width * 0.6)
                axis = TrendCurve.AxisOf([axis, new(limit.Setpoint, limit.Setpoint)], null);
        double Y(double value) => Bottom + (TrendPanel.Margin - Bottom) * axis.FractionOf(value);
        var marks = TrendCurve.MarksOf(axis);
        var step = marks.Count > 1 ? marks[1] - marks[0] : 1;
        return new(
            title,
            unit,
            axis,
            [.. marks.Select(m => (m, Y(m)))],
            DecimalsOf(step),
            [
                .. numbers.Select(n =>
                    (
                        n.Track,
                        TrendCurve.Of(n.Stretches, n.Known, Width, axis, Bottom, TrendPanel.Margin),
                        n.Stretches.Take(n.Known).Select(s => s.Mean).ToArray()
                    )
                ),
            ],
            [
                .. limits
                    .Where(l => l.Limit.Setpoint >= axis.Low && l.Limit.Setpoint <= axis.High)
                    .Select(l => new TrendLimit(
                        l.Limit.Condition.Letters(),
                        l.Limit.Setpoint,
                        l.Limit.Priority,
                        l.Limit.Condition.IsHigh(),
                        Y(l.Limit.Setpoint),
                        l.X,
                        l.Width,
                        l.X + l.Width >= Width - 0.5
                    )),
            ]
        );
    }

    /// <summary>The limits all curves of a panel share, where and for how long they were in force; where runs stand beside one another,
    /// those of the newest.</summary>
    private IReadOnlyList<(Limit Limit, double X, double Width)> LimitsOf(Trends trends, IReadOnlyList<TrendTrack> tracks)
    {
        var each = tracks
            .Where(t => !t.IsEarlier)
            .DefaultIfEmpty(tracks[0])
            .Select(t =>
                trends
                    .Limits(t.Line, t.From, t.To)
                    .Select(l => (l.Limit, X: X(t, l.From), Width: X(t, l.To) - X(t, l.From)))
                    .Where(l => l.Width > 0)
                    .ToArray()
            )
            .ToArray();
        return [.. each[0].Where(l => each.All(e => e.Any(o => IsSame(o, l))))];

        static bool IsSame((Limit Limit, double X, double Width) one, (Limit Limit, double X, double Width) other) =>
            (one.Limit.Condition, one.Limit.Setpoint, one.Limit.Priority)
                == (other.Limit.Condition, other.Limit.Setpoint, other.Limit.Priority)
            && Math.Abs(one.X - other.X) < 1
            && Math.Abs(one.Width - other.Width) < 1;
    }

    /// <summary>Decimals that tell marks apart.</summary>
    private static int DecimalsOf(double step)
    {
        for (var decimals = 0; decimals < 6; decimals++)
            if (Math.Abs(Math.Round(step, decimals) - step) < step * 1e-6)
                return decimals;
        return 6;
    }

    private static TrendFigures FiguresOf(TrendTrack track, (IntervalFacts? Facts, Rollup Rollup) window)
    {
        var rollup = window.Rollup;
        double Of(string name, double otherwise) => window.Facts is { } facts ? Aggregate.Find(name)!.Of(facts).Number : otherwise;
        var length = (Math.Min(track.To, DateTime.MaxValue.Ticks) - track.From) / (double)TimeSpan.TicksPerSecond;
        return new(
            track,
            track.Line.IsState
                ? [("NumberOfTransitions", window.Facts is { } f ? f.Transitions : double.NaN)]
                :
                [
                    ("TimeAverage2", Of("TimeAverage2", rollup.Mean)),
                    ("Minimum", Of("Minimum", rollup.Minimum)),
                    ("Maximum", Of("Maximum", rollup.Maximum)),
                    ("Delta", Of("Delta", rollup.Last - rollup.First)),
                    ("PercentGood", Of("PercentGood", rollup.GoodSeconds / length * 100)),
                ],
            rollup.States.IsDefaultOrEmpty ? [] : rollup.States
        );
    }

    private void Happened(PlantModel model, Plan plan, PlantStore store)
    {
        var equipment = Tracks
            .Where(t => t.Line.Point is { EquipmentId: not Trends.OfTags })
            .Select(t => t.Line.Point!.EquipmentId)
            .Distinct()
            .ToArray();
        if (equipment.Length == 0)
            return;
        var raised = store.Run.AlarmEventsInOrder(
            new()
            {
                From = new(From, TimeSpan.Zero),
                To = new(To, TimeSpan.Zero),
                Equipment = equipment,
                Causes = [AlarmCause.ConditionRaised],
            },
            MostMarks
        );
        var (from, to) = (new DateTimeOffset(From, TimeSpan.Zero), new DateTimeOffset(To, TimeSpan.Zero));
        Alarms = Marks(
            raised.Select(e =>
                (e.Time, e.Priority, $"{model.Equipment.GetValueOrDefault(e.Key.EquipmentId)?.Name} {NameOf(model, e)} {e.Limit}".Trim())
            )
        );
        var paths = equipment
            .Where(model.Equipment.ContainsKey)
            .SelectMany(id => model.Index.PropertiesOf(model.Equipment[id]).Select(p => plan.PointIndexOf(id, p.Id)))
            .Where(i => i >= 0)
            .Select(i => plan.Points[i].Path)
            .ToArray();
        Commands = Marks(
            store
                .Run.CommandsTo(paths, from, to, MostMarks)
                .Select(c => (c.At, 0, $"{c.Target[(c.Target.LastIndexOf('/') + 1)..]} = {c.Wanted}, {c.Who}, {c.Outcome}"))
        );
        var templates = equipment
            .Select(id => model.Equipment.GetValueOrDefault(id)?.TemplateId)
            .OfType<long>()
            .Distinct()
            .Where(model.Templates.ContainsKey)
            .SelectMany(id => model.Index.AncestryOf(id).Select(t => t.Id));
        Edits = Marks(
            store
                .Journal(MostMarks, [.. equipment.Concat(templates).Distinct()])
                .Where(e => e.At >= from && e.At < to)
                .OrderBy(e => e.At)
                .Select(e => (e.At, 0, $"{e.Summary}, {e.Who}"))
        );
        Releases =
        [
            .. store
                .Releases.All()
                .Where(r => r.At.UtcTicks >= From && r.At.UtcTicks < To)
                .OrderBy(r => r.At)
                .Select(r => new TrendMark(XOf(r.At.UtcTicks), r.At.UtcTicks, 0, $"release {r.Number}: {r.Note}", 1)),
        ];
    }

    /// <summary>What happened, as marks; those that would lie on one another are one, with how many they are.</summary>
    private List<TrendMark> Marks(IEnumerable<(DateTimeOffset At, int Priority, string Text)> happened)
    {
        var marks = new List<TrendMark>();
        foreach (var (at, priority, text) in happened)
        {
            var x = XOf(at.UtcTicks);
            if (marks.Count > 0 && x - marks[^1].X < MarkWidth)
                marks[^1] = marks[^1] with
                {
                    Count = marks[^1].Count + 1,
                    Priority = Math.Min(marks[^1].Priority, priority),
                    Text = marks[^1].Count < 3 ? $"{marks[^1].Text}; {text}" : marks[^1].Text,
                };
            else
                marks.Add(new(x, at.UtcTicks, priority, text, 1));
        }
        return marks;
    }

    private static string NameOf(PlantModel model, AlarmEvent e) =>
        model.Equipment.GetValueOrDefault(e.Key.EquipmentId) is { } node
        && model.Index.PropertiesOf(node).FirstOrDefault(p => p.Id == e.Key.PropertyId) is { } property
            ? property.Name
            : e.Path[(e.Path.LastIndexOf('/') + 1)..];
}
