namespace Fralto.Core.Pictures;

/// <summary>Which values stand out from their neighbours.</summary>
public static class OddOnes
{
    /// <summary>How far out a value lies that is odd, as a modified z-score (Iglewicz and Hoaglin, How to Detect and Handle Outliers,
    /// 1993; from
    /// memory).</summary>
    public const double Odd = 3.5;

    // The median absolute deviation of a normal distribution is 0.6745 standard deviations.
    private const double OfNormal = 0.6745;
    private const int Fewest = 3;

    /// <summary>How far each value lies from the median, as a modified z-score; 0 where there are too few to say.</summary>
    /// <param name="values">The values; what is not a number has none.</param>
    /// <param name="resolution">Differences smaller than this are none.</param>
    public static double[] Scores(IReadOnlyList<double> values, double resolution)
    {
        var known = values.Where(double.IsFinite).ToArray();
        var scores = new double[values.Count];
        if (known.Length < Fewest)
            return scores;
        var median = Median(known);
        var deviation = Math.Max(Median([.. known.Select(v => Math.Abs(v - median))]), Math.Max(resolution, 1e-12));
        for (var i = 0; i < scores.Length; i++)
            scores[i] = double.IsFinite(values[i]) ? OfNormal * Math.Abs(values[i] - median) / deviation : 0;
        return scores;
    }

    private static double Median(double[] values)
    {
        var sorted = values.Order().ToArray();
        return sorted.Length % 2 == 1 ? sorted[sorted.Length / 2] : (sorted[sorted.Length / 2 - 1] + sorted[sorted.Length / 2]) / 2;
    }
}
