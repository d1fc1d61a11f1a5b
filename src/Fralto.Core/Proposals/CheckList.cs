using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Templates;

namespace Fralto.Core.Proposals;

/// <summary>All bindings of a model in the order of the plant, listed once so that any page of them costs a walk over flat arrays, and no
/// look-up and no sorting.</summary>
public sealed class CheckList
{
    private const byte Fine = byte.MaxValue;
    private static readonly int Kinds = Enum.GetValues<DoubtKind>().Length;

    private readonly PlantModel _model;
    private readonly Dictionary<long, Dictionary<long, (ResolvedProperty Property, int Column)>> _columns;

    // In the order of the plant, one entry a binding: where it stands, its template, whether it is checked, and how grave the gravest doubt
    // is.
    private readonly long[] _keys;
    private readonly CheckLine[] _lines;
    private readonly long[] _templates;
    private readonly bool[] _checked;
    private readonly byte[] _grave;

    private CheckList(
        PlantModel model,
        Dictionary<long, Dictionary<long, (ResolvedProperty, int)>> columns,
        long[] keys,
        CheckLine[] lines,
        long[] templates,
        bool[] isChecked,
        byte[] grave
    ) => (_model, _columns, _keys, _lines, _templates, _checked, _grave) = (model, columns, keys, lines, templates, isChecked, grave);

    /// <summary>Templates whose instances, or those of what inherits from them, have a binding.</summary>
    public IReadOnlyCollection<Template> Templates
    {
        get
        {
            var templates = new HashSet<Template>();
            foreach (var id in _columns.Keys)
            {
                long? at = id;
                while (at is { } its && templates.Add(_model.Templates[its]))
                    at = _model.Templates[its].ParentId;
            }
            return templates;
        }
    }

    /// <summary>Lists the bindings of a model; nothing is known yet of what looks wrong.</summary>
    public static CheckList Of(PlantModel model)
    {
        var columns = new Dictionary<long, Dictionary<long, (ResolvedProperty Property, int Column)>>();
        var nodes = model.Index.EquipmentInOrder;
        var (keys, lines, count) = (new long[model.Bindings.Count], new CheckLine[model.Bindings.Count], 0);
        // Bindings are walked and then put in order: looking up each cell of the plant by itself takes ten times as long.
        foreach (var binding in model.Bindings.Values)
        {
            if (
                model.Index.RangeOf(binding.EquipmentId) is not var (position, _)
                || nodes[position] is not { TemplateId: { } template } node
            )
                continue;
            if (!columns.TryGetValue(template, out var its))
                columns[template] = its = model
                    .Index.PropertiesOf(template)
                    .Select((p, i) => (p, i))
                    .ToDictionary(p => p.p.Id, p => (p.p, p.i));
            if (!its.TryGetValue(binding.PropertyId, out var at))
                continue;
            keys[count] = KeyOf(position, at.Column);
            lines[count++] = new(node, at.Property, binding, position);
        }
        Array.Sort(keys, lines, 0, count);
        (keys, lines) = (keys[..count], lines[..count]);
        var grave = new byte[count];
        Array.Fill(grave, Fine);
        return new(
            model,
            columns,
            keys,
            lines,
            [.. lines.Select(l => l.Instance.TemplateId!.Value)],
            [.. lines.Select(l => l.Binding.Checked is not null)],
            grave
        );
    }

    /// <summary>The same list, with what looks wrong marked.</summary>
    /// <param name="doubts">What looks wrong, by instance and property, the gravest first; those about bindings that are no longer there
    /// are passed over.</param>
    public CheckList Marked(IReadOnlyDictionary<(long EquipmentId, long PropertyId), BindingDoubt[]> doubts)
    {
        var grave = new byte[_lines.Length];
        Array.Fill(grave, Fine);
        var nodes = _model.Index.EquipmentInOrder;
        foreach (var ((equipment, property), said) in doubts)
            if (
                _model.Index.RangeOf(equipment) is var (position, _)
                && nodes[position].TemplateId is { } template
                && _columns.TryGetValue(template, out var its)
                && its.TryGetValue(property, out var at)
                && Array.BinarySearch(_keys, KeyOf(position, at.Column)) is >= 0 and var i
            )
                grave[i] = (byte)said[0].Kind;
        return new(_model, _columns, _keys, _lines, _templates, _checked, grave);
    }

    /// <summary>A page of the list.</summary>
    /// <param name="template">Only instances of this template and of what inherits from it; null for all.</param>
    /// <param name="place">Only what lies at or below this place; null for all.</param>
    /// <param name="filter">Which of them.</param>
    /// <param name="number">The page, from 1; brought into what there is.</param>
    /// <param name="size">Lines of a page.</param>
    public CheckPage Page(long? template, long? place, CheckFilter filter, int number, int size)
    {
        var family =
            template is { } asked && _model.Templates.ContainsKey(asked)
                ? _model.Index.FamilyOf(asked).Select(t => t.Id).ToHashSet()
                : null;
        var (from, to) = (0, _lines.Length);
        if (place is { } at && _model.Index.RangeOf(at) is var (first, last))
            (from, to) = (IndexOf(first), IndexOf(last));
        bool IsAsked(int i) => family is null || family.Contains(_templates[i]);
        bool IsShown(int i) =>
            filter switch
            {
                CheckFilter.Left => !_checked[i],
                CheckFilter.Wrong => _grave[i] != Fine,
                _ => true,
            };
        var (all, left, wrong, shown) = (0, 0, 0, 0);
        for (var i = from; i < to; i++)
        {
            if (!IsAsked(i))
                continue;
            all++;
            if (!_checked[i])
                left++;
            if (_grave[i] != Fine)
                wrong++;
            if (IsShown(i))
                shown++;
        }
        size = Math.Clamp(size, 1, Math.Max(1, shown));
        number = Math.Clamp(number, 1, Math.Max(1, (shown + size - 1) / size));
        var (lines, skip) = (new List<CheckLine>(size), (number - 1) * size);
        // What looks wrong comes first on whatever page, the gravest before all.
        for (var kind = 0; kind <= Kinds && lines.Count < size; kind++)
        for (var i = from; i < to && lines.Count < size; i++)
            if (_grave[i] == (kind == Kinds ? Fine : kind) && IsAsked(i) && IsShown(i) && --skip < 0)
                lines.Add(_lines[i]);
        return new(lines, number, shown, all, left, wrong);
    }

    private static long KeyOf(int position, int column) => ((long)position << 20) + column;

    private int IndexOf(int position) => Array.BinarySearch(_keys, KeyOf(position, 0)) is var i && i >= 0 ? i : ~i;
}
