using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Edits;

/// <summary>What can be wrong with an entity by itself, whatever stands around it: the same for a form, a bulk import and a whole model.</summary>
public static class EntityRules
{
    /// <summary>Longest description of a template, in characters.</summary>
    public const int LongestTemplateDescription = 500;

    /// <summary>Longest description of a tag, in characters.</summary>
    public const int LongestTagDescription = 200;

    /// <summary>The most states one set may name.</summary>
    public const int MostStates = 200;

    /// <summary>What is wrong with a state set, by field.</summary>
    public static IEnumerable<Problem> Problems(StateSet set)
    {
        foreach (var problem in Named(set.Name, set.Code)) yield return problem;
        if (set.States.IsEmpty) yield return new("States", "Name at least one state, a line each: 0 Idle");
        if (set.States.Length > MostStates) yield return new("States", $"{set.States.Length} states; {MostStates} is the most.");
        foreach (var twice in set.States.GroupBy(s => s.Value).Where(g => g.Count() > 1))
            yield return new("States", $"The value {twice.Key} is named twice: {string.Join(" and ", twice.Select(s => s.Name))}.");
        foreach (var twice in set.States.GroupBy(s => s.Name, StringComparer.OrdinalIgnoreCase).Where(g => g.Count() > 1))
            yield return new("States", $"The name {twice.Key} stands for {string.Join(" and ", twice.Select(s => s.Value))}; each state needs its own.");
        foreach (var (value, name) in set.States)
            if (Naming.NameProblem(name) is { } wrong) yield return new("States", $"State {value}: {wrong}");
    }

    /// <summary>What is wrong with a template, its properties' names and its parts, by field.</summary>
    public static IEnumerable<Problem> Problems(Template template)
    {
        foreach (var problem in Named(template.Name, template.Code)) yield return problem;
        if (template.Description.Length > LongestTemplateDescription)
            yield return new("Description", $"The description has {template.Description.Length} characters; {LongestTemplateDescription} is the most.");
        if (Labels.Problem(template.Labels) is { } label) yield return new("Labels", label);
        foreach (var part in template.Parts)
            foreach (var problem in Problems(part)) yield return problem;
    }

    /// <summary>What is wrong with a part, by field.</summary>
    public static IEnumerable<Problem> Problems(TemplatePart part)
    {
        static string Numbered(string pattern) => pattern.Replace(SeriesPattern.Number, "1", StringComparison.Ordinal);
        foreach (var problem in Named(Numbered(part.Name), Numbered(part.Code))) yield return problem;
        if (part.Count is < 1 or > TemplatePart.Most) yield return new("HowMany", $"A template has 1 to {TemplatePart.Most} of one part, not {part.Count}.");
        else if (part.Count > 1 && !part.Code.Contains(SeriesPattern.Number, StringComparison.Ordinal))
            yield return new("Code", $"Put {SeriesPattern.Number} where the number goes, as in {Naming.Suggest(part.Code)}{SeriesPattern.Number}: each of the {part.Count} needs its own code.");
    }

    /// <summary>What is wrong with a node, by field.</summary>
    public static IEnumerable<Problem> Problems(Equipment node)
    {
        foreach (var problem in Named(node.Name, node.Code)) yield return problem;
        if (Labels.Problem(node.Labels) is { } label) yield return new("Labels", label);
    }

    /// <summary>What is wrong with a controller, by field.</summary>
    public static IEnumerable<Problem> Problems(Controller controller)
    {
        if (Naming.NameProblem(controller.Name) is { } name) yield return new("Name", name);
        if (HostProblem(controller.Host) is { } host) yield return new("Host", host);
        if (controller.Port is < 1 or > 65535) yield return new("Port", $"A TCP port is 1 to 65535, not {controller.Port}. Modbus devices listen on 502.");
        if (controller.UnitId is < 0 or > 255) yield return new("UnitId", $"A unit id is 0 to 255, not {controller.UnitId}.");
        if (controller.UpdateInterval < Controller.ShortestInterval || controller.UpdateInterval > Controller.LongestInterval)
            yield return new("UpdateIntervalMs", $"An update interval is {Controller.ShortestInterval.TotalMilliseconds} ms to 1 h (3600000 ms), not {controller.UpdateInterval.TotalMilliseconds}.");
    }

    /// <summary>What is wrong with a customer's own unit, by field.</summary>
    public static IEnumerable<Problem> Problems(OwnUnit unit)
    {
        if (Naming.NameProblem(unit.Name) is { } name) yield return new("Name", name);
        if (unit.Code.Length is < OwnUnit.ShortestCode or > OwnUnit.LongestCode || !unit.Code.All(char.IsAsciiLetterOrDigit))
            yield return new("Code", $"A code of your own has {OwnUnit.ShortestCode} to {OwnUnit.LongestCode} letters and digits; shorter ones belong to UNECE Rec 20.");
        else if (UnitCatalogue.Standard.Find(unit.Code) is not null) yield return new("Code", $"{unit.Code} is a code of the shipped catalogue.");
        if (string.IsNullOrWhiteSpace(unit.Symbol) || unit.Symbol.Length > OwnUnit.LongestSymbol || unit.Symbol.Any(char.IsControl))
            yield return new("Symbol", $"A symbol has 1 to {OwnUnit.LongestSymbol} characters.");
        if (!(unit.Factor > 0) || !double.IsFinite(unit.Factor)) yield return new("Factor", "The factor is a number above 0: how many of the other unit one is.");
        if (UnitCatalogue.Standard.Find(unit.BaseCode) is not { } from) yield return new("BaseCode", UnitCatalogue.Standard.Unknown(unit.BaseCode));
        else if (from.Offset != 0) yield return new("BaseCode", $"{from.Symbol} has a zero of its own; multiples are made of a unit without one, such as a temperature difference.");
    }

    /// <summary>What is wrong with a scale of the library, by field.</summary>
    public static IEnumerable<Problem> Problems(PlantModel model, LibraryScale scale)
    {
        foreach (var problem in Named(scale.Name, scale.Code)) yield return problem;
        if (scale.Description.Length > LibraryScale.LongestDescription)
            yield return new("Description", $"The description has {scale.Description.Length} characters; {LibraryScale.LongestDescription} is the most.");
        foreach (var problem in Problems(model, scale.Scale)) yield return problem;
    }

    /// <summary>What is wrong with a scale, by field.</summary>
    public static IEnumerable<Problem> Problems(PlantModel model, Scale scale)
    {
        if (scale.Unit is { } unit && model.Units.Find(unit) is null) yield return new("ScaleUnit", model.Units.Unknown(unit));
        foreach (var problem in scale.Problems()) yield return problem;
    }

    /// <summary>What is wrong with a tag, by field.</summary>
    public static IEnumerable<Problem> Problems(PlantModel model, Tag tag)
    {
        if (tag.Count is < 1 or > Tag.MostElements) yield return new("Count", $"A tag has 1 to {Tag.MostElements} elements or bytes, not {tag.Count}.");
        if (tag.Unit is { } unit && model.Units.Find(unit) is null) yield return new("Unit", model.Units.Unknown(unit));
        if (Naming.NameProblem(tag.Name) is { } name) yield return new("Name", name);
        if (tag.Address.Offset is < 0 or > ModbusAddress.Highest)
            yield return new("Offset", $"An address on the wire is 0 to {ModbusAddress.Highest}, not {tag.Address.Offset}. Manuals count from 1: holding register 40001 is holding 0.");
        else if (tag.Address.Offset + tag.Places - 1 > ModbusAddress.Highest)
            yield return new("Offset", $"{tag.TypeText} fills {tag.Places} {(tag.Address.IsBit ? "bits" : "registers")}; the last would lie beyond {ModbusAddress.Highest}.");
        if (tag.Places > (tag.Address.IsBit ? ModbusLimits.ReadBits : ModbusLimits.ReadRegisters))
            yield return new("Count", $"{tag.TypeText} fills {tag.Places} {(tag.Address.IsBit ? "bits" : "registers")}; one request reads {(tag.Address.IsBit ? ModbusLimits.ReadBits : ModbusLimits.ReadRegisters)}. Declare it as several tags.");
        if (tag.Address.IsBit && tag.Type != RawType.Bool) yield return new("Type", "Coils and discrete inputs are single bits: their type is bool.");
        if (tag.Description.Length > LongestTagDescription)
            yield return new("Description", $"The description has {tag.Description.Length} characters; {LongestTagDescription} is the most.");
    }

    private static IEnumerable<Problem> Named(string name, string code)
    {
        if (Naming.NameProblem(name) is { } wrong) yield return new("Name", wrong);
        if (Naming.CodeProblem(code) is { } bad) yield return new("Code", bad);
    }

    private static string? HostProblem(string host)
    {
        if (string.IsNullOrWhiteSpace(host)) return "Give the device's host name or IP address.";
        if (host.Length > 253) return "A host name has at most 253 characters.";
        return Uri.CheckHostName(host) == UriHostNameType.Unknown ? $"'{host}' is neither a host name nor an IP address." : null;
    }
}
