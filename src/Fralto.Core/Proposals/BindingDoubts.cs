using System.Globalization;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.NamingRules;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Core.Proposals;

/// <summary>Looks for bindings that look wrong: by their values, by the names of their tags, and by what the other instances of their
/// template have.</summary>
/// <remarks>A doubt is no proof: a machine in another phase differs too. What is asked is that a person looks.</remarks>
public sealed class BindingDoubts
{
    private const int FewestKin = 4;
    private const double Agreeing = 0.6;
    private const double ClearPart = 0.03;
    private const double SeenPart = 0.005;
    private const double RestPart = 0.001;
    private const double FarPart = 0.15;
    private const double FarSpreads = 8;

    private readonly PlantModel _model;
    private readonly TagLexicon _lexicon;
    private readonly PlantNames _nodes;
    private readonly Dictionary<long, List<PropertyBinding>> _boundOf = [];
    private Func<(long EquipmentId, long PropertyId), LiveReading?> _live = _ => null;
    private List<BindingDoubt> _doubts = [];

    /// <param name="model">The working model.</param>
    /// <param name="memory">What was read of its tags already; null for nothing.</param>
    public BindingDoubts(PlantModel model, ProposalMemory? memory = null)
    {
        _model = model;
        _lexicon = (memory ?? new()).LexiconOf(model);
        _nodes = new(model);
        // Walked once: looking up each cell by itself takes twenty times as long in a large plant.
        foreach (var binding in model.Bindings.Values)
            (_boundOf.TryGetValue(binding.EquipmentId, out var known) ? known : _boundOf[binding.EquipmentId] = []).Add(binding);
    }

    /// <summary>All doubts about the bindings of some templates and of what inherits from them, the gravest first.</summary>
    /// <param name="model">The working model.</param>
    /// <param name="templates">The templates; null for all.</param>
    /// <param name="live">What a property shows now; null for one that is not in the running plan.</param>
    public static IReadOnlyList<BindingDoubt> Of(
        PlantModel model,
        IEnumerable<long>? templates,
        Func<(long EquipmentId, long PropertyId), LiveReading?> live
    )
    {
        var look = new BindingDoubts(model);
        return
        [
            .. (templates?.SelectMany(model.Index.FamilyOf).Distinct() ?? model.Templates.Values)
                .SelectMany(t => look.Steady(t).Concat(look.Moving(t, live)))
                .OrderBy(d => d.Kind)
                .ThenBy(d => d.EquipmentId)
                .ThenBy(d => d.PropertyId),
        ];
    }

    /// <summary>What is doubtful about the bindings of one template whatever its values are: it changes with the model alone.</summary>
    public IReadOnlyList<BindingDoubt> Steady(Template template)
    {
        _doubts = [];
        foreach (var (property, bound) in Columns(template).Columns)
        {
            foreach (var binding in bound)
                if (
                    _model.Index.BindingsOf(binding.TagId).FirstOrDefault(b => b != binding && Slice.Overlap(b.Slice, binding.Slice)) is
                    { } other
                )
                    Doubt(
                        binding,
                        DoubtKind.Shared,
                        $"{_model.Tags[binding.TagId].Name} feeds {_model.Index.PathOf(other.EquipmentId)} too."
                    );
            Readings(bound);
            Names(property, bound);
        }
        return _doubts;
    }

    /// <summary>What the values of now make doubtful about the bindings of one template.</summary>
    /// <param name="template">The template.</param>
    /// <param name="live">What a property shows now; null for one that is not in the running plan.</param>
    public IReadOnlyList<BindingDoubt> Moving(Template template, Func<(long EquipmentId, long PropertyId), LiveReading?> live)
    {
        (_doubts, _live) = ([], live);
        var (instances, columns) = Columns(template);
        foreach (var (property, bound) in columns)
        {
            foreach (var binding in bound)
                Value(property, binding);
            Kin(property, bound);
        }
        var rows = instances.Select((e, i) => (e.Id, i)).ToDictionary(r => r.Id, r => r.i);
        var values = columns.Select(c => c.Property.Facts.Unit is null ? [] : Row(c.Bound, rows)).ToArray();
        for (var i = 0; i < columns.Length; i++)
        for (var j = i + 1; j < columns.Length; j++)
            if (columns[i].Property.Facts.Unit is { } unit && unit == columns[j].Property.Facts.Unit)
                Pairs(columns[i].Property, columns[j].Property, values[i], values[j]);
        return _doubts;
    }

    /// <summary>What of the bindings of a template the steady doubts follow from, besides tags, names and units: while it is the same, so
    /// are they.</summary>
    public int SignOf(Template template)
    {
        var sign = new HashCode();
        sign.Add(_lexicon.Tags.Length);
        foreach (var (_, bound) in Columns(template).Columns)
        foreach (var binding in bound)
        {
            sign.Add((binding.EquipmentId, binding.PropertyId, binding.TagId, binding.Slice));
            foreach (var other in _model.Index.BindingsOf(binding.TagId))
                if (other != binding)
                    sign.Add((other.EquipmentId, other.PropertyId, other.Slice));
        }
        return sign.ToHashCode();
    }

    private (Equipment[] Instances, (ResolvedProperty Property, PropertyBinding[] Bound)[] Columns) Columns(Template template)
    {
        Equipment[] instances = [.. _model.Index.InstancesOf(template.Id).Where(e => _boundOf.ContainsKey(e.Id))];
        var properties = _model.Index.PropertiesOf(template.Id).Where(p => p.TakesTag).ToArray();
        var bound = properties.ToDictionary(p => p.Id, _ => new List<PropertyBinding>(instances.Length));
        foreach (var instance in instances)
        foreach (var binding in _boundOf[instance.Id])
            if (bound.TryGetValue(binding.PropertyId, out var column))
                column.Add(binding);
        return (instances, [.. properties.Select(p => (p, bound[p.Id].ToArray()))]);
    }

    /// <summary>The good values of a property by instance; null where there is none.</summary>
    private (PropertyBinding Binding, double Value)?[] Row(PropertyBinding[] bound, Dictionary<long, int> rows)
    {
        var values = new (PropertyBinding, double)?[rows.Count];
        foreach (var binding in bound)
            if (Good(binding) is { } value)
                values[rows[binding.EquipmentId]] = (binding, value);
        return values;
    }

    private void Doubt(PropertyBinding binding, DoubtKind kind, string words) =>
        _doubts.Add(new(binding.EquipmentId, binding.PropertyId, kind, words));

    private LiveReading? Live(PropertyBinding binding) => _live((binding.EquipmentId, binding.PropertyId));

    private double? Good(PropertyBinding binding) =>
        Live(binding) is { } live && !live.Status.IsBad && double.IsFinite(live.Value) ? live.Value : null;

    private void Value(ResolvedProperty property, PropertyBinding binding)
    {
        if (Live(binding) is not { } live)
            Doubt(binding, DoubtKind.NoValue, "It has no value yet.");
        else if (live.Status.IsBad)
            Doubt(binding, DoubtKind.NoValue, live.Why.Length > 0 ? $"{live.Why}." : "Its value is bad.");
        else if (Range(property, binding) is { IsUsable: true } range && double.IsFinite(live.Value) && !range.Contains(live.Value))
            Doubt(
                binding,
                DoubtKind.Value,
                $"{Number(live.Value)} {_model.Units.SymbolOf(property.Facts.Unit)} lies outside {Number(range.Low)} to "
                    + $"{Number(range.High)}."
            );
    }

    private Span? Range(ResolvedProperty property, PropertyBinding binding) =>
        _model.RangeOf(
            property.Facts.With(_model.Equipment[binding.EquipmentId].Patches.GetValueOrDefault(property.Id, PropertyPatch.Empty))
        );

    /// <summary>A tag that is read otherwise than those of the same property elsewhere.</summary>
    private void Readings(PropertyBinding[] bound)
    {
        if (bound.Length < FewestKin)
            return;
        var words = bound
            .Select(b => (Tag: _model.Tags[b.TagId], b.Slice))
            .Select(b =>
                (Type: TypeOf(b.Tag, b.Slice), Unit: b.Tag.Unit ?? "", Order: b.Tag.Type.Words() > 1 ? b.Tag.WordOrder.Letters() : "")
            )
            .ToArray();
        void Odd(Func<(string Type, string Unit, string Order), string> part, Func<string, string, string> say)
        {
            var usual = words.GroupBy(part).MaxBy(g => g.Count())!;
            if (usual.Count() < Agreeing * bound.Length)
                return;
            for (var i = 0; i < bound.Length; i++)
                if (part(words[i]) != usual.Key)
                    Doubt(bound[i], DoubtKind.Reading, say(part(words[i]), usual.Key));
        }
        string Symbol(string unit) => unit.Length == 0 ? "no unit" : _model.Units.SymbolOf(unit);
        Odd(w => w.Unit, (its, usual) => $"Its tag is in {Symbol(its)}, those of the others in {Symbol(usual)}.");
        Odd(w => w.Type, (its, usual) => $"Its tag is {its}, those of the others are {usual}.");
        Odd(w => w.Order, (its, usual) => $"Its bytes are read as {its}, those of the others as {usual}.");
    }

    /// <summary>What is read: a bit is a bit, whether it stands alone, in a word or in an array.</summary>
    private static string TypeOf(Tag tag, Slice? slice) =>
        slice is { IsBit: true } ? RawType.Bool.Word()
        : slice is { Element: not null } ? tag.Type.Word()
        : tag.TypeText;

    /// <summary>A value far from those of the other instances, measured by how far these lie apart.</summary>
    private void Kin(ResolvedProperty property, PropertyBinding[] bound)
    {
        if (property.Declaration.Type is not PropertyType.Number)
            return;
        var values = bound.Select(b => (Binding: b, Value: Good(b))).Where(v => v.Value is not null).ToArray();
        if (values.Length < FewestKin + 1 || _model.RangeOf(property.Facts) is not { IsUsable: true } range)
            return;
        var middle = Median([.. values.Select(v => v.Value!.Value)]);
        var spread = Median([.. values.Select(v => Math.Abs(v.Value!.Value - middle))]);
        // Where most stand still at the same value, one that moves is at work, not wrong.
        if (spread < RestPart * (range.Maximum - range.Minimum))
            return;
        var far = values
            .Where(v =>
                Math.Abs(v.Value!.Value - middle) is var off && off > FarPart * (range.Maximum - range.Minimum) && off > FarSpreads * spread
            )
            .ToArray();
        // Where several are far off it is how they run, not how they are bound.
        if (far.Length > Math.Max(1, values.Length / 10))
            return;
        foreach (var (binding, value) in far)
        {
            Doubt(
                binding,
                DoubtKind.Value,
                $"{Number(value!.Value)} {_model.Units.SymbolOf(property.Facts.Unit)}, where the others are about {Number(middle)}."
            );
        }
    }

    /// <summary>A tag whose name or description is not what those of the other instances lead to expect.</summary>
    private void Names(ResolvedProperty property, PropertyBinding[] bound)
    {
        if (bound.Length < FewestKin)
            return;
        var examples = bound
            .Select(b => new Example(_nodes.Of(b.EquipmentId), _lexicon.PositionOf[b.TagId], b.Slice, _model.Tags[b.TagId].Count))
            .ToArray();
        var learner = new RuleLearner(_lexicon, (_, _) => false);
        var sheets = examples.Select(e => e.Instance).ToArray();
        var bindingOf = bound.ToDictionary(b => b.EquipmentId);
        foreach (var face in Enum.GetValues<TagFace>())
        {
            // Any one example may itself be the wrong one, so the rule is made from several and the one that explains most is believed.
            var best = examples
                .Take(3)
                .SelectMany(e => learner.Guesses(face, e, examples, sheets, (_, _) => true, []))
                .MaxBy(g => (g.Agreed - g.Contradicted, g.Prior));
            if (best is null || best.Agreed < Agreeing * (best.Agreed + best.Contradicted) || best.Agreed < FewestKin - 1)
                continue;
            foreach (var example in examples)
            {
                if (best.Pattern.TextFor(example.Instance) is not { } expected)
                    continue;
                var tag = _lexicon.Tags[example.Position];
                if (TagLexicon.TextOf(tag, face) is not { } text)
                    continue;
                var its = face == TagFace.Name ? $"{text}{example.Slice}" : text;
                if (NameToken.KeyOf(its) == NameToken.KeyOf(expected))
                    continue;
                var binding = bindingOf[example.Instance.Instance.Id];
                Doubt(
                    binding,
                    DoubtKind.Name,
                    face == TagFace.Description
                        ? $"Its tag says \"{text}\", where those of the others lead to expect \"{expected}\"."
                        : $"It is bound to {its}, where the others lead to expect {expected}."
                );
            }
        }
    }

    /// <summary>Two properties of one unit whose values lie the other way round.</summary>
    private void Pairs(
        ResolvedProperty one,
        ResolvedProperty other,
        (PropertyBinding Binding, double Value)?[] ones,
        (PropertyBinding Binding, double Value)?[] others
    )
    {
        var (range, theirs) = (_model.RangeOf(one.Facts), _model.RangeOf(other.Facts));
        if (range is not { IsUsable: true } its || theirs is not { IsUsable: true } wide)
            return;
        var pairs = new List<(PropertyBinding One, PropertyBinding Other, double Left, double Right)>();
        for (var i = 0; i < ones.Length; i++)
            if (ones[i] is var (first, left) && others[i] is var (second, right))
                pairs.Add((first, second, left, right));
        var seen = SeenPart * Math.Min(its.Maximum - its.Minimum, wide.Maximum - wide.Minimum);
        var clear = ClearPart * Math.Min(its.Maximum - its.Minimum, wide.Maximum - wide.Minimum);
        // How all the others lie is counted once, not for each.
        var (above, below, close) = (
            pairs.Count(p => p.Left - p.Right > seen),
            pairs.Count(p => p.Right - p.Left > seen),
            pairs.Count(p => Math.Abs(p.Left - p.Right) < clear)
        );
        foreach (var (first, second, left, right) in pairs)
        {
            var (isApart, same, against) = (Math.Abs(left - right) > seen, left > right ? above : below, left > right ? below : above);
            if (!its.Contains(left) && its.Contains(right) && !wide.Contains(right) && wide.Contains(left))
                Both(first, second, $"its value lies in the range of {{0}}, and that of {{0}} in its own; the two look swapped.");
            else if (pairs.Count > FewestKin && isApart && same == 1 && against >= Agreeing * (pairs.Count - 1))
                Both(first, second, $"against {{0}} it lies the other way round than everywhere else; the two look swapped.");
        }

        // What measures the same twice should agree, as it does everywhere else.
        if (pairs.Count > FewestKin && close >= Agreeing * (pairs.Count - 1))
            foreach (var (first, _, left, right) in pairs)
                if (Math.Abs(left - right) > 2 * clear && Math.Abs(left - right) > FarPart * Math.Max(Math.Abs(left), Math.Abs(right)))
                    Doubt(
                        first,
                        DoubtKind.Value,
                        $"{Number(left)} against {Number(right)} of {other.Name}; everywhere else the two are about the same."
                    );

        void Both(PropertyBinding first, PropertyBinding second, string words)
        {
            Doubt(first, DoubtKind.Swapped, Capital(string.Format(CultureInfo.InvariantCulture, words, other.Name)));
            Doubt(second, DoubtKind.Swapped, Capital(string.Format(CultureInfo.InvariantCulture, words, one.Name)));
        }
    }

    private static string Capital(string words) => char.ToUpperInvariant(words[0]) + words[1..];

    private static double Median(double[] values)
    {
        Array.Sort(values);
        return values.Length % 2 == 1 ? values[values.Length / 2] : (values[values.Length / 2 - 1] + values[values.Length / 2]) / 2;
    }

    private static string Number(double value) =>
        value.ToString(value == 0 || Math.Abs(value) is >= 0.0005 and < 1e6 ? "0.###" : "0.##E+0", CultureInfo.InvariantCulture);
}
