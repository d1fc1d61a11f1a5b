using System.Collections.Immutable;
using Fralto.Core.Basics;

namespace Fralto.Core.Scaling;

/// <summary>A piecewise linear table, such as the strapping table of a silo: level in, mass out.</summary>
/// <remarks>
/// The signal stands for the table's input: 4…20 mA for 0…18 m of level. Beyond its ends the table continues neither up nor down: the
/// first and last value hold. It can be turned round when its values only rise or only fall.
/// </remarks>
/// <param name="Signal">The raw range it accepts.</param>
/// <param name="Input">What the ends of the signal stand for, in the table's input; the raw numbers themselves when they are the
/// same.</param>
/// <param name="Points">Two to <see cref="MostPoints"/> points, inputs strictly rising.</param>
public sealed record TableScale(Signal Signal, Span Input, ImmutableArray<TablePoint> Points) : Scale(Signal)
{
    /// <summary>The most points of a table.</summary>
    public const int MostPoints = 10_000;

    private const int MostProblems = 5;
    private readonly Lazy<int> _direction = new(() => DirectionOf(Points));

    /// <inheritdoc/>
    public override string RawWords => $"table of {Points.Length}";

    /// <inheritdoc/>
    public override string Words => $"table of {Points.Length} points, {Signal.Words}{(Input == Raw ? "" : $" for {Text(Input)}")}";

    /// <inheritdoc/>
    public override string? WhyNoInverse =>
        _direction.Value != 0 ? null : "the table's values rise and fall, so one value may belong to several raw values";

    /// <inheritdoc/>
    public override double ToEngineering(double raw)
    {
        var input = Input.At(Raw.FractionOf(raw));
        if (double.IsNaN(input))
            return double.NaN;
        var (low, high) = (0, Points.Length - 1);
        if (input <= Points[0].Input)
            return Points[0].Value;
        if (input >= Points[high].Input)
            return Points[high].Value;
        while (high - low > 1)
        {
            var middle = (low + high) / 2;
            if (Points[middle].Input <= input)
                low = middle;
            else
                high = middle;
        }
        return Between(input, Points[low].Input, Points[high].Input, Points[low].Value, Points[high].Value);
    }

    /// <inheritdoc/>
    public override double ToRaw(double value)
    {
        var direction = _direction.Value;
        if (direction == 0 || double.IsNaN(value))
            return double.NaN;
        var (low, high) = (0, Points.Length - 1);
        if (direction * (value - Points[0].Value) < 0 || direction * (value - Points[high].Value) > 0)
            return double.NaN;
        while (high - low > 1)
        {
            var middle = (low + high) / 2;
            if (direction * (Points[middle].Value - value) <= 0)
                low = middle;
            else
                high = middle;
        }
        return Raw.At(Input.FractionOf(Between(value, Points[low].Value, Points[high].Value, Points[low].Input, Points[high].Input)));
    }

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems()
    {
        foreach (var problem in base.Problems())
            yield return problem;
        if (!Input.IsUsable)
            yield return new("InputHigh", "What the signal stands for is the same at both ends; they must differ.");
        if (Points.Length < 2)
            yield return new("Points", $"A table needs at least two points; this has {Points.Length}.");
        if (Points.Length > MostPoints)
            yield return new("Points", $"A table has at most {MostPoints} points; this has {Points.Length}.");
        var said = 0;
        for (var i = 0; i < Points.Length && said < MostProblems; i++)
        {
            if (!double.IsFinite(Points[i].Input) || !double.IsFinite(Points[i].Value))
                yield return new("Points", Said($"Point {i + 1} is not two numbers.", ref said));
            else if (i > 0 && Points[i].Input == Points[i - 1].Input)
                yield return new("Points", Said($"Points {i} and {i + 1} both have the input {Points[i].Input}; keep one.", ref said));
            else if (i > 0 && Points[i].Input < Points[i - 1].Input)
                yield return new(
                    "Points",
                    Said(
                        $"Point {i + 1}, input {Points[i].Input}, comes after {Points[i - 1].Input}; sort the points by input, "
                            + $"smallest first.",
                        ref said
                    )
                );
        }
    }

    /// <inheritdoc/>
    public bool Equals(TableScale? other) =>
        other is not null && base.Equals(other) && Input == other.Input && Points.AsSpan().SequenceEqual(other.Points.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(base.GetHashCode(), Input, Points.Length, Points.IsEmpty ? default : Points[^1]);

    private static string Said(string words, ref int said)
    {
        said++;
        return words;
    }

    private static double Between(double x, double x0, double x1, double y0, double y1) =>
        x == x1 ? y1 : y0 + (x - x0) / (x1 - x0) * (y1 - y0);

    private static int DirectionOf(ImmutableArray<TablePoint> points)
    {
        if (points.Length < 2)
            return 0;
        var direction = Math.Sign(points[1].Value - points[0].Value);
        for (var i = 2; i < points.Length; i++)
            if (Math.Sign(points[i].Value - points[i - 1].Value) != direction)
                return 0;
        return direction;
    }
}
