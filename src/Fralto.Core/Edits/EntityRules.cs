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

    /// <summary>Longest certificate, in characters.</summary>
    public const int LongestCertificate = 20_000;

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
        foreach (var problem in Problems(controller.Connection)) yield return problem;
        if (controller.Protocol is not Protocol.Memory && IntervalProblem(controller, controller.UpdateInterval) is { } interval) yield return new("UpdateIntervalMs", interval);
        if (controller.UpdateClasses.Length > Controller.MostClasses) yield return new("UpdateClasses", $"{controller.UpdateClasses.Length} update classes; {Controller.MostClasses} is the most.");
        foreach (var its in controller.UpdateClasses)
        {
            if (Naming.NameProblem(its.Name) is { } wrong) yield return new("UpdateClasses", $"Update class '{its.Name}': {wrong}");
            if (IntervalProblem(controller, its.Interval) is { } bad) yield return new("UpdateClasses", $"Update class {its.Name}: {bad}");
        }
        foreach (var twice in controller.UpdateClasses.GroupBy(c => c.Name, StringComparer.OrdinalIgnoreCase).Where(g => g.Count() > 1))
            yield return new("UpdateClasses", $"The update class {twice.Key} is named twice.");
    }

    private static string? IntervalProblem(Controller controller, TimeSpan interval) =>
        controller.Protocol.IsPushed() && interval == TimeSpan.Zero || (interval >= Controller.ShortestInterval && interval <= Controller.LongestInterval) ? null
        : $"An update interval is {Controller.ShortestInterval.TotalMilliseconds} ms to 1 h (3600000 ms){(controller.Protocol.IsPushed() ? ", or 0 where only changes are sent" : "")}, not {interval.TotalMilliseconds}.";

    private static IEnumerable<Problem> Problems(Connection connection)
    {
        if (connection is ModbusConnection modbus)
        {
            if (HostProblem(modbus.Host) is { } host) yield return new("Host", host);
            if (modbus.Port is < 1 or > 65535) yield return new("Port", $"A TCP port is 1 to 65535, not {modbus.Port}. Modbus devices listen on {ModbusConnection.AssignedPort}.");
            if (modbus.UnitId is < 0 or > 255) yield return new("UnitId", $"A unit id is 0 to 255, not {modbus.UnitId}.");
            if (modbus.LargestRead is < 1 or > ModbusLimits.ReadRegisters) yield return new("LargestRead", $"One request reads 1 to {ModbusLimits.ReadRegisters} registers, not {modbus.LargestRead}.");
            if (modbus.Gap is < 0 or > ModbusConnection.WidestGap) yield return new("Gap", $"A gap is 0 to {ModbusConnection.WidestGap} registers, not {modbus.Gap}.");
            if (modbus.Retries is < 0 or > ModbusConnection.MostRetries) yield return new("Retries", $"A request is asked again 0 to {ModbusConnection.MostRetries} times, not {modbus.Retries}.");
        }
        if (connection is not MqttConnection mqtt) yield break;
        if (HostProblem(mqtt.Host) is { } broker) yield return new("Host", broker);
        if (mqtt.Port is < 1 or > 65535) yield return new("Port", $"A TCP port is 1 to 65535, not {mqtt.Port}. Brokers listen on {MqttConnection.AssignedPort}, with TLS on 8883.");
        if (mqtt.KeepAlive is < 1 or > MqttConnection.LongestKeepAlive) yield return new("KeepAlive", $"The keep-alive is 1 to {MqttConnection.LongestKeepAlive} s, not {mqtt.KeepAlive}.");
        foreach (var (field, text) in new[] { ("User", mqtt.User), ("ClientId", mqtt.ClientId), ("StatusTopic", mqtt.StatusTopic), ("OnlinePayload", mqtt.OnlinePayload) })
            if (text.Length > LongestTagDescription || text.Any(char.IsControl)) yield return new(field, $"At most {LongestTagDescription} characters, none of them a control character.");
        if (mqtt.StatusTopic.Length > 0 && TopicAddress.TopicProblem(mqtt.StatusTopic) is { } topic) yield return new("StatusTopic", topic);
        if (mqtt.Authority.Length > LongestCertificate) yield return new("Authority", $"A certificate has at most {LongestCertificate} characters.");
        else if (mqtt.Authority.Length > 0 && !mqtt.Authority.Contains("-----BEGIN CERTIFICATE-----", StringComparison.Ordinal)) yield return new("Authority", "Paste the authority's certificate in PEM: it begins with -----BEGIN CERTIFICATE-----.");
        if (mqtt is not SparkplugConnection sparkplug) yield break;
        if (sparkplug.HostId.Length is 0 or > Naming.LongestName || !IsSparkplugId(sparkplug.HostId)) yield return new("HostId", "A host id has 1 to 100 characters, none of them +, / or #.");
        if (sparkplug.Group.Length > Naming.LongestName || !IsSparkplugId(sparkplug.Group)) yield return new("Group", "A group id has at most 100 characters, none of them +, / or #; leave it empty for all groups.");
    }

    private static bool IsSparkplugId(string id) => id.AsSpan().IndexOfAny('+', '/', '#') < 0 && !id.Any(char.IsControl);

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

    /// <summary>What is wrong with a layout, by field.</summary>
    public static IEnumerable<Problem> Problems(PlantModel model, DeviceLayout layout)
    {
        foreach (var problem in Named(layout.Name, layout.Code)) yield return problem;
        if (layout.Separator.Length > DeviceLayout.LongestSeparator || layout.Separator.Any(char.IsControl)) yield return new("Separator", $"At most {DeviceLayout.LongestSeparator} characters stand between the names.");
        if (layout.Points.IsEmpty) yield return new("Points", "Say at least one point: name, table, offset and type.");
        if (layout.Points.Length > DeviceLayout.MostPoints) yield return new("Points", $"{layout.Points.Length} points; {DeviceLayout.MostPoints} is the most.");
        foreach (var twice in layout.Points.GroupBy(p => p.Name, StringComparer.OrdinalIgnoreCase).Where(g => g.Count() > 1)) yield return new("Points", $"The point {twice.Key} stands there twice.");
        var probe = new Controller(0, "controller", new ModbusConnection("localhost", 502, 1), TimeSpan.FromSeconds(1));
        foreach (var point in layout.Points)
        {
            var asTag = new Device(0, 0, layout.Id, "X", 0, 0).TagOf(layout, point, 0) with { UpdateClass = null };
            foreach (var problem in Problems(model, probe, asTag)) yield return new("Points", $"{point.Name}: {problem.Message}");
        }
    }

    /// <summary>What is wrong with a tag, by field.</summary>
    public static IEnumerable<Problem> Problems(PlantModel model, Controller controller, Tag tag)
    {
        if (tag.UpdateClass is { } its && controller.UpdateClasses.All(c => !string.Equals(c.Name, its, StringComparison.OrdinalIgnoreCase)))
            yield return new("UpdateClass", $"{controller.Name} has no update class {its}{Naming.OrNearest(its, controller.UpdateClasses.Select(c => c.Name))}");
        if (tag.Range is { IsUsable: false }) yield return new("Range", "A range has two numbers that differ.");
        foreach (var problem in tag.Address switch
        {
            ModbusAddress register when controller.Protocol == Protocol.Modbus => Registers(tag, register),
            TopicAddress topic when controller.Protocol == Protocol.Mqtt => Payloads(tag, topic.Pointer is not null),
            MetricAddress when controller.Protocol == Protocol.Sparkplug => Payloads(tag, true),
            MemoryAddress memory when controller.Protocol == Protocol.Memory => Held(tag, memory),
            _ => [new("Address", $"{tag.Address} is no address of {controller.Name}, which speaks {controller.Protocol.Words()}: {controller.Protocol.AddressHint()}.")],
        }) yield return problem;
        if (tag.Address.KeepingProblem(controller.Protocol) is { } unkept) yield return new("Address", unkept);
        if (tag.Count is < 1 or > Tag.MostElements) yield return new("Count", $"A tag has 1 to {Tag.MostElements} elements or bytes, not {tag.Count}.");
        if (tag.Unit is { } unit && model.Units.Find(unit) is null) yield return new("Unit", model.Units.Unknown(unit));
        if (Naming.NameProblem(tag.Name) is { } name) yield return new("Name", tag.Name.Length == 0 ? name : $"{name} '{Naming.SuggestName(tag.Name)}' would do.");
        if (tag.Description.Length > LongestTagDescription)
            yield return new("Description", $"The description has {tag.Description.Length} characters; {LongestTagDescription} is the most.");
    }

    private static IEnumerable<Problem> Registers(Tag tag, ModbusAddress at)
    {
        var (places, most) = at.IsBit ? ("bits", ModbusLimits.ReadBits) : ("registers", ModbusLimits.ReadRegisters);
        if (at.Offset is < 0 or > ModbusAddress.Highest)
            yield return new("Address", $"An address on the wire is 0 to {ModbusAddress.Highest}, not {at.Offset}. Manuals count from 1: holding register 40001 is holding 0.");
        else if (at.Offset + tag.Places - 1 > ModbusAddress.Highest)
            yield return new("Address", $"{tag.TypeText} fills {tag.Places} {places}; the last would lie beyond {ModbusAddress.Highest}.");
        if (tag.Places > most) yield return new("Count", $"{tag.TypeText} fills {tag.Places} {places}; one request reads {most}. Declare it as several tags.");
        if (at.IsBit && tag.Type != RawType.Bool) yield return new("Type", "Coils and discrete inputs are single bits: their type is bool.");
        if (at.UnitId is < 0 or > 255) yield return new("Address", $"A unit id is 0 to 255, not {at.UnitId}.");
        if (at.Bit is not { } bit) yield break;
        if (at.IsBit) yield return new("Address", $"{at} is a single bit already; a bit is taken of a register.");
        else if (bit is < 0 or > 15) yield return new("Address", $"The bit of a register is 0 to 15, not {bit}.");
        else if (tag.Type != RawType.Bool || tag.Count != 1) yield return new("Type", $"{at} is one bit: its type is bool.");
    }

    private static IEnumerable<Problem> Payloads(Tag tag, bool mayBeArray)
    {
        if (tag.Type is RawType.Bcd16 or RawType.Bcd32) yield return new("Type", $"{tag.Type.Word()} is a way to read registers; a payload says its numbers in full.");
        if (tag.IsArray && !mayBeArray) yield return new("Count", "A plain payload is one value; arrays are taken of JSON.");
    }

    private static IEnumerable<Problem> Held(Tag tag, MemoryAddress at)
    {
        if (tag.Type is RawType.Bcd16 or RawType.Bcd32) yield return new("Type", $"{tag.Type.Word()} is a way to read registers; memory holds numbers.");
        if (tag.IsArray) yield return new("Count", "A tag of memory holds one value.");
        if (at.Start is { } start && TagWrite.Read(tag, start, out var problem) is null) yield return new("Address", $"The start value: {problem}");
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
