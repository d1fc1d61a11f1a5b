using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Formulas;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.NamingRules;
using Fralto.Core.Notices;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Recording;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Exchange;

/// <summary>Makes the working model what a document says, as one edit. What has the same code, path or name stays the same thing and keeps
/// its id.</summary>
/// <remarks>Refused with everything that is wrong, each with its place in the document; the field of a problem is a JSON path.</remarks>
public sealed record ReplaceModel(ModelDocument Document) : Edit
{
    /// <summary>The most problems that are listed.</summary>
    public const int MostProblems = 1000;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var target = new Reading(model, Document);
        if (target.Problems.Count > 0)
            return EditOutcome.Refused(target.Problems.Take(MostProblems));
        var next = target.Model;
        var problems = Integrity.Problems(next).Concat(Facts(next)).Take(MostProblems).ToArray();
        if (problems.Length > 0)
            return EditOutcome.Refused(problems.Select(p => p.Field.StartsWith('$') ? p : p with { Field = "$" }));
        var changes = Differences(model.Bindings, next.Bindings, b => b, removals: true)
            .Concat(Differences(model.NamingConventions, next.NamingConventions, c => c, removals: true))
            .Concat(Differences(model.Equipment, next.Equipment, e => e, removals: true))
            .Concat(Differences(model.Tags, next.Tags, t => t, removals: true))
            .Concat(Differences(model.Devices, next.Devices, d => d, removals: true))
            .Concat(Differences(model.Controllers, next.Controllers, c => c, removals: true))
            .Concat(Differences(model.Layouts, next.Layouts, l => l, removals: true))
            .Concat(Differences(model.Templates, next.Templates, t => t, removals: true))
            .Concat(Differences(model.StateLists, next.StateLists, s => s, removals: true))
            .Concat(Differences(model.Scales, next.Scales, s => s, removals: true))
            .Concat(Differences(model.OwnUnits, next.OwnUnits, u => u, removals: true))
            .Concat(Differences(model.Calendars, next.Calendars, c => c, removals: true))
            .Concat(Differences(model.AlarmSetups, next.AlarmSetups, c => c, removals: true))
            .Concat(Differences(model.AlarmSetups, next.AlarmSetups, c => c, removals: false))
            .Concat(Differences(model.Calendars, next.Calendars, c => c, removals: false))
            .Concat(Differences(model.OwnUnits, next.OwnUnits, u => u, removals: false))
            .Concat(Differences(model.Scales, next.Scales, s => s, removals: false))
            .Concat(Differences(model.StateLists, next.StateLists, s => s, removals: false))
            .Concat(Differences(model.Templates, next.Templates, t => t, removals: false))
            .Concat(Differences(model.Layouts, next.Layouts, l => l, removals: false))
            .Concat(Differences(model.Controllers, next.Controllers, c => c, removals: false))
            .Concat(Differences(model.Devices, next.Devices, d => d, removals: false))
            .Concat(Differences(model.Tags, next.Tags, t => t, removals: false))
            .Concat(Differences(model.Equipment, next.Equipment, e => e, removals: false))
            .Concat(Differences(model.Bindings, next.Bindings, b => b, removals: false))
            .Concat(Differences(model.NamingConventions, next.NamingConventions, c => c, removals: false))
            .ToImmutableArray();
        var (added, changed, removed) = (
            changes.Count(c => c.Before is null),
            changes.Count(c => c.Before is not null && c.After is not null),
            changes.Count(c => c.After is null)
        );
        return EditOutcome.Changed($"Take in a whole model: {added} added, {changed} changed, {removed} taken out", changes);
    }

    private static IEnumerable<ModelChange> Differences<TKey, T>(
        ImmutableDictionary<TKey, T> before,
        ImmutableDictionary<TKey, T> after,
        Func<T, object> boxed,
        bool removals
    )
        where TKey : notnull
        where T : class =>
        removals
            ? before.Where(e => !after.ContainsKey(e.Key)).Select(e => new ModelChange(boxed(e.Value), null))
            : after
                .Where(e => !before.TryGetValue(e.Key, out var old) || !old.Equals(e.Value))
                .Select(e => new ModelChange(before.GetValueOrDefault(e.Key), boxed(e.Value)));

    private static IEnumerable<Problem> Facts(PlantModel model)
    {
        foreach (var template in model.Templates.Values)
        foreach (var property in model.Index.PropertiesOf(template.Id).Where(p => !p.Own.IsEmpty || p.DeclaredBy == template.Id))
        foreach (var problem in FactRules.Problems(model, property.Declaration, property.Facts))
            yield return new(
                $"$.templates[?(@.code=='{template.Code}')]",
                $"{template.Code} {property.Code}, {problem.Field}: {problem.Message}"
            );
        foreach (var node in model.Equipment.Values.Where(e => !e.Patches.IsEmpty))
        foreach (var property in model.Index.PropertiesOf(node).Where(p => !p.Own.IsEmpty))
        foreach (var problem in FactRules.Problems(model, property.Declaration, property.Facts))
            yield return new(
                $"$.equipment[?(@.path=='{model.Index.PathOf(node.Id)}')]",
                $"{model.Index.PathOf(node.Id)} {property.Code}, {problem.Field}: {problem.Message}"
            );
    }

    /// <summary>Turns entries into entities, finding by code, path and name what is there already.</summary>
    private sealed class Reading
    {
        private static readonly StringComparer Any = StringComparer.OrdinalIgnoreCase;
        private readonly PlantModel _before;
        private readonly Dictionary<string, StateList> _sets = new(Any);
        private readonly Dictionary<string, OwnUnit> _units = new(Any);
        private readonly Dictionary<string, LibraryScale> _scales = new(Any);
        private readonly Dictionary<string, Template> _templates = new(Any);
        private readonly Dictionary<string, Equipment> _nodes = new(Any);
        private readonly Dictionary<string, Controller> _controllers = new(Any);
        private readonly Dictionary<(string, string), Tag> _tags = [];
        private readonly Dictionary<string, DeviceLayout> _layouts = new(Any);
        private readonly List<Device> _devices = [];
        private readonly Dictionary<(long, long), PropertyBinding> _bindings = [];
        private readonly Dictionary<long, Dictionary<string, PropertyDeclaration>> _propertiesOf = [];
        private readonly HashSet<long> _taken = [];
        private long _nextId;

        public Reading(PlantModel before, ModelDocument document)
        {
            (_before, _nextId) = (before, before.NextId);
            ReadStateLists(document.StateLists);
            ReadUnits(document.Units);
            var calendar = CalendarOf(document.Calendar);
            ReadScales(document.Scales);
            ReadTemplates(document.Templates);
            var patterns = PatternsOf(document.NamingConventions ?? []);
            ReadEquipment(document.Equipment);
            var alarms = AlarmsOf(document);
            ReadLayouts(document.Layouts);
            ReadControllers(document.Controllers);
            ReadRefused(document.Equipment);
            ReadBindings(document.Bindings);
            Model = new PlantModel
            {
                NextId = _nextId,
                StateLists = _sets.Values.ToImmutableDictionary(s => s.Id),
                OwnUnits = _units.Values.ToImmutableDictionary(u => u.Id),
                Calendars = calendar is null
                    ? ImmutableDictionary<long, SiteCalendar>.Empty
                    : ImmutableDictionary<long, SiteCalendar>.Empty.Add(calendar.Id, calendar),
                AlarmSetups = alarms is null
                    ? ImmutableDictionary<long, AlarmSetup>.Empty
                    : ImmutableDictionary<long, AlarmSetup>.Empty.Add(alarms.Id, alarms),
                NamingConventions = patterns,
                Scales = _scales.Values.ToImmutableDictionary(s => s.Id),
                Templates = _templates.Values.ToImmutableDictionary(t => t.Id),
                Equipment = _nodes.Values.ToImmutableDictionary(e => e.Id),
                Controllers = _controllers.Values.ToImmutableDictionary(c => c.Id),
                Tags = _tags.Values.ToImmutableDictionary(t => t.Id),
                Layouts = _layouts.Values.ToImmutableDictionary(l => l.Id),
                Devices = _devices.ToImmutableDictionary(d => d.Id),
                Bindings = _bindings.Values.ToImmutableDictionary(b => (b.EquipmentId, b.PropertyId)),
            };
        }

        public List<Problem> Problems { get; } = [];

        public PlantModel Model { get; }

        private static string At(string list, int index) => string.Create(CultureInfo.InvariantCulture, $"$.{list}[{index}]");

        private void Refuse(string place, string message) => Problems.Add(new(place, message));

        private void Refuse(string place, IEnumerable<Problem> problems)
        {
            foreach (var problem in problems)
                Problems.Add(
                    new(
                        problem.Field.Length == 0 ? place : $"{place}.{char.ToLowerInvariant(problem.Field[0])}{problem.Field[1..]}",
                        problem.Message
                    )
                );
        }

        private void ReadStateLists(IReadOnlyList<ModelDocument.StateListEntry> entries)
        {
            var known = _before.StateLists.Values.ToDictionary(s => s.Code, s => s.Id, Any);
            for (var i = 0; i < entries.Count; i++)
            {
                var entry = entries[i];
                var set = new StateList(
                    known.TryGetValue(entry.Code, out var id) ? id : _nextId++,
                    entry.Code,
                    entry.Name ?? entry.Code,
                    [.. (entry.States ?? []).OrderBy(s => s.Value).Select(s => new State(s.Value, s.Name, s.Abnormal == true, s.Key))]
                );
                Refuse(At("stateLists", i), EntityRules.Problems(set));
                if (!_sets.TryAdd(entry.Code, set))
                    Refuse(At("stateLists", i), $"The state list {entry.Code} stands there twice.");
            }
        }

        private ImmutableDictionary<long, NamingConvention> PatternsOf(IReadOnlyList<ModelDocument.NamingConventionEntry> entries)
        {
            // Edits done again may have brought one back that has been said anew since: each of two alike keeps its id.
            var known = _before
                .NamingConventions.Values.OrderBy(p => p.Id)
                .GroupBy(p => (p.Level, p.TemplateId, p.IsOfNames, p.Text), p => p.Id)
                .ToDictionary(p => p.Key, p => new Queue<long>(p));
            var patterns = ImmutableDictionary.CreateBuilder<long, NamingConvention>();
            for (var i = 0; i < entries.Count; i++)
            {
                var (entry, template) = (entries[i], (long?)null);
                if (entry.Template is { } code)
                    if (_templates.TryGetValue(code, out var found))
                        template = found.Id;
                    else
                        Refuse(At("namingConventions", i), $"There is no template {code}.");
                var pattern = new NamingConvention(0, entry.Level, template, entry.OfNames, entry.Pattern);
                pattern = pattern with
                {
                    Id = known.GetValueOrDefault((pattern.Level, template, pattern.IsOfNames, pattern.Text)) is { Count: > 0 } ids
                        ? ids.Dequeue()
                        : _nextId++,
                };
                Refuse(At("namingConventions", i), EntityRules.Problems(pattern));
                patterns.Add(pattern.Id, pattern);
            }
            return patterns.ToImmutable();
        }

        private SiteCalendar? CalendarOf(ModelDocument.CalendarEntry? entry)
        {
            if (entry is null)
                return null;
            var shifts = ImmutableArray.CreateBuilder<Shift>();
            foreach (var shift in entry.Shifts ?? [])
                if (TimeOnly.TryParseExact(shift.Start, "HH:mm", CultureInfo.InvariantCulture, DateTimeStyles.None, out var start))
                    shifts.Add(new(shift.Name, start));
                else
                    Refuse("$.calendar.shifts", $"'{shift.Start}' is no time of day; write it as 06:00.");
            var calendar = new SiteCalendar(
                _before.Calendars.Values.FirstOrDefault()?.Id ?? _nextId++,
                entry.TimeZone,
                [.. shifts.OrderBy(s => s.Start)]
            );
            Refuse("$.calendar", EntityRules.Problems(calendar));
            return calendar;
        }

        private AlarmSetup? AlarmsOf(ModelDocument document)
        {
            var (entries, responses) = (document.ShelvingRules, document.Responses);
            if (
                entries is null
                && responses is null
                && (document.NoticeLists, document.MailServer, document.Languages, document.AlarmLogDays) == (null, null, null, null)
            )
                return null;
            entries ??=
            [
                .. ShelvingRule.Standard.Select(r => new ModelDocument.ShelvingRuleEntry(
                    r.Name,
                    r.Longest.TotalMinutes,
                    [.. r.Presets.Select(p => p.TotalMinutes)]
                )),
            ];
            foreach (var entry in entries)
                if (entry.PresetMinutes?.Append(entry.LongestMinutes).All(m => m is > 0 and < 1e6) == false)
                {
                    Refuse("$.shelvingRules", $"{entry.Name}: times are minutes above 0.");
                    return null;
                }
            var setup = new AlarmSetup(
                _before.AlarmSetups.Values.FirstOrDefault()?.Id ?? _nextId++,
                [
                    .. entries.Select(e => new ShelvingRule(
                        e.Name,
                        TimeSpan.FromMinutes(double.IsFinite(e.LongestMinutes) ? Math.Clamp(e.LongestMinutes, 0, 1e6) : 0),
                        [.. (e.PresetMinutes ?? [e.LongestMinutes]).Select(m => TimeSpan.FromMinutes(Math.Clamp(m, 0, 1e6)))]
                    )),
                ]
            )
            {
                Responses =
                [
                    .. (responses ?? []).Select(r => new AlarmResponse(r.Name, r.Kind, r.Target, r.Text ?? "")
                    {
                        ClearText = r.ClearText,
                        Priorities = [.. r.Priorities ?? []],
                        Label = r.Label,
                    }),
                ],
                Lists = [.. (document.NoticeLists ?? []).Select(ListOf)],
                Mail = document.MailServer is { } mail ? new(mail.Host, mail.Port, mail.Security, mail.From) { User = mail.User } : null,
                Languages = [.. document.Languages ?? []],
                LogDays = document.AlarmLogDays ?? AlarmSetup.StandardLogDays,
            };
            foreach (var problem in EntityRules.Problems(setup))
                Refuse(problem.Field == "Rules" ? "$.shelvingRules" : "$", problem.Message);
            return setup;
        }

        private NoticeList ListOf(ModelDocument.NoticeListEntry entry)
        {
            var (list, problems) = NoticeForm.ListOf(entry, path => _nodes.GetValueOrDefault(path.Trim('/')));
            foreach (var (_, message) in problems)
                Refuse("$.noticeLists", message);
            return list;
        }

        /// <summary>The shipped units and those of the document.</summary>
        private PlantModel WithUnits => new() { OwnUnits = _units.Values.ToImmutableDictionary(u => u.Id) };

        private void ReadUnits(IReadOnlyList<ModelDocument.UnitEntry> entries)
        {
            var known = _before.OwnUnits.Values.ToDictionary(u => u.Code, u => u.Id, Any);
            for (var i = 0; i < entries.Count; i++)
            {
                var entry = entries[i];
                var unit = new OwnUnit(
                    known.TryGetValue(entry.Code, out var id) ? id : _nextId++,
                    entry.Code,
                    entry.Symbol,
                    entry.Name ?? entry.Symbol,
                    entry.Factor,
                    entry.Of
                );
                Refuse(At("units", i), EntityRules.Problems(unit));
                if (!_units.TryAdd(entry.Code, unit))
                    Refuse(At("units", i), $"The unit {entry.Code} stands there twice.");
            }
        }

        private void ReadScales(IReadOnlyList<ModelDocument.LibraryScaleEntry> entries)
        {
            var known = _before.Scales.Values.ToDictionary(s => s.Code, s => s.Id, Any);
            var units = WithUnits;
            for (var i = 0; i < entries.Count; i++)
            {
                var entry = entries[i];
                if (ScaleOf(entry.Scale, $"{At("scales", i)}.scale") is not { } scale)
                    continue;
                var made = new LibraryScale(
                    known.TryGetValue(entry.Code, out var id) ? id : _nextId++,
                    entry.Code,
                    entry.Name ?? entry.Code,
                    entry.Description ?? "",
                    scale
                );
                Refuse(At("scales", i), EntityRules.Problems(units, made));
                if (!_scales.TryAdd(entry.Code, made))
                    Refuse(At("scales", i), $"The scale {entry.Code} stands there twice.");
            }
        }

        private Scale? ScaleOf(ScaleEntry entry, string place)
        {
            var scale = entry.Read(out var problems);
            Refuse(place, problems);
            return scale;
        }

        private void ReadTemplates(IReadOnlyList<ModelDocument.TemplateEntry> entries)
        {
            var known = _before.Templates.Values.ToDictionary(t => t.Code, Any);
            var parentOf = new Dictionary<string, string?>(Any);
            // First the templates themselves, so that the order in the file does not matter; then what refers from one to another.
            for (var i = 0; i < entries.Count; i++)
            {
                var entry = entries[i];
                var was = known.GetValueOrDefault(entry.Code);
                var labels = (entry.Labels ?? ImmutableDictionary<string, string>.Empty).ToImmutableSortedDictionary(
                    l => l.Key,
                    l => l.Value,
                    StringComparer.Ordinal
                );
                var template = new Template(was?.Id ?? _nextId++, entry.Code, entry.Name ?? entry.Code, null, entry.Description ?? "")
                {
                    Levels = [.. entry.Levels ?? []],
                    Labels = labels,
                };
                Refuse(At("templates", i), EntityRules.Problems(template));
                if (!_templates.TryAdd(entry.Code, template))
                    Refuse(At("templates", i), $"The template {entry.Code} stands there twice.");
                parentOf[entry.Code] = entry.Inherits;
            }
            for (var i = 0; i < entries.Count; i++)
            {
                var entry = entries[i];
                long? parent = null;
                if (entry.Inherits is { } inherits)
                {
                    if (!_templates.TryGetValue(inherits, out var above))
                        Refuse(
                            $"{At("templates", i)}.inherits",
                            $"There is no template {inherits}{Naming.OrNearest(inherits, _templates.Keys)}"
                        );
                    else if (IsCycle(entry.Code, parentOf))
                        Refuse($"{At("templates", i)}.inherits", $"{entry.Code} would inherit from itself.");
                    else
                        parent = above.Id;
                }
                _templates[entry.Code] = _templates[entry.Code] with { ParentId = parent };
            }
            int Depth(string code) => _templates[code].ParentId is null ? 0 : 1 + Depth(parentOf[code]!);
            foreach (var i in Enumerable.Range(0, entries.Count).OrderBy(i => Depth(entries[i].Code)))
                ReadProperties(
                    entries[i],
                    At("templates", i),
                    parentOf[entries[i].Code] is { } above && _templates[entries[i].Code].ParentId is not null ? above : null
                );
            for (var i = 0; i < entries.Count; i++)
                ReadParts(entries[i], At("templates", i));
        }

        private static bool IsCycle(string code, Dictionary<string, string?> parentOf)
        {
            var seen = new HashSet<string>(Any);
            for (string? at = code; at is not null && parentOf.TryGetValue(at, out var next); at = next)
                if (!seen.Add(at))
                    return true;
            return false;
        }

        private void ReadProperties(ModelDocument.TemplateEntry entry, string place, string? parent)
        {
            var template = _templates[entry.Code];
            var properties = parent is null
                ? new Dictionary<string, PropertyDeclaration>(Any)
                : new(_propertiesOf[_templates[parent].Id], Any);
            var (own, patches) = (
                ImmutableArray.CreateBuilder<PropertyDeclaration>(),
                ImmutableDictionary.CreateBuilder<long, PropertyPatch>()
            );
            var declared = entry.Properties ?? [];
            for (var i = 0; i < declared.Count; i++)
            {
                var at = $"{place}.properties[{i.ToString(CultureInfo.InvariantCulture)}]";
                var property = new PropertyDeclaration(
                    IdOf(template, declared[i].Code),
                    declared[i].Code,
                    declared[i].Name ?? declared[i].Code,
                    declared[i].Kind,
                    declared[i].Type,
                    declared[i].Required ?? true
                );
                if (Naming.CodeProblem(property.Code) is { } code)
                    Refuse($"{at}.code", code);
                if (Naming.NameProblem(property.Name) is { } name)
                    Refuse($"{at}.name", name);
                if (!properties.TryAdd(property.Code, property))
                    Refuse($"{at}.code", $"{entry.Code} has or inherits a property {property.Code} already.");
                own.Add(property);
                if (Patch(declared[i], at) is { IsEmpty: false } facts)
                    patches[property.Id] = facts;
            }
            foreach (var (code, facts) in entry.Refines ?? ImmutableDictionary<string, ModelDocument.FactsEntry>.Empty)
            {
                if (!properties.TryGetValue(code, out var inherited) || own.Contains(inherited))
                    Refuse($"{place}.refines.{code}", $"{entry.Code} inherits no property {code}{Naming.OrNearest(code, properties.Keys)}");
                else if (Patch(facts, $"{place}.refines.{code}") is { IsEmpty: false } patch)
                    patches[inherited.Id] = patch;
            }
            var rules = ImmutableArray.CreateBuilder<NamingRule>();
            for (var i = 0; i < (entry.NamingRules?.Count ?? 0); i++)
            {
                var (rule, at) = (entry.NamingRules![i], $"{place}.namingRules[{i.ToString(CultureInfo.InvariantCulture)}]");
                if (!properties.TryGetValue(rule.Property, out var named))
                    Refuse(
                        $"{at}.property",
                        $"{entry.Code} has no property {rule.Property}{Naming.OrNearest(rule.Property, properties.Keys)}"
                    );
                else if (NamePattern.Parse(rule.Rule, out var wrong) is not { } pattern)
                    Refuse($"{at}.rule", wrong!);
                else if (rules.Any(r => r.PropertyId == named.Id && r.Face == (rule.Face ?? TagFace.Name)))
                    Refuse(at, $"{entry.Code} {rule.Property} has two rules for the same text of its tags.");
                else
                    rules.Add(new(named.Id, rule.Face ?? TagFace.Name, pattern));
            }
            if (_before.Templates.TryGetValue(template.Id, out var before))
                rules.AddRange(before.Rules.Where(r => _before.Index.PropertiesOf(template.Id).All(p => p.Id != r.PropertyId)));
            _propertiesOf[template.Id] = properties;
            _templates[entry.Code] = template with
            {
                Properties = own.ToImmutable(),
                Patches = patches.ToImmutable(),
                Rules = [.. rules.OrderBy(r => r.PropertyId).ThenBy(r => r.Face)],
            };
        }

        /// <summary>The id a property had: where it is declared now, or else in an ancestor or descendant it has been moved from.</summary>
        private long IdOf(Template template, string code)
        {
            if (_before.Templates.ContainsKey(template.Id))
            {
                var family = _before.Index.AncestryOf(template.Id).Reverse().Concat(_before.Index.FamilyOf(template.Id));
                if (family.SelectMany(t => t.Properties).FirstOrDefault(p => Any.Equals(p.Code, code)) is { } known && _taken.Add(known.Id))
                    return known.Id;
            }
            return _nextId++;
        }

        private void ReadParts(ModelDocument.TemplateEntry entry, string place)
        {
            var template = _templates[entry.Code];
            var was = _before.Templates.GetValueOrDefault(template.Id);
            var parts = ImmutableArray.CreateBuilder<TemplatePart>();
            for (var i = 0; i < (entry.Parts?.Count ?? 0); i++)
            {
                var (part, at) = (entry.Parts![i], $"{place}.parts[{i.ToString(CultureInfo.InvariantCulture)}]");
                if (!_templates.TryGetValue(part.Template, out var of))
                {
                    Refuse($"{at}.template", $"There is no template {part.Template}{Naming.OrNearest(part.Template, _templates.Keys)}");
                    continue;
                }
                var made = new TemplatePart(
                    was?.Parts.FirstOrDefault(p => Any.Equals(p.Code, part.Code))?.Id ?? _nextId++,
                    part.Code,
                    part.Name ?? part.Code,
                    of.Id,
                    part.Level,
                    part.Count ?? 1
                );
                Refuse(at, EntityRules.Problems(made));
                if (parts.Any(p => Any.Equals(p.Code, made.Code)))
                    Refuse($"{at}.code", $"{entry.Code} has the part {made.Code} twice.");
                parts.Add(made);
            }
            _templates[entry.Code] = template with { Parts = parts.ToImmutable() };
        }

        private void ReadEquipment(IReadOnlyList<ModelDocument.EquipmentEntry> entries)
        {
            var known = new Dictionary<string, long>(Any);
            foreach (var node in _before.Index.EquipmentInOrder)
                known[_before.Index.PathOf(node.Id)] = node.Id;
            var codes = _templates.Values.ToDictionary(t => t.Id);
            var partsOf = new Dictionary<long, List<TemplatePart>>();
            List<TemplatePart> PartsOf(long template)
            {
                if (partsOf.TryGetValue(template, out var parts))
                    return parts;
                var at = codes[template];
                return partsOf[template] = [.. at.ParentId is { } above ? PartsOf(above) : [], .. at.Parts];
            }
            var orders = new Dictionary<long, int>();
            // A place may stand in the file after what lies below it.
            foreach (var i in Enumerable.Range(0, entries.Count).OrderBy(i => entries[i].Path.Count(c => c == '/')))
            {
                var (entry, place) = (entries[i], At("equipment", i));
                var slash = entry.Path.LastIndexOf('/');
                Equipment? above = null;
                if (slash >= 0 && !_nodes.TryGetValue(entry.Path[..slash], out above))
                {
                    Refuse($"{place}.path", $"There is no {entry.Path[..slash]} for it to lie below; list that place too.");
                    continue;
                }
                Template? template = null;
                if (entry.Template is { } code && !_templates.TryGetValue(code, out template))
                    Refuse($"{place}.template", $"There is no template {code}{Naming.OrNearest(code, _templates.Keys)}");
                long? part = null;
                if (entry.Part is { } made)
                {
                    part = above?.TemplateId is { } whole ? PartsOf(whole).FirstOrDefault(p => Any.Equals(p.Code, made))?.Id : null;
                    if (part is null)
                        Refuse($"{place}.part", $"What lies above it has no part {made}.");
                }
                var order = orders[above?.Id ?? 0] = orders.GetValueOrDefault(above?.Id ?? 0) + 1;
                var node = new Equipment(
                    known.TryGetValue(entry.Path, out var id) ? id : _nextId++,
                    entry.Path[(slash + 1)..],
                    entry.Name ?? entry.Path[(slash + 1)..],
                    entry.Level,
                    above?.Id,
                    template?.Id,
                    order,
                    part
                )
                {
                    Labels = entry.Labels is null
                        ? Labels.None
                        : entry.Labels.ToImmutableSortedDictionary(l => l.Key, l => l.Value, StringComparer.Ordinal),
                    Patches = entry.Sets is null ? ImmutableDictionary<long, PropertyPatch>.Empty : ReadSets(entry.Sets, template, place),
                };
                Refuse(place, EntityRules.Problems(node));
                if (!_nodes.TryAdd(entry.Path, node))
                    Refuse($"{place}.path", $"The path {entry.Path} stands there twice.");
            }
            KeepOrders();
        }

        /// <summary>Positions that stand in the right order already stay as they are, so that taking in what was given out changes
        /// nothing.</summary>
        private void KeepOrders()
        {
            var keep = new Dictionary<long, int>();
            foreach (var siblings in _nodes.Values.GroupBy(n => n.ParentId))
            {
                var inOrder = siblings.OrderBy(n => n.Order).ToArray();
                var old = inOrder
                    .Select(n => _before.Equipment.TryGetValue(n.Id, out var was) && was.ParentId == n.ParentId ? was.Order : int.MaxValue)
                    .ToArray();
                if (old.Contains(int.MaxValue) || !old.Zip(old.Skip(1)).All(p => p.First < p.Second))
                    continue;
                foreach (var (node, order) in inOrder.Zip(old))
                    keep[node.Id] = order;
            }
            foreach (var (path, node) in _nodes.ToArray())
                if (keep.TryGetValue(node.Id, out var order))
                    _nodes[path] = node with { Order = order };
        }

        private ImmutableDictionary<long, PropertyPatch> ReadSets(
            IReadOnlyDictionary<string, ModelDocument.FactsEntry> sets,
            Template? template,
            string place
        )
        {
            var patches = ImmutableDictionary.CreateBuilder<long, PropertyPatch>();
            foreach (var (code, facts) in sets)
            {
                if (template is null || !_propertiesOf[template.Id].TryGetValue(code, out var property))
                    Refuse(
                        $"{place}.sets.{code}",
                        template is null
                            ? "It has no template and so no properties."
                            : $"{template.Code} has no property {code}{Naming.OrNearest(code, _propertiesOf[template.Id].Keys)}"
                    );
                else if (Patch(facts, $"{place}.sets.{code}") is { IsEmpty: false } patch)
                    patches[property.Id] = patch;
            }
            return patches.ToImmutable();
        }

        private void ReadLayouts(IReadOnlyList<ModelDocument.LayoutEntry> entries)
        {
            var known = _before.Layouts.Values.ToDictionary(l => l.Code, Any);
            var units = WithUnits;
            for (var i = 0; i < entries.Count; i++)
            {
                var (entry, place) = (entries[i], At("layouts", i));
                var was = known.GetValueOrDefault(entry.Code);
                var points = ImmutableArray.CreateBuilder<LayoutPoint>(entry.Points?.Count ?? 0);
                foreach (var point in entry.Points ?? [])
                {
                    if (ModbusAddress.Parse(point.Address, out var problem) is not { UnitId: null } at)
                    {
                        Refuse($"{place}.points[{points.Count}]", problem ?? "The unit id is the device's, not the point's.");
                        continue;
                    }
                    points.Add(
                        new(
                            was?.Points.FirstOrDefault(p => Any.Equals(p.Name, point.Name))?.Id ?? _nextId++,
                            point.Name,
                            at.Area,
                            at.Offset,
                            at.Bit,
                            point.Type,
                            point.WordOrder ?? WordOrder.HighFirst,
                            point.Count ?? 1,
                            point.Unit,
                            point.UpdateClass,
                            point.Description ?? ""
                        )
                    );
                }
                var layout = new DeviceLayout(
                    was?.Id ?? _nextId++,
                    entry.Code,
                    entry.Name ?? entry.Code,
                    entry.Separator ?? "",
                    points.ToImmutable()
                );
                Refuse(place, EntityRules.Problems(units, layout));
                if (!_layouts.TryAdd(entry.Code, layout))
                    Refuse($"{place}.code", $"The layout {entry.Code} stands there twice.");
            }
        }

        private void ReadControllers(IReadOnlyList<ModelDocument.ControllerEntry> entries)
        {
            var known = _before.Controllers.Values.ToDictionary(c => c.Name, Any);
            var units = WithUnits;
            for (var i = 0; i < entries.Count; i++)
            {
                var (entry, place) = (entries[i], At("controllers", i));
                var was = known.GetValueOrDefault(entry.Name);
                var controller = new Controller(was?.Id ?? _nextId++, entry.Name, entry.Read(), Time(entry.UpdateIntervalMs ?? 1000))
                {
                    UpdateClasses =
                    [
                        .. (entry.UpdateClasses ?? ImmutableDictionary<string, double>.Empty).Select(c =>
                            entry.Sampling?.GetValueOrDefault(c.Key) is not { } its
                                ? new UpdateClass(c.Key, Time(c.Value))
                                : new(c.Key, Time(c.Value))
                                {
                                    Sampling = its.SamplingMs is { } ms ? Time(ms) : null,
                                    Queue = its.Queue,
                                    Deadband = its.Deadband,
                                }
                        ),
                    ],
                };
                foreach (var nobody in entry.Sampling?.Keys.Where(k => entry.UpdateClasses?.ContainsKey(k) != true) ?? [])
                    Refuse($"{place}.sampling.{nobody}", $"{entry.Name} has no update class {nobody}.");
                Refuse(place, EntityRules.Problems(controller));
                if (!_controllers.TryAdd(entry.Name, controller))
                    Refuse($"{place}.name", $"The controller {entry.Name} stands there twice.");
                var before = was is null ? [] : _before.Index.TagsOf(was.Id).ToArray();
                var tags = before.ToDictionary(t => t.Name, t => t.Id, Any);
                for (var j = 0; j < (entry.Tags?.Count ?? 0); j++)
                {
                    var (tag, at) = (entry.Tags![j], $"{place}.tags[{j.ToString(CultureInfo.InvariantCulture)}]");
                    var address =
                        tag.Area is { } area ? new ModbusAddress(area, tag.Offset ?? 0)
                        : controller.Protocol.Rules().ReadAddress(tag.Address ?? "", out var problem) is { } read ? read
                        : Refused($"{at}.address", problem!);
                    if (address is null)
                        continue;
                    var made = new Tag(
                        tags.TryGetValue(tag.Name, out var id) ? id : _nextId++,
                        controller.Id,
                        tag.Name,
                        address,
                        tag.Type,
                        tag.WordOrder ?? WordOrder.HighFirst,
                        tag.Description ?? "",
                        tag.Count ?? 1,
                        tag.Unit
                    )
                    {
                        UpdateClass = tag.UpdateClass,
                        Range = SpanOf(tag.Range, $"{at}.range"),
                    };
                    AddTag(entry.Name, controller, made, at, units);
                }
                for (var j = 0; j < (entry.Devices?.Count ?? 0); j++)
                {
                    var (its, at) = (entry.Devices![j], $"{place}.devices[{j.ToString(CultureInfo.InvariantCulture)}]");
                    if (!_layouts.TryGetValue(its.Layout, out var layout))
                    {
                        Refuse($"{at}.layout", $"There is no layout {its.Layout}{Naming.OrNearest(its.Layout, _layouts.Keys)}");
                        continue;
                    }
                    var old = was is null
                        ? null
                        : _before.Devices.Values.FirstOrDefault(d => d.ControllerId == was.Id && Any.Equals(d.Name, its.Name));
                    var device = new Device(
                        old?.Id ?? _nextId++,
                        controller.Id,
                        layout.Id,
                        its.Name,
                        its.Base,
                        its.BitBase ?? 0,
                        its.UnitId
                    );
                    if (Naming.NameProblem(device.Name) is { } wrong)
                        Refuse($"{at}.name", wrong);
                    _devices.Add(device);
                    foreach (var point in layout.Points)
                        AddTag(
                            entry.Name,
                            controller,
                            device.TagOf(
                                layout,
                                point,
                                before.FirstOrDefault(t => t.DeviceId == device.Id && t.PointId == point.Id)?.Id ?? _nextId++
                            ),
                            at,
                            units
                        );
                }
            }
        }

        private void AddTag(string controllerName, Controller controller, Tag tag, string place, PlantModel units)
        {
            Refuse(place, EntityRules.Problems(units, controller, tag));
            if (!_tags.TryAdd(Key(controllerName, tag.Name), tag))
                Refuse($"{place}.name", $"{controllerName} has the tag {tag.Name} twice.");
        }

        private TagAddress? Refused(string place, string problem)
        {
            Refuse(place, problem);
            return null;
        }

        private static TimeSpan Time(double milliseconds) =>
            TimeSpan.FromMilliseconds(double.IsFinite(milliseconds) ? Math.Clamp(milliseconds, -1, 1e9) : -1);

        private static (string, string) Key(string controller, string tag) => (controller.ToUpperInvariant(), tag.ToUpperInvariant());

        /// <summary>Refusals come after the tags they speak of.</summary>
        private void ReadRefused(IReadOnlyList<ModelDocument.EquipmentEntry> entries)
        {
            for (var i = 0; i < entries.Count; i++)
            {
                if (!_nodes.TryGetValue(entries[i].Path, out var node))
                    continue;
                var refused = entries[i].Refused ?? [];
                var tags = ImmutableHashSet.CreateBuilder<RefusedTag>();
                // What is refused of something that is gone is not written, and comes back with it when its removal is taken back.
                if (_before.Equipment.TryGetValue(node.Id, out var was))
                    tags.UnionWith(
                        was.Refused.Where(r =>
                            !_before.Tags.ContainsKey(r.TagId) || _before.Index.PropertiesOf(was).All(p => p.Id != r.PropertyId)
                        )
                    );
                for (var j = 0; j < refused.Count; j++)
                {
                    var at = $"{At("equipment", i)}.refused[{j.ToString(CultureInfo.InvariantCulture)}]";
                    if (node.TemplateId is not { } template || !_propertiesOf[template].TryGetValue(refused[j].Property, out var property))
                        Refuse($"{at}.property", $"{entries[i].Path} has no property {refused[j].Property}.");
                    else if (!_tags.TryGetValue(Key(refused[j].Controller, refused[j].Tag), out var tag))
                        Refuse($"{at}.tag", $"There is no tag {refused[j].Tag} on a controller {refused[j].Controller}.");
                    else
                        tags.Add(new(property.Id, tag.Id));
                }
                _nodes[entries[i].Path] = node with { Refused = tags.ToImmutable() };
            }
        }

        private void ReadBindings(IReadOnlyList<ModelDocument.BindingEntry> entries)
        {
            for (var i = 0; i < entries.Count; i++)
            {
                var (entry, place) = (entries[i], At("bindings", i));
                PropertyDeclaration? property = null;
                if (!_nodes.TryGetValue(entry.Equipment, out var node))
                    Refuse($"{place}.equipment", $"There is no equipment {entry.Equipment}.");
                else if (node.TemplateId is not { } template || !_propertiesOf[template].TryGetValue(entry.Property, out property))
                    Refuse($"{place}.property", $"{entry.Equipment} has no property {entry.Property}.");
                if (!_tags.TryGetValue(Key(entry.Controller, entry.Tag), out var tag))
                    Refuse($"{place}.tag", $"There is no tag {entry.Tag} on a controller {entry.Controller}.");
                Slice? slice = null;
                if (entry.Slice is { } part && (slice = Slice.Parse(part)) is null)
                    Refuse($"{place}.slice", $"'{part}' is no part of a tag; write [12], .4, .4-6 or [2].0-3.");
                if (node is null || property is null || tag is null)
                    continue;
                var simulation = entry.Simulation is { } s ? SimulationOf(s, node.Id, property.Id, $"{place}.simulation") : null;
                if (
                    !_bindings.TryAdd(
                        (node.Id, property.Id),
                        new(node.Id, property.Id, tag.Id, slice, simulation)
                        {
                            Checked = entry.Checked is { } check ? new(check.By, check.At) : null,
                        }
                    )
                )
                    Refuse(place, $"{entry.Equipment} {entry.Property} is bound twice.");
            }
        }

        private Simulation? SimulationOf(ModelDocument.SimulationEntry entry, long equipmentId, long propertyId, string place)
        {
            var period = Time(entry.PeriodSeconds * 1000);
            if (
                period < Simulation.ShortestPeriod
                || period > Simulation.LongestPeriod
                || !double.IsFinite(entry.Low)
                || !double.IsFinite(entry.High)
                || entry.High < entry.Low
            )
                Refuse(place, "A simulation goes from low to a high not below it, in 1 s to a day.");
            return new(
                _before.Bindings.GetValueOrDefault((equipmentId, propertyId))?.Simulation?.TagId ?? _nextId++,
                entry.Shape,
                entry.Low,
                entry.High,
                period
            );
        }

        private PropertyPatch Patch(ModelDocument.FactsEntry facts, string place)
        {
            StateList? set = null;
            if (facts.StateList is { } code && !_sets.TryGetValue(code, out set))
                Refuse($"{place}.stateList", $"There is no state list {code}{Naming.OrNearest(code, _sets.Keys)}");
            LibraryScale? named = null;
            if (facts.NamedScale is { } its && !_scales.TryGetValue(its, out named))
                Refuse($"{place}.namedScale", $"There is no scale {its}{Naming.OrNearest(its, _scales.Keys)}");
            if (named is not null && facts.Scale is not null)
                Refuse($"{place}.scale", "Say either scale or namedScale, not both.");
            return new()
            {
                Unit = facts.Unit,
                Range = SpanOf(facts.Range, $"{place}.range"),
                Scale = facts.Scale is { } scale ? ScaleOf(scale, $"{place}.scale") : null,
                ScaleId = named?.Id,
                StateListId = set?.Id,
                Value = facts.Value,
                Formula = facts.Formula,
                ValidSeconds = facts.ValidSeconds,
                AtStart = facts.AtStart,
                FollowSeconds = facts.FollowSeconds,
                FollowDeadband = facts.FollowDeadband,
                Recording = facts.Recording == RecordingPatch.Empty ? null : facts.Recording,
                IsKeyFigure = facts.KeyFigure,
                Description = facts.Description,
                Limits = (facts.Limits ?? ImmutableDictionary<LimitCondition, LimitPatch>.Empty).ToImmutableSortedDictionary(),
                Others = (facts.OtherLimits ?? ImmutableDictionary<string, LimitPatch>.Empty).ToImmutableSortedDictionary(
                    StringComparer.OrdinalIgnoreCase
                ),
            };
        }

        private Span? SpanOf(IReadOnlyList<double>? ends, string place)
        {
            if (ends is null)
                return null;
            if (ends.Count == 2)
                return new Span(ends[0], ends[1]);
            Refuse(place, $"Two numbers are expected, low and high, not {ends.Count}.");
            return null;
        }
    }
}
