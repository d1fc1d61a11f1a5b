using System.Globalization;
using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>What the values of tags, now and seen before, say for and against them.</summary>
internal sealed class CandidateValues(ProposalQuestion question, TagLexicon lexicon)
{
    private const double FarOutside = 0.25;

    private const double ByValue = -2.5;

    /// <summary>Share of a range below which no arithmetic on 32-bit floats of its size ends by itself: their own step is 1e-7 of it (IEEE
    /// 754, binary32).</summary>
    private const double Nothing = 1e-15;

    /// <summary>Ranges no instrument has beside what it cannot tell from 0.</summary>
    private const double Everything = 1e9;

    private readonly PlantModel _model = question.Model;

    /// <summary>Adds to a candidate what its value speaks for or against, as a part in log-odds.</summary>
    public void Weigh(OpenCell cell, Candidate candidate)
    {
        var facts = cell.Property.Facts;
        // What has been seen stays seen, whether or not there is a value now.
        if (
            cell.Property.Declaration.Type == PropertyType.Number
            && _model.RangeOf(facts) is { IsUsable: true } own
            && TornApart(lexicon.Tags[candidate.Position], own) is { } sizes
        )
        {
            Refute(
                candidate,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"it has been {sizes.Least:0.#E+0} and {sizes.Most:0.#E+0}; its words may be read in the wrong order."
                )
            );
            return;
        }
        if (ValueOf(cell, candidate) is not { } value)
            return;
        var symbol = _model.Units.SymbolOf(facts.Unit);
        if (cell.Property.Declaration.Type == PropertyType.State)
        {
            bool IsState(double held) => facts.StateListId is not { } set || _model.StateLists[set].States.Any(s => s.Value == held);
            var said = string.Create(CultureInfo.InvariantCulture, $"now {value:0.###}");
            if (IsState(value))
                candidate.Add(ScorePartKind.Value, 0.3, $"{said}, which is one of its states");
            else if (
                cell.Matrix.Examples[cell.Property.Id].Any(e => ValueOf(cell.Property, e.Position, e.Slice) is { } its && !IsState(its))
            )
                candidate.Add(ScorePartKind.Value, -0.3, $"{said}, which is none of its states, as what is bound");
            else
                Refute(candidate, $"{said}, which is none of its states.");
            return;
        }
        if (_model.RangeOf(facts) is not { IsUsable: true } range)
            return;
        var words = string.Create(CultureInfo.InvariantCulture, $"now {value:0.###} {symbol}").TrimEnd();
        if (IsTooSmall(lexicon.Tags[candidate.Position], range, value))
            Refute(
                candidate,
                $"{value.ToString("0.#E+0", CultureInfo.InvariantCulture)} {symbol}, smaller than any instrument tells from 0; its "
                    + $"words may be read in the wrong order."
            );
        else if (range.Contains(value))
            candidate.Add(ScorePartKind.Value, 0.4, $"{words}, inside the range");
        else if (Outside(range, value) > FarOutside)
        {
            // A plant that stands still says little by its values.
            var far = string.Create(CultureInfo.InvariantCulture, $"{words}, far outside {range.Low:0.###} to {range.High:0.###}");
            if (
                cell
                    .Matrix.Examples[cell.Property.Id]
                    .Any(e => ValueOf(cell.Property, e.Position, e.Slice) is { } its && Outside(range, its) > FarOutside)
            )
                candidate.Add(ScorePartKind.Value, -0.3, $"{far}, as what is bound");
            else if (question.Raw!(lexicon.Tags[candidate.Position]) == 0)
                candidate.Add(ScorePartKind.Value, -0.8, $"{far}, but a raw value of 0 may be rest");
            else
                Refute(candidate, $"{far}.");
        }
    }

    /// <summary>A float of several words that is not 0 and yet nothing beside its range: what stands first in it is not its
    /// exponent.</summary>
    private static bool IsTooSmall(Tag tag, Span range, double value) =>
        value != 0 && tag.Type.IsFloat() && tag.Type.Words() > 1 && Math.Abs(value) < Nothing * (range.Maximum - range.Minimum);

    /// <summary>A float of several words that has been nothing at one time and beyond all measure at another: its exponent is made of the
    /// digits that move most.</summary>
    /// <remarks>One value says little: of random exponents one in five looks like a measurement. Filters run out to next to nothing and
    /// devices say "no value" by the largest number; nothing but words in the wrong order does both.</remarks>
    private Magnitudes? TornApart(Tag tag, Span range) =>
        tag.Type.IsFloat()
        && tag.Type.Words() > 1
        && range.Maximum - range.Minimum is var width
        && question.Magnitudes?.Invoke(tag) is { } been
        && been.Least < Nothing * width
        && been.Most > Everything * width
            ? been
            : null;

    /// <summary>A value the property cannot have: whatever the names say, a person looks first.</summary>
    private static void Refute(Candidate candidate, string words)
    {
        candidate.IsRefuted = true;
        candidate.Contradict(ScorePartKind.Value, ByValue, words);
    }

    /// <summary>The value the property would have now; null when the tag gives none.</summary>
    public double? ValueOf(OpenCell cell, Candidate candidate) => ValueOf(cell.Property, candidate.Position, candidate.Slice);

    private double? ValueOf(ResolvedProperty property, int position, Slice? slice)
    {
        var tag = lexicon.Tags[position];
        if (question.Raw?.Invoke(tag) is not { } raw || tag.IsArray || property.Declaration.Type == PropertyType.Text)
            return null;
        var value = _model.ChainOf(property.Facts, tag.Unit, slice).Compute(raw).Value;
        return double.IsFinite(value) ? value : null;
    }

    /// <summary>True when two values lie each in the other's range and not in their own.</summary>
    public bool LieSwapped(ResolvedProperty one, double value, ResolvedProperty other, double its) =>
        one.Facts.Unit == other.Facts.Unit
        && _model.RangeOf(one.Facts) is { IsUsable: true } range
        && _model.RangeOf(other.Facts) is { IsUsable: true } theirs
        && !range.Contains(value)
        && !theirs.Contains(its)
        && range.Contains(its)
        && theirs.Contains(value);

    private static double Outside(Span range, double value) =>
        range.Contains(value)
            ? 0
            : (value > range.Maximum ? value - range.Maximum : range.Minimum - value) / (range.Maximum - range.Minimum);
}
