using Fralto.Core.Basics;
using Fralto.Core.Formulas;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Units;

namespace Fralto.Core.Rules;

/// <summary>What the names in the formulas of a template, or of one of its instances, stand for.</summary>
public sealed class FormulaNames : IFormulaNames
{
    /// <summary>Instances of a template that are asked what stands above them.</summary>
    private const int Asked = 3;

    private const int Suggested = 4;

    /// <summary>Stands among what was looked at for templates, wherever they stand.</summary>
    internal const long AnyTemplate = -1;

    /// <summary>Stands among what was looked at for the instances there are, wherever they stand.</summary>
    internal const long AnyInstance = -2;
    private readonly PlantModel _model;
    private readonly long _template;
    private readonly Equipment? _at;

    private readonly ISet<long>? _seen;

    private FormulaNames(PlantModel model, long template, Equipment? at, ISet<long>? seen = null) =>
        (_model, _template, _at, _seen) = (model, template, at, seen);

    /// <summary>As seen from a template.</summary>
    public static FormulaNames Of(PlantModel model, long templateId) => new(model, templateId, null);

    /// <summary>As seen from an instance.</summary>
    /// <param name="model">The model.</param>
    /// <param name="instance">The instance.</param>
    /// <param name="seen">Takes the ids of the nodes that are looked at; null where nobody asks.</param>
    public static FormulaNames Of(PlantModel model, Equipment instance, ISet<long>? seen = null) =>
        new(model, instance.TemplateId ?? 0, instance, seen);

    /// <inheritdoc/>
    public UnitSet Units => _model.Units;

    /// <summary>Tells whether a text with a hyphen is the code of a property, a part or a node.</summary>
    public static Func<string, bool> Codes(PlantModel model)
    {
        var hyphened = new Lazy<HashSet<string>>(() =>
            model
                .Templates.Values.SelectMany(t =>
                    t.Properties.Select(p => p.Code).Concat(t.Parts.SelectMany(p => p.Members).Select(m => m.Code))
                )
                .Concat(model.Equipment.Values.Select(e => e.Code))
                .Where(c => c.Contains('-', StringComparison.Ordinal))
                .ToHashSet(StringComparer.Ordinal)
        );
        return text => hyphened.Value.Contains(text);
    }

    /// <inheritdoc/>
    public FormulaType? TypeOf(FormulaReference reference) => Find(reference) is { } found ? TypeOf(_model, found.Property) : null;

    /// <summary>What a property gives.</summary>
    public static FormulaType TypeOf(PlantModel model, ResolvedProperty property) =>
        FormulaType.Of(
            property.Declaration.Type,
            model.Units.Find(property.Facts.Unit),
            property.Facts.StateListId is { } list ? model.StateLists.GetValueOrDefault(list) : null
        );

    /// <summary>What a formula of a property has to give.</summary>
    public static FormulaTarget TargetOf(PlantModel model, ResolvedProperty property) =>
        new(
            property.Declaration.Type,
            model.Units.Find(property.Facts.Unit),
            property.Facts.StateListId is { } list ? model.StateLists.GetValueOrDefault(list) : null
        );

    /// <summary>The property that is meant, and the instance that has it; of a template, null in its place.</summary>
    public (Equipment? At, ResolvedProperty Property)? Find(FormulaReference reference)
    {
        if (_at is not null)
            return FindAt(_at, reference);
        if (reference.Place == ReferencePlace.Own && FindOwn(_template, reference) is { } own)
            return (null, own);
        _seen?.Add(AnyTemplate);
        _seen?.Add(AnyInstance);
        foreach (var instance in _model.Index.FamilyOf(_template).SelectMany(t => _model.Index.InstanceIdsOf(t.Id)).Take(Asked))
            if (_model.Equipment.TryGetValue(instance, out var node) && FindAt(node, reference) is { } found)
                return (null, found.Property);
        // Where nothing stands yet, what is called so anywhere.
        return
            reference.Place != ReferencePlace.Own
            && _model
                .Templates.Values.OrderBy(t => t.Id)
                .Select(t => Named(_model.Index.PropertiesOf(t.Id), reference.Code))
                .FirstOrDefault(p => p is not null)
                is { } any
            ? (null, any)
            : null;
    }

    /// <inheritdoc/>
    public IFormulaNames? Below(string template)
    {
        _seen?.Add(AnyTemplate);
        return TemplateOf(template) is { } found ? new FormulaNames(_model, found.Id, null, _seen) : null;
    }

    /// <summary>The template of a code or name.</summary>
    internal Templates.Template? TemplateOf(string template) =>
        _model.Templates.Values.FirstOrDefault(t => t.Code.Equals(template, StringComparison.OrdinalIgnoreCase))
        ?? _model.Templates.Values.FirstOrDefault(t => t.Name.Equals(template, StringComparison.OrdinalIgnoreCase));

    /// <inheritdoc/>
    public FormulaProblem UnknownTemplate(string template, int at, int end)
    {
        var near = Nearest(template, _model.Templates.Values.Select(t => t.Code));
        return new(at, Math.Max(1, end - at), $"There is no template {template}{Or(near)}", near.Length == 1 ? near[0] : null);
    }

    /// <inheritdoc/>
    public FormulaProblem Unknown(FormulaReference reference, int at, int end)
    {
        var near = Nearest(reference.Path, Known());
        if (near.Length == 0 && FormulaFunction.Find(reference.Path) is { } function)
            return new(at, Math.Max(1, end - at), $"{function.Name} is a function: write {function.Example}.");
        var where = reference.Place switch
        {
            ReferencePlace.Above => "The place above has no property",
            ReferencePlace.Nearest => "No place up the hierarchy has a property",
            _ => $"{_at?.Name ?? _model.Templates.GetValueOrDefault(_template)?.Name ?? "The template"} has no property",
        };
        return new(
            at,
            Math.Max(1, end - at),
            $"{where} {reference.Path}{(reference.Place == ReferencePlace.Own ? Or(near) : ".")}",
            near.Length == 1 && reference.Place == ReferencePlace.Own ? near[0] : null
        );
    }

    /// <summary>All that a formula can name by itself: own properties, then those of parts.</summary>
    public IEnumerable<string> Known()
    {
        if (!_model.Templates.ContainsKey(_template))
            return [];
        return _model
            .Index.PropertiesOf(_template)
            .Select(p => p.Code)
            .Concat(
                _model
                    .Index.PartsOf(_template)
                    .SelectMany(part =>
                        part.Members.Take(Asked)
                            .SelectMany(m => _model.Index.PropertiesOf(part.TemplateId).Select(p => $"{m.Code}.{p.Code}"))
                    )
            );
    }

    private (Equipment? At, ResolvedProperty Property)? FindAt(Equipment from, FormulaReference reference)
    {
        var node = from;
        _seen?.Add(node.Id);
        for (var i = 0; i < reference.Up; i++)
        {
            if (node.ParentId is not { } above)
                return null;
            node = _model.Equipment[above];
            _seen?.Add(node.Id);
        }
        if (reference.Place != ReferencePlace.Nearest)
            return At(node, reference);
        while (node.ParentId is { } above)
        {
            node = _model.Equipment[above];
            if (At(node, reference) is { } found)
                return found;
        }
        return null;
    }

    private (Equipment? At, ResolvedProperty Property)? At(Equipment node, FormulaReference reference)
    {
        _seen?.Add(node.Id);
        foreach (var code in reference.Parts)
        {
            Equipment? next = null;
            foreach (var id in _model.Index.ChildIdsOf(node.Id))
                if (_model.Equipment[id] is var child && child.Code == code)
                    next = child;
            if (next is null)
                return null;
            node = next;
            _seen?.Add(node.Id);
        }
        if (node.TemplateId is not { } template || Named(_model.Index.PropertiesOf(template), reference.Code) is not { } property)
            return null;
        return (
            node,
            node.Patches.TryGetValue(property.Id, out var own) ? property with { Facts = property.Facts.With(own), Own = own } : property
        );
    }

    private ResolvedProperty? FindOwn(long template, FormulaReference reference)
    {
        foreach (var code in reference.Parts)
        {
            if (_model.Index.PartsOf(template).FirstOrDefault(p => p.Members.Any(m => m.Code == code)) is not { } part)
                return null;
            template = part.TemplateId;
        }
        return _model.Templates.ContainsKey(template) ? Named(_model.Index.PropertiesOf(template), reference.Code) : null;
    }

    private static ResolvedProperty? Named(System.Collections.Immutable.ImmutableArray<ResolvedProperty> properties, string code)
    {
        foreach (var property in properties)
            if (property.Code == code)
                return property;
        return null;
    }

    private static string Or(string[] near) => near.Length == 0 ? "." : $"; did you mean {string.Join(" or ", near)}?";

    private static string[] Nearest(string text, IEnumerable<string> known)
    {
        var reach = Math.Max(1, text.Length / 3);
        return
        [
            .. known
                .Distinct()
                .Select(k => (Text: k, Distance: Naming.Distance(k.ToLowerInvariant(), text.ToLowerInvariant())))
                .Where(k => k.Distance <= reach || k.Text.StartsWith(text, StringComparison.OrdinalIgnoreCase) && text.Length > 2)
                .OrderBy(k => k.Distance)
                .Take(Suggested)
                .Select(k => k.Text),
        ];
    }
}
