using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;

namespace Fralto.Core.Diagnosis;

/// <summary>Looks at live raw values and says what they look like: the wrong signal, the wrong word order, a dead tag.</summary>
/// <remarks>
/// Three things speak for a signal: its measuring information holds the values; what it makes of them lies where the property is normal;
/// and
/// the values use its span. A proposal is made only when one of them clearly speaks against the signal set and none against the one
/// proposed
/// (our own rule, no source).
/// </remarks>
public static class SignalFit
{
    /// <summary>Readings of one tag before anything is said of it.</summary>
    public const int FewestReadings = 5;

    private const double Nearly = 0.98;
    private const double ClearlyBetter = 0.3;
    private const double HalfUsed = 0.55;
    private const double WellUsed = 0.7;
    private const double WideSweep = 0.4;
    private const double HugeSpread = 1e8;
    private const int MostNames = 4;
    private const int MostProposals = 2;

    private static readonly Signal[] Counts = [.. Signal.Known.Where(s => s.Raw.High > 1000)];

    /// <summary>The verdicts on a property of a model, those that call for a change first.</summary>
    /// <param name="model">The model.</param>
    /// <param name="property">The property.</param>
    /// <param name="watched">The tags of its instances.</param>
    public static ImmutableArray<FitVerdict> Judge(PlantModel model, ResolvedProperty property, IReadOnlyList<RawWatch> watched)
    {
        var tagUnit = watched.Select(w => model.Tags.GetValueOrDefault(w.TagId)?.Unit).FirstOrDefault();
        var conversion = model.ChainOf(property.Facts, tagUnit, null).Conversion;
        return Judge(
            model.ScaleOf(property.Facts),
            (s, raw) => conversion.Of(s?.ToEngineering(raw) ?? raw),
            model.RangeOf(property.Facts),
            Limit.NormalOf(property.Limits),
            watched
        );
    }

    /// <summary>The verdicts on a property, those that call for a change first.</summary>
    /// <param name="scale">The scale it has; null for none.</param>
    /// <param name="valueOf">The value a scale makes of a raw number, in the property's unit.</param>
    /// <param name="range">The property's range; null for none.</param>
    /// <param name="normal">Where a value is normal: inside all limits.</param>
    /// <param name="watched">The tags of its instances.</param>
    public static ImmutableArray<FitVerdict> Judge(
        Scale? scale,
        Func<Scale?, double, double> valueOf,
        Span? range,
        Span normal,
        IReadOnlyList<RawWatch> watched
    )
    {
        var verdicts = new List<FitVerdict>();
        var silent = watched.Where(w => w.Raw.Length == 0).ToArray();
        var seen = watched.Where(w => w.Raw.Length >= FewestReadings).ToList();
        foreach (var still in seen.Where(w => w.Raw.All(r => r == w.Raw[0])).GroupBy(w => w.Raw[0]))
            verdicts.Add(new(FitKind.Constant, $"always {Text(still.Key)}: {Names(still)}", null, null, [.. still.Select(w => w.TagId)]));
        var turned = Turned(scale, valueOf, range, seen);
        verdicts.AddRange(turned);
        seen.RemoveAll(w => turned.Any(t => t.TagIds.Contains(w.TagId)));
        if (seen.Count > 0)
            verdicts.AddRange(OfSignal(scale, valueOf, range, normal, seen));
        if (silent.Length > 0)
            verdicts.Add(new(FitKind.Silent, $"no good reading: {Names(silent)}", null, null, [.. silent.Select(w => w.TagId)]));
        return [.. verdicts.OrderBy(v => v.Order is null && v.Signal is null).ThenBy(v => v.Kind == FitKind.Fits)];
    }

    private static List<FitVerdict> Turned(Scale? scale, Func<Scale?, double, double> valueOf, Span? range, List<RawWatch> seen)
    {
        bool Plausible(double raw) =>
            double.IsFinite(raw)
            && (scale?.Signal.Accepted.Contains(raw) ?? true)
            && (raw == 0 || Math.Abs(raw) is > 1e-12 and < 1e12)
            && (range is not { IsUsable: true } r || Widened(r).Contains(valueOf(scale, raw)));
        double Share(RawWatch watch, WordOrder order) =>
            watch.Raw.Count(raw => Plausible(Reread(raw, watch, order))) / (double)watch.Raw.Length;
        var verdicts = new List<FitVerdict>();
        var wrong = seen.Where(w =>
                w.Type.Words() > 1 && w.Type is not (RawType.Bcd32 or RawType.Int64 or RawType.UInt64) && Share(w, w.Order) < 0.5
            )
            .Select(w =>
            {
                var better = Enum.GetValues<WordOrder>()
                    .Where(o => o != w.Order)
                    .Select(o => (Order: o, Share: Share(w, o)))
                    .MaxBy(o => o.Share);
                return (Watch: w, better.Order, better.Share);
            })
            .Where(w => w.Share >= Nearly);
        foreach (var group in wrong.GroupBy(w => (w.Order, Was: w.Watch.Order)))
        {
            var raw = group.SelectMany(w => w.Watch.Raw).Where(r => r != 0).Select(Math.Abs).DefaultIfEmpty(1).ToArray();
            var look =
                raw.Max() / raw.Min() > HugeSpread
                    ? $"alternates between huge and tiny ({Text(raw.Max())}, {Text(raw.Min())})"
                    : $"reads {Text(group.First().Watch.Raw[^1])}, which is no value of this property";
            verdicts.Add(
                new(
                    FitKind.WordOrder,
                    $"{look}: as {group.Key.Order.Letters()} instead of {group.Key.Was.Letters()} it makes sense: "
                        + $"{Names(group.Select(w => w.Watch))}",
                    null,
                    group.Key.Order,
                    [.. group.Select(w => w.Watch.TagId)]
                )
            );
        }
        return verdicts;
    }

    private static IEnumerable<FitVerdict> OfSignal(
        Scale? scale,
        Func<Scale?, double, double> valueOf,
        Span? range,
        Span normal,
        List<RawWatch> seen
    )
    {
        var all = seen.SelectMany(w => w.Raw).ToArray();
        var (low, high) = (all.Min(), all.Max());
        var between = low == high ? $"always {Text(low)}" : $"between {Text(low)} and {Text(high)}";
        ImmutableArray<long> tags = [.. seen.Select(w => w.TagId)];
        if (scale is { Signal.Kind: SignalKind.Open })
            yield break;
        if (scale is null)
        {
            if (range is not { IsUsable: true } shown)
                yield break;
            var inside = all.Count(r => Widened(shown).Contains(valueOf(null, r))) / (double)all.Length;
            if (inside >= 0.5)
            {
                yield return new(FitKind.Fits, $"{between}: the raw numbers are values of the range", null, null, tags);
                yield break;
            }
            var first = Better(null, s => new LinearScale(s, shown), all, seen, valueOf, normal);
            if (first.Count == 0)
                yield return new(
                    FitKind.Outside,
                    $"{between}: no values of {Text(shown.Low)}…{Text(shown.High)}, and no known signal",
                    null,
                    null,
                    tags
                );
            for (var i = 0; i < first.Count; i++)
                yield return new(
                    FitKind.Signal,
                    i == 0
                        ? $"{between}: no values of {Text(shown.Low)}…{Text(shown.High)}, but it fits {first[i].Words}"
                        : $"or {first[i].Words}",
                    first[i],
                    null,
                    tags
                );
            yield break;
        }
        var better = Better(scale, s => With(scale, s), all, seen, valueOf, normal);
        for (var i = 0; i < better.Count; i++)
            yield return new(
                FitKind.Signal,
                i == 0 ? $"{between}: fits {better[i].Words} better than the {scale.Signal.Words} you set" : $"or {better[i].Words}",
                better[i],
                null,
                tags
            );
        if (better.Count > 0)
            yield break;
        string? ComplaintOf(RawWatch watch) => scale.Signal.Complaint(watch.Raw.First(r => !scale.Signal.Accepted.Contains(r)));
        if (seen.Where(w => w.Raw.Count(r => !scale.Signal.Accepted.Contains(r)) > w.Raw.Length / 2).ToArray() is { Length: > 0 } outside)
            yield return new(
                FitKind.Outside,
                $"outside the signal: {string.Join("; ", outside.Take(MostNames).Select(w => $"{w.Name} {ComplaintOf(w)}"))}",
                null,
                null,
                [.. outside.Select(w => w.TagId)]
            );
        else if (low != high)
            yield return new(
                FitKind.Fits,
                $"{between}: {Math.Round(scale.Raw.FractionOf(low) * 100)} to {Math.Round(scale.Raw.FractionOf(high) * 100)} % of the "
                    + $"signal {scale.Signal.Words}",
                null,
                null,
                tags
            );
    }

    /// <summary>The signals that suit the values clearly better than the one set, the likeliest first; none when none does.</summary>
    private static List<Signal> Better(
        Scale? now,
        Func<Signal, Scale> with,
        double[] all,
        List<RawWatch> seen,
        Func<Scale?, double, double> valueOf,
        Span normal
    )
    {
        (double Inside, double Normal, double Used) Of(Scale scale) =>
            (
                all.Count(scale.Signal.Accepted.Contains) / (double)all.Length,
                all.Count(r => normal.Contains(valueOf(scale, r))) / (double)all.Length,
                all.Max(scale.Raw.FractionOf)
            );
        var was = now is null ? (Inside: 0, Normal: 0, Used: 0) : Of(now);
        bool Holds(Signal signal) =>
            seen.All(w => w.Type.IsFloat() || (w.Type.RangeOf().Contains(signal.Raw.Low) && w.Type.RangeOf().Contains(signal.Raw.High)));
        bool IsClearlyBetter(Signal signal, (double Inside, double Normal, double Used) fit)
        {
            if (fit.Inside < Nearly || fit.Normal < was.Normal - 0.1)
                return false;
            if (fit.Normal >= 0.5 && (was.Inside < 0.5 || fit.Normal - was.Normal >= ClearlyBetter))
                return true;
            return was.Used <= HalfUsed && fit.Used >= WellUsed && (all.Max() - all.Min()) / Math.Abs(signal.Raw.Width) >= WideSweep;
        }
        var candidates = (all.Max(Math.Abs) > 1000 ? Counts : [.. Signal.Known.Except(Counts)]).Where(s => s.Raw != now?.Raw && Holds(s));
        // Of those that serve alike, the common ones stand first in the list of signals.
        return
        [
            .. candidates
                .Select(s => (Signal: s, Fit: Of(with(s))))
                .Where(c => IsClearlyBetter(c.Signal, c.Fit))
                .OrderByDescending(c => Math.Round(c.Fit.Normal, 1))
                .ThenByDescending(c => c.Fit.Used >= WellUsed)
                .ThenBy(c => c.Signal.Kind)
                .Select(c => c.Signal)
                .Take(MostProposals),
        ];
    }

    /// <summary>The same scale on another signal; a table or sensor that takes the raw numbers themselves goes on to do so.</summary>
    public static Scale With(Scale scale, Signal signal) =>
        scale switch
        {
            TableScale table => table with { Signal = signal, Input = table.Input == table.Raw ? signal.Raw : table.Input },
            SensorScale sensor => sensor with { Signal = signal, Input = sensor.Input == sensor.Raw ? signal.Raw : sensor.Input },
            _ => scale with { Signal = signal },
        };

    private static double Reread(double raw, RawWatch watch, WordOrder order)
    {
        System.Span<ushort> words = stackalloc ushort[4];
        return RawCodec.TryWrite(raw, watch.Type, watch.Order, words) ? RawCodec.Read(words, watch.Type, order) : double.NaN;
    }

    private static Span Widened(Span range) => new(range.Minimum - Math.Abs(range.Width) / 4, range.Maximum + Math.Abs(range.Width) / 4);

    private static string Names(IEnumerable<RawWatch> watched)
    {
        var names = watched.Select(w => w.Name).ToArray();
        return string.Join(", ", names.Take(MostNames)) + (names.Length > MostNames ? $" and {names.Length - MostNames} more" : "");
    }

    private static string Text(double value) =>
        Math.Abs(value) is 0 or (>= 1e-3 and < 1e7)
            ? value.ToString("#,0.###", CultureInfo.InvariantCulture)
            : value.ToString("0.#e0", CultureInfo.InvariantCulture);
}
