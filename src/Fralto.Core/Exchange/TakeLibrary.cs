using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Core.Exchange;

/// <summary>Makes templates of object types, and equipment of objects, with their tags and bindings where a controller has them: the
/// structure is the rule. What is there already stays as it is, and gets what it lacks.</summary>
/// <param name="Library">Types and objects.</param>
/// <param name="PlaceId">Where objects without one above them are put; null for the top.</param>
/// <param name="ControllerId">The controller whose nodes their variables are; null for none, and nothing is bound.</param>
public sealed record TakeLibrary(TypeLibrary Library, long? PlaceId = null, long? ControllerId = null) : Edit
{
    /// <summary>The most types and objects that are taken at once.</summary>
    public const int Most = 5000;

    private const string TypeWord = "Type";

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (PlaceId is { } id && !model.Equipment.ContainsKey(id))
            return Gone("The place");
        if (ControllerId is { } controller && !model.Controllers.ContainsKey(controller))
            return Gone("The controller");
        if (Library.Types.IsEmpty && Library.Objects.IsEmpty)
            return EditOutcome.Refused("", "No type is chosen; choose at least one.");
        if (Library.Types.Length + Library.Objects.Length > Most)
            return EditOutcome.Refused(
                "",
                $"{Library.Types.Length + Library.Objects.Length} types and objects at once; {Most} is the most."
            );
        var taking = new Taking(model, this);
        foreach (var states in Library.States)
            if (!taking.TakeStates(states))
                return taking.Refused!;
        foreach (var type in Ordered(Library.Types))
            if (!taking.TakeType(type))
                return taking.Refused!;
        foreach (var type in Library.Types)
            if (!taking.TakeParts(type))
                return taking.Refused!;
        if (!taking.TakeFormulas())
            return taking.Refused!;
        foreach (var its in Library.Objects)
            if (!taking.TakeObject(its))
                return taking.Refused!;
        if (!taking.TakeTags())
            return taking.Refused!;
        var changes = Several.Merged(taking.Made);
        if (changes.Length == 0)
            return EditOutcome.Refused("", "All of these are there already.");
        return EditOutcome.Changed(
            $"Take {Count(Library.Types.Length, "type")}"
                + (Library.Objects.IsEmpty ? "" : $" and {Count(Library.Objects.Length, "object")}"),
            changes
        );
    }

    /// <summary>The code of the template a type becomes: its name without the word Type that names of types end in (OPC UA Part 3,
    /// clause 5.5.1, common practice).</summary>
    public static string CodeOf(LibraryType type) =>
        Naming.Suggest(
            type.Code.Length > TypeWord.Length && type.Code.EndsWith(TypeWord, StringComparison.Ordinal)
                ? type.Code[..^TypeWord.Length]
                : type.Code
        );

    /// <summary>Types with each base before what is a kind of it; those in a circle are left to be refused.</summary>
    private static IEnumerable<LibraryType> Ordered(ImmutableArray<LibraryType> types)
    {
        var (byId, done) = (types.GroupBy(t => t.Id).ToDictionary(g => g.Key, g => g.First()), new HashSet<string>());
        return types.SelectMany(t => Up(t, []));

        IEnumerable<LibraryType> Up(LibraryType type, HashSet<string> below)
        {
            if (done.Contains(type.Id) || !below.Add(type.Id))
                return [];
            var above = type.BaseId is { } based && byId.TryGetValue(based, out var it) ? Up(it, below).ToArray() : [];
            return done.Add(type.Id) ? [.. above, type] : above;
        }
    }

    /// <summary>What taking has come to: the model so far, and what became of each type and object.</summary>
    private sealed class Taking(PlantModel model, TakeLibrary edit)
    {
        private readonly Dictionary<string, long> _types = [];
        private readonly Dictionary<string, long> _objects = [];
        private readonly List<(long Template, LibraryVariable Variable, string What)> _formulas = [];
        private readonly long _first = model.NextId;
        private PlantModel _at = model;

        public List<ModelChange> Made { get; } = [];

        public EditOutcome? Refused { get; private set; }

        public bool TakeStates(LibraryStates states) =>
            _at.StateLists.Values.Any(s => Is(s.Code, Naming.Suggest(states.Code)))
            || Step(new SaveStateList(null, Naming.Suggest(states.Code), Naming.SuggestName(states.Name), states.States), states.Code);

        public bool TakeType(LibraryType type)
        {
            var code = CodeOf(type);
            long? parent = type.BaseId is { } based && _types.TryGetValue(based, out var above) ? above : null;
            var isNew = false;
            if (_at.Templates.Values.FirstOrDefault(t => Is(t.Code, code)) is not { } template)
            {
                isNew = true;
                var name = Naming.SuggestName(type.Name);
                if (!Step(new SaveTemplate(null, code, name, parent, Short(type.Description), type.Levels), type.Code))
                    return false;
                template = _at.Templates.Values.First(t => Is(t.Code, code));
            }
            _types[type.Id] = template.Id;
            foreach (var variable in type.Variables)
            {
                if (_at.Index.PropertiesOf(template.Id).FirstOrDefault(p => Is(p.Code, Naming.Suggest(variable.Code))) is { } known)
                {
                    if (!isNew || !Refine(template.Id, known, variable, $"{type.Code} {variable.Code}"))
                        continue;
                }
                else if (variable.Formula is not null)
                    _formulas.Add((template.Id, variable, $"{type.Code} {variable.Code}"));
                else if (!Step(Declared(template.Id, variable), $"{type.Code} {variable.Code}"))
                    return false;
            }
            return Refused is null;
        }

        /// <summary>What a kind says otherwise than the type it is a kind of.</summary>
        private bool Refine(long template, ResolvedProperty known, LibraryVariable variable, string what)
        {
            var said = Declared(template, variable).Facts;
            var own = known.Own with
            {
                Unit = said.Unit is not null && said.Unit != known.Facts.Unit ? said.Unit : known.Own.Unit,
                Range = said.Range is not null && said.Range != known.Facts.Range ? said.Range : known.Own.Range,
            };
            return own == known.Own || Step(ManyEdits.Exactly(template, known, own), what);
        }

        /// <summary>Formulas come last: each once all it names is there.</summary>
        public bool TakeFormulas()
        {
            var left = _formulas.ToList();
            while (left.Count > 0)
            {
                var before = left.Count;
                left.RemoveAll(f =>
                {
                    var outcome = Declared(f.Template, f.Variable).On(_at);
                    if (!outcome.IsRefused)
                        Apply(outcome);
                    return !outcome.IsRefused;
                });
                if (left.Count == before)
                    return Step(Declared(left[0].Template, left[0].Variable), left[0].What);
            }
            return true;
        }

        public bool TakeParts(LibraryType type)
        {
            var id = _types[type.Id];
            foreach (var part in type.Parts)
            {
                if (
                    !_types.TryGetValue(part.TypeId, out var of)
                    || _at.Index.AncestryOf(id).Any(t => t.Parts.Any(p => Is(p.Code, PartCode(part))))
                )
                    continue;
                var level = part.Level ?? EquipmentLevel.EquipmentModule;
                if (!Step(new SavePart(id, null, PartCode(part), part.Name, of, level, part.Count), $"{type.Code} {part.Code}"))
                    return false;
            }
            return true;
        }

        public bool TakeObject(LibraryObject its)
        {
            long? above = its.ParentId is { } parent && _objects.TryGetValue(parent, out var known) ? known : edit.PlaceId;
            var code = Naming.Suggest(its.Code);
            if (_at.Index.ChildrenOf(above).FirstOrDefault(e => Is(e.Code, code)) is { } there)
            {
                _objects[its.Id] = there.Id;
                // A part its whole was made with just now has yet to hear what it says of itself.
                return there.Id < _first || Own(its);
            }
            long? template = its.TypeId is { } type && _types.TryGetValue(type, out var of) ? of : null;
            var node = above is { } at ? _at.Equipment[at] : null;
            var level = its.Level ?? MakeEquipment.LevelOf(_at, node, template is { } t ? _at.Templates[t] : null);
            if (level is null)
            {
                Refused = EditOutcome.Refused("", $"{its.Code}: nothing can stand below {node!.Name}; put it elsewhere.");
                return false;
            }
            if (!Step(new SaveEquipment(null, code, Naming.SuggestName(its.Name), level.Value, above, template), its.Code))
                return false;
            _objects[its.Id] = _at.Index.ChildrenOf(above).Last(e => Is(e.Code, code)).Id;
            return Own(its);
        }

        /// <summary>What an object says otherwise than its type: fixed values, units and ranges of its own.</summary>
        private bool Own(LibraryObject its)
        {
            foreach (var variable in its.Variables)
            {
                var node = _at.Equipment[_objects[its.Id]];
                if (
                    node.TemplateId is null
                    || _at.Index.PropertiesOf(node).FirstOrDefault(p => Is(p.Code, Naming.Suggest(variable.Code))) is not { } known
                )
                    continue;
                var isFixed = known.Declaration.Kind == PropertyKind.Fixed;
                var isNumber = known.Declaration.Type is PropertyType.Number or PropertyType.Integer;
                var own = known.Own with
                {
                    Value = isFixed && variable.Value is { } value && value != known.Facts.Value ? value : known.Own.Value,
                    Range =
                        isNumber && !isFixed && variable.Range is { } range && range != _at.RangeOf(known.Facts) ? range : known.Own.Range,
                };
                if (own != known.Own && !Step(PatchProperty.Exactly(node.Id, known.Id, own), $"{its.Code} {variable.Code}"))
                    return false;
            }
            return true;
        }

        /// <summary>Declares what is no tag yet, and binds what fits: a name leads from the object through its parts to a
        /// property.</summary>
        public bool TakeTags()
        {
            if (edit.ControllerId is not { } controller)
                return true;
            var all = edit.Library.Objects.SelectMany(o => o.Tags.Select(t => (Object: o, Tag: t))).ToArray();
            var places = _at.Index.TagsOf(controller).Select(t => t.Address.Place).ToHashSet(StringComparer.Ordinal);
            var missing = all.Select(a => Named(a.Object, a.Tag)).Where(t => !places.Contains(t.Address.Place)).ToImmutableArray();
            if (!missing.IsEmpty && !Step(new DeclareTags(controller, missing), "tags"))
                return false;
            var byPlace = _at
                .Index.TagsOf(controller)
                .GroupBy(t => t.Address.Place)
                .ToDictionary(g => g.Key, g => g.First().Id, StringComparer.Ordinal);
            foreach (var (its, item) in all)
            {
                if (Cell(_objects[its.Id], item.Path) is not var (equipment, property) || _at.Bindings.ContainsKey((equipment, property)))
                    continue;
                var bound = new Bind(equipment, property, byPlace[item.Address.Place]).On(_at);
                // What does not fit its property, such as a whole array, stays a tag that somebody may bind in part.
                if (!bound.IsRefused)
                    Apply(bound);
            }
            return true;
        }

        private static SourceItem Named(LibraryObject its, SourceItem item) => item with { Path = [its.Code, .. item.Path] };

        private (long Equipment, long Property)? Cell(long equipment, IReadOnlyList<string> path)
        {
            var at = _at.Equipment[equipment];
            for (var i = 0; ; i++)
            {
                if (
                    at.TemplateId is { } template
                    && _at
                        .Index.PropertiesOf(template)
                        .FirstOrDefault(p => p.TakesTag && Is(p.Code, Naming.Suggest(string.Join(' ', path.Skip(i)))))
                        is { } property
                )
                    return (at.Id, property.Id);
                if (
                    i + 1 >= path.Count
                    || _at.Index.ChildrenOf(at.Id).FirstOrDefault(e => Is(e.Code, Naming.Suggest(path[i]))) is not { } below
                )
                    return null;
                at = below;
            }
        }

        private SaveProperty Declared(long template, LibraryVariable variable)
        {
            var list = variable.States is { } states ? _at.StateLists.Values.FirstOrDefault(s => Is(s.Code, Naming.Suggest(states))) : null;
            var type =
                list is not null ? PropertyType.State
                : variable.Type == PropertyType.State ? PropertyType.Integer
                : variable.Type;
            var isNumber = type is PropertyType.Number or PropertyType.Integer;
            return new(
                template,
                null,
                Naming.Suggest(variable.Code),
                Naming.SuggestName(variable.Name),
                variable.Kind,
                type,
                new PropertyPatch
                {
                    Unit = isNumber ? (_at.Units.Find(variable.Unit) ?? _at.Units.Match(variable.Unit ?? ""))?.Code : null,
                    Range = isNumber ? variable.Range : null,
                    StateListId = list?.Id,
                    Value = variable.Kind == PropertyKind.Fixed ? variable.Value : null,
                    Formula = variable.Formula,
                }
            );
        }

        private bool Step(Edit one, string what)
        {
            var outcome = one.On(_at);
            if (outcome.IsRefused)
                Refused = EditOutcome.Refused("", $"{what}: {string.Join(" ", outcome.Problems.Select(p => p.Message))}");
            else
                Apply(outcome);
            return Refused is null;
        }

        private void Apply(EditOutcome outcome)
        {
            _at = _at.Apply(outcome.Changes);
            Made.AddRange(outcome.Changes);
        }

        private static string PartCode(LibraryPart part) =>
            part.Code.Contains("{n}", StringComparison.Ordinal) ? part.Code : Naming.Suggest(part.Code);

        private static string Short(string text) => text.Length <= Naming.LongestName ? text : text[..Naming.LongestName];

        private static bool Is(string one, string other) => one.Equals(other, StringComparison.OrdinalIgnoreCase);
    }
}
