using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Mqtt;
using Fralto.Core.OpcUa;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Rules;

/// <summary>What can be wrong with an entity by itself, whatever stands around it: the same for a form, a bulk import and a whole
/// model.</summary>
public static class EntityRules
{
    /// <summary>Longest description of a template, in characters.</summary>
    public const int LongestTemplateDescription = 500;

    /// <summary>Longest description of a tag, in characters.</summary>
    public const int LongestTagDescription = 200;

    /// <summary>The most states one list may name.</summary>
    public const int MostStates = 200;

    /// <summary>What is wrong with a state list, by field.</summary>
    public static IEnumerable<Problem> Problems(StateList set)
    {
        foreach (var problem in Named(set.Name, set.Code))
            yield return problem;
        if (set.States.IsEmpty)
            yield return new("States", "Name at least one state, a line each: 0 Idle");
        if (set.States.Length > MostStates)
            yield return new("States", $"{set.States.Length} states; {MostStates} is the most.");
        foreach (var twice in set.States.GroupBy(s => s.Value).Where(g => g.Count() > 1))
            yield return new("States", $"The value {twice.Key} is named twice: {string.Join(" and ", twice.Select(s => s.Name))}.");
        foreach (var twice in set.States.GroupBy(s => s.Name, StringComparer.OrdinalIgnoreCase).Where(g => g.Count() > 1))
            yield return new(
                "States",
                $"The name {twice.Key} stands for {string.Join(" and ", twice.Select(s => s.Value))}; each state needs its own."
            );
        foreach (var state in set.States)
        {
            if (Naming.NameProblem(state.Name) is { } wrong)
                yield return new("States", $"State {state.Value}: {wrong}");
            if (state.Key is { } key && (Naming.NameProblem(key) ?? (key.Trim().Length == 0 ? "is empty" : null)) is { } bad)
                yield return new("States", $"What a text says for state {state.Value}: {bad}");
        }
        foreach (
            var twice in set
                .States.GroupBy(s => s.Key ?? s.Name, StringComparer.OrdinalIgnoreCase)
                .Where(g => g.Count() > 1 && g.Any(s => s.Key is not null))
        )
            yield return new(
                "States",
                $"The text {twice.Key} would stand for {string.Join(" and ", twice.Select(s => s.Value))}; each state needs its own."
            );
    }

    /// <summary>What is wrong with a template, its properties' names and its parts, by field.</summary>
    public static IEnumerable<Problem> Problems(Template template)
    {
        foreach (var problem in Named(template.Name, template.Code))
            yield return problem;
        if (template.Description.Length > LongestTemplateDescription)
            yield return new(
                "Description",
                $"The description has {template.Description.Length} characters; {LongestTemplateDescription} is the most."
            );
        if (Labels.Problem(template.Labels) is { } label)
            yield return new("Labels", label);
        foreach (var part in template.Parts)
        foreach (var problem in Problems(part))
            yield return problem;
    }

    /// <summary>What is wrong with a part, by field.</summary>
    public static IEnumerable<Problem> Problems(TemplatePart part)
    {
        static string Numbered(string pattern) => pattern.Replace(SeriesPattern.Number, "1", StringComparison.Ordinal);
        foreach (var problem in Named(Numbered(part.Name), Numbered(part.Code)))
            yield return problem;
        if (part.Count is < 1 or > TemplatePart.Most)
            yield return new("HowMany", $"A template has 1 to {TemplatePart.Most} of one part, not {part.Count}.");
        else if (part.Count > 1 && !part.Code.Contains(SeriesPattern.Number, StringComparison.Ordinal))
            yield return new(
                "Code",
                $"Put {SeriesPattern.Number} where the number goes, as in {Naming.Suggest(part.Code)}{SeriesPattern.Number}: each of "
                    + $"the {part.Count} needs its own code."
            );
    }

    /// <summary>What is wrong with a node, by field.</summary>
    public static IEnumerable<Problem> Problems(Equipment node)
    {
        foreach (var problem in Named(node.Name, node.Code))
            yield return problem;
        if (Labels.Problem(node.Labels) is { } label)
            yield return new("Labels", label);
    }

    /// <summary>What is wrong with a controller, by field.</summary>
    public static IEnumerable<Problem> Problems(Controller controller)
    {
        if (Naming.NameProblem(controller.Name) is { } name)
            yield return new("Name", name);
        foreach (var problem in controller.Protocol.Rules().Problems(controller.Connection))
            yield return problem;
        if (controller.Protocol.Rules().HasDevice && IntervalProblem(controller, controller.UpdateInterval) is { } interval)
            yield return new("UpdateIntervalMs", interval);
        if (controller.UpdateClasses.Length > Controller.MostClasses)
            yield return new("UpdateClasses", $"{controller.UpdateClasses.Length} update classes; {Controller.MostClasses} is the most.");
        foreach (var its in controller.UpdateClasses)
        {
            if (Naming.NameProblem(its.Name) is { } wrong)
                yield return new("UpdateClasses", $"Update class '{its.Name}': {wrong}");
            if (IntervalProblem(controller, its.Interval) is { } bad)
                yield return new("UpdateClasses", $"Update class {its.Name}: {bad}");
            if (its.IsSampled && !controller.Protocol.Rules().IsSampled)
                yield return new(
                    "UpdateClasses",
                    $"Update class {its.Name}: {controller.Protocol.Words()} has neither sampling nor queue nor deadband; leave them out."
                );
            foreach (var problem in OpcUaRules.SamplingProblems(its.Sampling, its.Queue, its.Deadband))
                yield return new("UpdateClasses", $"Update class {its.Name}: {problem.Message}");
        }
        foreach (var twice in controller.UpdateClasses.GroupBy(c => c.Name, StringComparer.OrdinalIgnoreCase).Where(g => g.Count() > 1))
            yield return new("UpdateClasses", $"The update class {twice.Key} is named twice.");
    }

    private static string? IntervalProblem(Controller controller, TimeSpan interval) =>
        controller.Protocol.Rules().IsPushed && interval == TimeSpan.Zero
        || (interval >= Controller.ShortestInterval && interval <= Controller.LongestInterval)
            ? null
            : $"An update interval is {Controller.ShortestInterval.TotalMilliseconds} ms to 1 h (3600000 "
                + $"ms){(controller.Protocol.Rules().IsPushed ? ", or 0 where only changes are sent" : "")}, not "
                + $"{interval.TotalMilliseconds}.";

    /// <summary>What is wrong with a pattern of codes or names, by field.</summary>
    public static IEnumerable<Problem> Problems(NamingConvention pattern)
    {
        if (pattern.Level is null == pattern.TemplateId is null)
            yield return new("", "A pattern is of a level or of a template, of one of the two.");
        if (NamingConvention.Problem(pattern.IsOfNames, pattern.Text) is { } wrong)
            yield return new("Pattern", wrong);
    }

    /// <summary>What is wrong with a calendar.</summary>
    public static IEnumerable<Problem> Problems(SiteCalendar calendar)
    {
        if (!calendar.Calendar.IsKnown)
            yield return new("TimeZone", $"There is no time zone '{calendar.TimeZone}'; write it as Europe/Lisbon or UTC.");
        if (calendar.Shifts.Length > MostShifts)
            yield return new("Shifts", $"A day has at most {MostShifts} shifts.");
        foreach (var shift in calendar.Shifts)
            if (Naming.NameProblem(shift.Name) is { } wrong)
                yield return new("Shifts", wrong);
        if (calendar.Shifts.GroupBy(s => s.Start).FirstOrDefault(g => g.Skip(1).Any()) is { } twice)
            yield return new("Shifts", $"Two shifts begin at {twice.Key:HH\\:mm}.");
    }

    private const int MostShifts = 12;
    private const int MostRules = 50;
    private const int LongestTarget = 500;
    private const int MostPresets = 8;
    private static readonly TimeSpan LongestShelving = TimeSpan.FromDays(7);

    /// <summary>What is wrong with what alarms share, by field.</summary>
    public static IEnumerable<Problem> Problems(AlarmSetup setup)
    {
        if (setup.Rules.IsEmpty)
            yield return new("Rules", "Keep at least one rule: limits that name none go by the first.");
        if (setup.Rules.Length > MostRules)
            yield return new("Rules", $"There are at most {MostRules} rules.");
        if (setup.Rules.GroupBy(r => r.Name, StringComparer.OrdinalIgnoreCase).FirstOrDefault(g => g.Skip(1).Any()) is { } twice)
            yield return new("Rules", $"Two rules are called {twice.Key}.");
        foreach (var rule in setup.Rules)
        {
            if (Naming.NameProblem(rule.Name) is { } wrong)
                yield return new("Rules", wrong);
            if (rule.Longest < TimeSpan.FromMinutes(1) || rule.Longest > LongestShelving)
                yield return new("Rules", $"{rule.Name}: the longest time is 1 min to 7 d.");
            if (rule.Presets.IsEmpty || rule.Presets.Length > MostPresets)
                yield return new("Rules", $"{rule.Name}: offer 1 to {MostPresets} times.");
            foreach (var preset in rule.Presets.Where(p => p < TimeSpan.FromMinutes(1) || p > rule.Longest))
                yield return new("Rules", $"{rule.Name}: {preset.TotalMinutes:0.#} min is not 1 min to its longest time.");
        }
        if (setup.Responses.Length > MostRules)
            yield return new("Responses", $"There are at most {MostRules} responses.");
        if (setup.Responses.GroupBy(r => r.Name, StringComparer.OrdinalIgnoreCase).FirstOrDefault(g => g.Skip(1).Any()) is { } again)
            yield return new("Name", $"Two responses are called {again.Key}.");
        foreach (var response in setup.Responses)
        {
            if (Naming.NameProblem(response.Name) is { } wrong)
                yield return new("Name", wrong);
            else if (response.Name.Contains(',', StringComparison.Ordinal))
                yield return new("Name", $"{response.Name}: a name has no comma; limits name several with commas.");
            if (response.Target.Length is 0 or > LongestTarget || response.Target.Any(char.IsControl))
                yield return new("Target", $"{response.Name}: say what is called, or which property is written.");
            else if (
                response.Kind == ResponseKind.Call
                && !(Uri.TryCreate(response.Target, UriKind.Absolute, out var uri) && uri.Scheme is "http" or "https")
            )
                yield return new("Target", $"{response.Name}: an address begins with http:// or https://, not {response.Target}.");
            else if (response.Kind == ResponseKind.Publish && TopicAddress.TopicProblem(response.Broker.Topic) is { } topic)
                yield return new(
                    "Target",
                    $"{response.Name}: write the broker's name, a blank and the topic: site-broker plant/alarms. {topic}"
                );
            if (response.Kind == ResponseKind.Write && response.Text.Length == 0)
                yield return new("Text", $"{response.Name}: say the value that is written.");
            if (response.Text.Length > LimitRules.LongestText || response.ClearText is { Length: > LimitRules.LongestText })
                yield return new("Text", $"{response.Name}: a text has at most {LimitRules.LongestText} characters.");
            if (response.Priorities.Any(p => p is < 1 or > 4))
                yield return new("Priorities", $"{response.Name}: priorities are 1 to 4.");
            if (response.Label is { } label && label.Split('=') is not [{ Length: > 0 }, { Length: > 0 }])
                yield return new("Label", $"{response.Name}: a label is written key=value.");
        }
        foreach (var problem in NoticeRules.Problems(setup))
            yield return problem;
    }

    /// <summary>What is wrong with a customer's own unit, by field.</summary>
    public static IEnumerable<Problem> Problems(OwnUnit unit)
    {
        if (Naming.NameProblem(unit.Name) is { } name)
            yield return new("Name", name);
        if (unit.Code.Length is < OwnUnit.ShortestCode or > OwnUnit.LongestCode || !unit.Code.All(char.IsAsciiLetterOrDigit))
            yield return new(
                "Code",
                $"A code of your own has {OwnUnit.ShortestCode} to {OwnUnit.LongestCode} letters and digits; shorter ones belong to "
                    + $"UNECE Rec 20."
            );
        else if (UnitCatalogue.Standard.Find(unit.Code) is not null)
            yield return new("Code", $"{unit.Code} is a code of the shipped catalogue.");
        if (string.IsNullOrWhiteSpace(unit.Symbol) || unit.Symbol.Length > OwnUnit.LongestSymbol || unit.Symbol.Any(char.IsControl))
            yield return new("Symbol", $"A symbol has 1 to {OwnUnit.LongestSymbol} characters.");
        if (!(unit.Factor > 0) || !double.IsFinite(unit.Factor))
            yield return new("Factor", "The factor is a number above 0: how many of the other unit one is.");
        if (UnitCatalogue.Standard.Find(unit.BaseCode) is not { } from)
            yield return new("BaseCode", UnitCatalogue.Standard.Unknown(unit.BaseCode));
        else if (from.Offset != 0)
            yield return new(
                "BaseCode",
                $"{from.Symbol} has a zero of its own; multiples are made of a unit without one, such as a temperature difference."
            );
    }

    /// <summary>What is wrong with a scale of the library, by field.</summary>
    public static IEnumerable<Problem> Problems(PlantModel model, LibraryScale scale)
    {
        foreach (var problem in Named(scale.Name, scale.Code))
            yield return problem;
        if (scale.Description.Length > LibraryScale.LongestDescription)
            yield return new(
                "Description",
                $"The description has {scale.Description.Length} characters; {LibraryScale.LongestDescription} is the most."
            );
        foreach (var problem in Problems(model, scale.Scale))
            yield return problem;
    }

    /// <summary>What is wrong with a scale, by field.</summary>
    public static IEnumerable<Problem> Problems(PlantModel model, Scale scale)
    {
        if (scale.Unit is { } unit && model.Units.Find(unit) is null)
            yield return new("ScaleUnit", model.Units.Unknown(unit));
        foreach (var problem in scale.Problems())
            yield return problem;
    }

    /// <summary>What is wrong with a layout, by field.</summary>
    public static IEnumerable<Problem> Problems(PlantModel model, DeviceLayout layout)
    {
        foreach (var problem in Named(layout.Name, layout.Code))
            yield return problem;
        if (layout.Separator.Length > DeviceLayout.LongestSeparator || layout.Separator.Any(char.IsControl))
            yield return new("Separator", $"At most {DeviceLayout.LongestSeparator} characters stand between the names.");
        if (layout.Points.IsEmpty)
            yield return new("Points", "Say at least one point: name, table, offset and type.");
        if (layout.Points.Length > DeviceLayout.MostPoints)
            yield return new("Points", $"{layout.Points.Length} points; {DeviceLayout.MostPoints} is the most.");
        foreach (var twice in layout.Points.GroupBy(p => p.Name, StringComparer.OrdinalIgnoreCase).Where(g => g.Count() > 1))
            yield return new("Points", $"The point {twice.Key} stands there twice.");
        var probe = new Controller(0, "controller", new ModbusConnection("localhost", 502, 1), TimeSpan.FromSeconds(1));
        foreach (var point in layout.Points)
        {
            var asTag = new Device(0, 0, layout.Id, "X", 0, 0).TagOf(layout, point, 0) with { UpdateClass = null };
            foreach (var problem in Problems(model, probe, asTag))
                yield return new("Points", $"{point.Name}: {problem.Message}");
        }
    }

    /// <summary>What is wrong with a tag, by field.</summary>
    public static IEnumerable<Problem> Problems(PlantModel model, Controller controller, Tag tag)
    {
        if (
            tag.UpdateClass is { } its
            && controller.UpdateClasses.All(c => !string.Equals(c.Name, its, StringComparison.OrdinalIgnoreCase))
        )
            yield return new(
                "UpdateClass",
                $"{controller.Name} has no update class {its}{Naming.OrNearest(its, controller.UpdateClasses.Select(c => c.Name))}"
            );
        if (tag.Range is { IsUsable: false })
            yield return new("Range", "A range has two numbers that differ.");
        var rules = controller.Protocol.Rules();
        if (tag.Address.Protocol != controller.Protocol)
            yield return new(
                "Address",
                $"{tag.Address} is no address of {controller.Name}, which speaks {rules.Words}: {rules.AddressHint}."
            );
        else
            foreach (var problem in rules.Problems(tag))
                yield return problem;
        if (tag.Address.KeepingProblem() is { } unkept)
            yield return new("Address", unkept);
        if (tag.Count is < 1 or > Tag.MostElements)
            yield return new("Count", $"A tag has 1 to {Tag.MostElements} elements or bytes, not {tag.Count}.");
        if (tag.Unit is { } unit && model.Units.Find(unit) is null)
            yield return new("Unit", model.Units.Unknown(unit));
        if (Naming.NameProblem(tag.Name) is { } name)
            yield return new("Name", tag.Name.Length == 0 ? name : $"{name} '{Naming.SuggestName(tag.Name)}' would do.");
        if (tag.Description.Length > LongestTagDescription)
            yield return new(
                "Description",
                $"The description has {tag.Description.Length} characters; {LongestTagDescription} is the most."
            );
    }

    private static IEnumerable<Problem> Named(string name, string code)
    {
        if (Naming.NameProblem(name) is { } wrong)
            yield return new("Name", wrong);
        if (Naming.CodeProblem(code) is { } bad)
            yield return new("Code", bad);
    }
}
