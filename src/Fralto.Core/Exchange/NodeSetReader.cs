using System.Collections.Immutable;
using System.Globalization;
using System.Xml;
using System.Xml.Linq;
using Fralto.Core.Basics;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Units;
using static Fralto.Core.Exchange.NodeSetNames;

namespace Fralto.Core.Exchange;

/// <summary>Reads the object types and objects of a NodeSet2 file, of Fralto or of anybody else.</summary>
public static class NodeSetReader
{
    /// <summary>Largest file, in characters.</summary>
    public const int Largest = 64 * 1024 * 1024;

    private const int DeepestFolder = 4;

    /// <summary>True for a text that begins as such a file does.</summary>
    /// <param name="text">The first of it.</param>
    public static bool LooksLikeOne(string text) => text.TrimStart('\uFEFF', ' ', '\t', '\r', '\n').StartsWith('<');

    /// <summary>Reads a file.</summary>
    /// <param name="text">The file.</param>
    /// <param name="problem">What is wrong with it, and where; null when it could be read.</param>
    public static TypeLibrary? Read(string text, out string? problem)
    {
        problem = null;
        if (text.Length > Largest)
        {
            problem = $"it has {text.Length} characters; {Largest} is the most.";
            return null;
        }
        XDocument document;
        try
        {
            // No document type, and so nothing that is fetched or grows by itself.
            using var reader = XmlReader.Create(
                new System.IO.StringReader(text.TrimStart('\uFEFF')),
                new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null }
            );
            document = XDocument.Load(reader);
        }
        catch (XmlException e)
        {
            problem = $"it is no XML: {e.Message}";
            return null;
        }
        if (document.Root?.Name != Set + "UANodeSet")
        {
            problem =
                $"it begins with {document.Root?.Name.LocalName ?? "nothing"}, and no UANodeSet of OPC UA ({Set.NamespaceName}); choose a "
                + "NodeSet2 file.";
            return null;
        }
        var library = new Reading(document.Root).Library();
        if (library.Types.IsEmpty && library.Objects.IsEmpty)
        {
            problem = "it has no object types and no objects of its own.";
            return null;
        }
        return library;
    }

    private sealed class Reading
    {
        private readonly Dictionary<string, string> _aliases;
        private readonly Dictionary<string, XElement> _nodes = [];
        private readonly Dictionary<string, List<(string Type, string To)>> _down = [];
        private readonly Dictionary<string, string> _typeOf = [];
        private readonly Dictionary<string, string> _baseOf = [];

        public Reading(XElement root)
        {
            _aliases = new(BuiltIn);
            foreach (var alias in root.Element(Set + "Aliases")?.Elements(Set + "Alias") ?? [])
                if ((string?)alias.Attribute("Alias") is { } name)
                    _aliases[name] = alias.Value.Trim();
            foreach (var node in root.Elements().Where(e => e.Attribute("NodeId") is not null))
                _nodes.TryAdd((string)node.Attribute("NodeId")!, node);
            foreach (var (id, node) in _nodes)
            foreach (var reference in node.Element(Set + "References")?.Elements(Set + "Reference") ?? [])
            {
                var type = Id((string?)reference.Attribute("ReferenceType") ?? "");
                var (to, isForward) = (Id(reference.Value.Trim()), (bool?)reference.Attribute("IsForward") ?? true);
                if (type == TypeDefinition && isForward)
                    _typeOf[id] = to;
                else if (type == Subtype)
                    _baseOf[isForward ? to : id] = isForward ? id : to;
                else if (type is Organizes or Property or Component or "i=33" or "i=44" or "i=49")
                    Below(isForward ? id : to, type, isForward ? to : id);
            }
        }

        public TypeLibrary Library()
        {
            var types = _nodes.Where(n => n.Value.Name == Set + "UAObjectType").Select(n => TypeOf(n.Key, n.Value)).ToImmutableArray();
            var objects = new List<LibraryObject>();
            var seen = new HashSet<string>();
            foreach (var (_, top) in _down.GetValueOrDefault(Objects) ?? [])
                ObjectsAt(top, null, objects, seen);
            // A file may leave it to others to say where its objects stand: those nobody has below him are at the top.
            var held = _down.Values.SelectMany(d => d).Select(d => d.To).ToHashSet();
            foreach (var (id, node) in _nodes)
                if (node.Name == Set + "UAObject" && !held.Contains(id))
                    ObjectsAt(id, null, objects, seen);
            return new(
                [.. _nodes.Where(n => n.Value.Name == Set + "UADataType").Select(n => StatesOf(n.Value)).OfType<LibraryStates>()],
                types,
                [.. objects]
            );
        }

        private void Below(string above, string type, string below)
        {
            if (!_down.TryGetValue(above, out var all))
                _down[above] = all = [];
            if (all.All(d => d.To != below))
                all.Add((type, below));
        }

        private LibraryType TypeOf(string id, XElement node)
        {
            var (variables, parts) = (ImmutableArray.CreateBuilder<LibraryVariable>(), ImmutableArray.CreateBuilder<LibraryPart>());
            Members(id, "", 0, variables, parts);
            return new(
                id,
                Code(node),
                Name(node),
                node.Element(Set + "Description")?.Value.Trim() ?? "",
                _baseOf.TryGetValue(id, out var based) && _nodes.ContainsKey(based) ? based : null,
                variables.ToImmutable(),
                parts.ToImmutable()
            )
            {
                Levels =
                [
                    .. (Beside(node, "Levels")?.Value ?? "")
                        .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                        .Select(l => Enum.TryParse<EquipmentLevel>(l, out var level) ? level : (EquipmentLevel?)null)
                        .OfType<EquipmentLevel>(),
                ],
            };
        }

        private void Members(
            string id,
            string prefix,
            int depth,
            ImmutableArray<LibraryVariable>.Builder variables,
            ImmutableArray<LibraryPart>.Builder parts
        )
        {
            foreach (var (type, below) in _down.GetValueOrDefault(id) ?? [])
            {
                if (!_nodes.TryGetValue(below, out var node))
                    continue;
                if (node.Name == Set + "UAVariable" && !IsFact(node))
                    variables.Add(VariableOf(below, node, prefix, type == Property));
                else if (node.Name == Set + "UAObject")
                {
                    if (_typeOf.GetValueOrDefault(below) is { } its && _nodes.ContainsKey(its))
                    {
                        var part = Beside(node, "Part");
                        var made = new LibraryPart(
                            (string?)part?.Attribute("Code") ?? Code(node),
                            (string?)part?.Attribute("Name") ?? Name(node),
                            its,
                            Enum.TryParse<EquipmentLevel>((string?)part?.Attribute("Level"), out var level) ? level : null,
                            (int?)part?.Attribute("Count") ?? 1
                        );
                        if (parts.All(p => p.Code != made.Code))
                            parts.Add(made);
                    }
                    else if (depth < DeepestFolder)
                        Members(below, $"{prefix}{Code(node)} ", depth + 1, variables, parts);
                }
            }
        }

        private LibraryVariable VariableOf(string id, XElement node, string prefix, bool isProperty)
        {
            var dataType = Id((string?)node.Attribute("DataType") ?? "i=24");
            var states = _nodes.GetValueOrDefault(dataType) is { } its && StatesOf(its) is { } list ? list.Code : null;
            var said = Beside(node, "Property");
            var (unit, range) = Facts(id);
            var type =
                Enum.TryParse<PropertyType>((string?)said?.Attribute("Type"), out var exact) ? exact
                : states is not null ? PropertyType.State
                : dataType switch
                {
                    "i=1" => PropertyType.Boolean,
                    "i=12" or "i=21" or "i=15" or "i=14" => PropertyType.Text,
                    "i=13" or "i=294" => PropertyType.Time,
                    "i=10" or "i=11" or "i=26" or "i=290" or "i=24" => PropertyType.Number,
                    // A number with a unit is measured, whatever its type.
                    _ => unit is null ? PropertyType.Integer : PropertyType.Number,
                };
            var kind =
                Enum.TryParse<PropertyKind>((string?)said?.Attribute("Kind"), out var stated) ? stated
                : isProperty ? PropertyKind.Fixed
                : ((int?)node.Attribute("AccessLevel") ?? 1) is var access && (access & 2) != 0 ? PropertyKind.Command
                : PropertyKind.Measured;
            return new(
                $"{prefix}{Code(node)}",
                $"{prefix}{Name(node)}",
                type,
                kind,
                unit,
                range,
                states,
                (string?)said?.Attribute("Value"),
                kind == PropertyKind.Calculated ? (string?)said?.Attribute("Formula") : null
            );
        }

        /// <summary>Unit and range of a variable: properties of it, in the namespace of the standard.</summary>
        private (string? Unit, Span? Range) Facts(string id)
        {
            var (unit, range) = ((string?)null, (Span?)null);
            foreach (var (_, below) in _down.GetValueOrDefault(id) ?? [])
            {
                if (!_nodes.TryGetValue(below, out var node) || node.Element(Set + "Value") is not { } value)
                    continue;
                if (Code(node) == "EngineeringUnits")
                {
                    var number = value.Descendants(Types + "UnitId").Select(u => (int?)Whole(u.Value)).FirstOrDefault();
                    var space = value.Descendants(Types + "NamespaceUri").Select(u => u.Value.Trim()).FirstOrDefault();
                    var spelled = value.Descendants(Types + "DisplayName").Elements(Types + "Text").Select(t => t.Value.Trim());
                    var known = space is null or UnitNumber.Namespace ? UnitNumber.CodeOf(number ?? UnitNumber.None) : null;
                    unit = known ?? spelled.FirstOrDefault();
                }
                else if (
                    Code(node) == "EURange"
                    && value.Descendants(Types + "Low").Select(l => Number(l.Value)).FirstOrDefault() is { } low
                    && value.Descendants(Types + "High").Select(h => Number(h.Value)).FirstOrDefault() is { } high
                    && new Span(low, high) is { IsUsable: true } usable
                )
                    range = usable;
            }
            return (unit, range);
        }

        private void ObjectsAt(string id, string? above, List<LibraryObject> into, HashSet<string> seen)
        {
            if (!_nodes.TryGetValue(id, out var node) || node.Name != Set + "UAObject" || !seen.Add(id))
                return;
            into.Add(
                new(
                    id,
                    Code(node),
                    Name(node),
                    above,
                    _typeOf.GetValueOrDefault(id) is { } its && _nodes.ContainsKey(its) ? its : null,
                    Enum.TryParse<EquipmentLevel>(Beside(node, "Level")?.Value, out var level) ? level : null,
                    []
                )
                {
                    Variables =
                    [
                        .. (_down.GetValueOrDefault(id) ?? [])
                            .Where(d => _nodes.TryGetValue(d.To, out var its) && its.Name == Set + "UAVariable" && !IsFact(its))
                            .Select(d => VariableOf(d.To, _nodes[d.To], "", d.Type == Property)),
                    ],
                }
            );
            foreach (var (_, below) in _down.GetValueOrDefault(id) ?? [])
                ObjectsAt(below, id, into, seen);
        }

        private static LibraryStates? StatesOf(XElement node)
        {
            if (node.Element(Set + "Definition") is not { } definition)
                return null;
            var states = definition
                .Elements(Set + "Field")
                .Where(f => f.Attribute("Value") is not null && f.Attribute("DataType") is null)
                .Select(f =>
                    (
                        Value: Whole((string)f.Attribute("Value")!),
                        Name: (string?)f.Attribute("Name") ?? "",
                        Key: f.Element(Set + "Description")?.Value
                    )
                )
                .Where(f => f.Value is not null && f.Name.Length > 0)
                .ToArray();
            return states.Length == 0
                ? null
                : new(Code(node), Name(node), [.. states.Select(s => new State(s.Value!.Value, s.Name, Key: s.Key))]);
        }

        private static bool IsFact(XElement node) =>
            (string?)node.Attribute("BrowseName") is { } name && !name.Contains(':', StringComparison.Ordinal);

        private static XElement? Beside(XElement node, string what) =>
            node.Element(Set + "Extensions")?.Elements(Set + "Extension").Elements(NodeSetNames.Own + what).FirstOrDefault();

        private static string Name(XElement node) =>
            node.Element(Set + "DisplayName")?.Value.Trim() is { Length: > 0 } name ? name : Code(node);

        /// <summary>The name of a node without the number of its namespace.</summary>
        private static string Code(XElement node)
        {
            var name = (string?)node.Attribute("BrowseName") ?? "";
            var colon = name.IndexOf(':', StringComparison.Ordinal);
            return colon > 0 && name[..colon].All(char.IsAsciiDigit) ? name[(colon + 1)..] : name;
        }

        private string Id(string text) => _aliases.GetValueOrDefault(text, text);

        private static int? Whole(string text) =>
            int.TryParse(text.Trim(), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number) ? number : null;

        private static double? Number(string text) =>
            double.TryParse(text.Trim(), NumberStyles.Float, CultureInfo.InvariantCulture, out var number) && double.IsFinite(number)
                ? number
                : null;
    }
}
