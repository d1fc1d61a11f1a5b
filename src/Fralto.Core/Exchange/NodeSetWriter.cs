using System.Globalization;
using System.Text;
using System.Xml;
using System.Xml.Linq;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Templates;
using Fralto.Core.Units;
using static Fralto.Core.Exchange.NodeSetNames;

namespace Fralto.Core.Exchange;

/// <summary>Writes a model as a NodeSet2 file: templates as object types, equipment as objects, state lists as enumerations, units and
/// ranges as OPC UA Part 8 has them.</summary>
/// <remarks>Limits, scales, controllers, tags and bindings have no place there; the model's own JSON has them all. What the standard has no
/// word for, levels, kinds and formulas, stands in extensions, which others pass over.</remarks>
public static class NodeSetWriter
{
    /// <summary>The file.</summary>
    /// <param name="model">The model.</param>
    /// <param name="published">When it was made.</param>
    public static string Write(PlantModel model, DateTimeOffset published)
    {
        var text = new StringBuilder("<?xml version=\"1.0\" encoding=\"utf-8\"?>\n");
        using (
            var xml = XmlWriter.Create(
                text,
                new XmlWriterSettings
                {
                    Indent = true,
                    OmitXmlDeclaration = true,
                    NewLineChars = "\n",
                }
            )
        )
        {
            xml.WriteStartElement("UANodeSet", Set.NamespaceName);
            var at = published.UtcDateTime.ToString("yyyy-MM-ddTHH:mm:ssZ", CultureInfo.InvariantCulture);
            xml.WriteAttributeString("LastModified", at);
            new XElement(Set + "NamespaceUris", new XElement(Set + "Uri", Model)).WriteTo(xml);
            new XElement(
                Set + "Models",
                new XElement(
                    Set + "Model",
                    new XAttribute("ModelUri", Model),
                    new XAttribute("Version", "1.0.0"),
                    new XAttribute("PublicationDate", at),
                    new XElement(
                        Set + "RequiredModel",
                        new XAttribute("ModelUri", "http://opcfoundation.org/UA/"),
                        new XAttribute("Version", "1.04"),
                        new XAttribute("PublicationDate", "2019-05-01T00:00:00Z")
                    )
                )
            ).WriteTo(xml);
            foreach (var node in Nodes(model))
                node.WriteTo(xml);
            xml.WriteEndElement();
        }
        return text.Append('\n').ToString();
    }

    private static IEnumerable<XElement> Nodes(PlantModel model)
    {
        foreach (var list in model.StateLists.Values.OrderBy(s => s.Code, StringComparer.Ordinal))
        foreach (var node in Enumeration(list))
            yield return node;
        foreach (
            var template in model
                .Templates.Values.OrderBy(t => model.Index.AncestryOf(t.Id).Count)
                .ThenBy(t => t.Code, StringComparer.Ordinal)
        )
        foreach (var node in Type(model, template))
            yield return node;
        foreach (var top in model.Index.ChildrenOf(null))
        foreach (var equipment in model.Index.Below(top.Id))
        foreach (var node in Object(model, equipment))
            yield return node;
    }

    private static IEnumerable<XElement> Enumeration(StateList list)
    {
        yield return Node(
            "UADataType",
            $"states/{list.Code}",
            list.Code,
            list.Name,
            null,
            [Reference(Subtype, NodeSetNames.Enumeration, isForward: false)],
            new XElement(
                Set + "Definition",
                new XAttribute("Name", $"1:{list.Code}"),
                list.States.Select(s => new XElement(
                    Set + "Field",
                    new XAttribute("Name", s.Name),
                    new XAttribute("Value", s.Value),
                    s.Key is null ? null : new XElement(Set + "Description", s.Key)
                ))
            )
        );
    }

    private static IEnumerable<XElement> Type(PlantModel model, Template template)
    {
        var id = $"type/{template.Code}";
        yield return Node(
            "UAObjectType",
            id,
            $"{template.Code}Type",
            template.Name,
            template.Description,
            [
                Reference(
                    Subtype,
                    template.ParentId is { } parent ? Own($"type/{model.Templates[parent].Code}") : BaseObject,
                    isForward: false
                ),
            ],
            template.Levels.IsEmpty ? null : Beside(new XElement(NodeSetNames.Own + "Levels", string.Join(' ', template.Levels)))
        );
        foreach (var property in model.Index.PropertiesOf(template.Id))
        {
            // What is inherited is written again where it is said otherwise.
            if (property.DeclaredBy != template.Id && property.Own is { Unit: null, Range: null })
                continue;
            foreach (var node in Variable(model, property, property.Facts, id, isType: true))
                yield return node;
        }
        foreach (var part in template.Parts)
        foreach (var (name, code) in part.Members)
            yield return Node(
                "UAObject",
                $"{id}/{code}",
                code,
                name,
                null,
                [
                    Reference(TypeDefinition, Own($"type/{model.Templates[part.TemplateId].Code}")),
                    Reference(ModellingRule, Mandatory),
                    Reference(Component, Own(id), isForward: false),
                ],
                Beside(
                    new XElement(
                        NodeSetNames.Own + "Part",
                        new XAttribute("Code", part.Code),
                        new XAttribute("Name", part.Name),
                        new XAttribute("Level", part.Level),
                        new XAttribute("Count", part.Count)
                    )
                )
            );
    }

    private static IEnumerable<XElement> Object(PlantModel model, Equipment equipment)
    {
        var path = model.Index.PathOf(equipment.Id);
        var template = equipment.TemplateId is { } its ? model.Templates[its] : null;
        yield return Node(
            "UAObject",
            path,
            equipment.Code,
            equipment.Name,
            null,
            [
                Reference(TypeDefinition, template is null ? BaseObject : Own($"type/{template.Code}")),
                equipment.ParentId is { } parent
                    ? Reference(Component, Own(model.Index.PathOf(parent)), isForward: false)
                    : Reference(Organizes, Objects, isForward: false),
            ],
            Beside(new XElement(NodeSetNames.Own + "Level", equipment.Level))
        );
        if (template is null)
            yield break;
        foreach (var property in model.Index.PropertiesOf(equipment))
        foreach (var node in Variable(model, property, property.Facts, path, isType: false))
            yield return node;
    }

    private static IEnumerable<XElement> Variable(
        PlantModel model,
        ResolvedProperty property,
        PropertyPatch facts,
        string above,
        bool isType
    )
    {
        var (declared, id) = (property.Declaration, $"{above}/{property.Code}");
        var list = facts.StateListId is { } states ? model.StateLists.GetValueOrDefault(states) : null;
        var isNumber = declared.Type is PropertyType.Number or PropertyType.Integer;
        var unit = isNumber ? model.Units.Find(facts.Unit) : null;
        var range = isNumber ? model.RangeOf(facts) : null;
        var isFixed = declared.Kind == PropertyKind.Fixed;
        yield return Node(
            "UAVariable",
            id,
            property.Code,
            property.Name,
            null,
            [
                Reference(
                    TypeDefinition,
                    isFixed
                        ? PropertyNode
                        : (range, unit) switch
                        {
                            (not null, not null) => AnalogUnitRange,
                            (not null, null) => AnalogItem,
                            (null, not null) => AnalogUnit,
                            _ => BaseDataVariable,
                        }
                ),
                .. isType ? [Reference(ModellingRule, Mandatory)] : Array.Empty<XElement>(),
                Reference(isFixed ? Property : Component, Own(above), isForward: false),
            ],
            isType || isFixed
                ? Beside(
                    new XElement(
                        NodeSetNames.Own + "Property",
                        new XAttribute("Kind", declared.Kind),
                        new XAttribute("Type", declared.Type),
                        facts.Formula is { } formula ? new XAttribute("Formula", formula) : null,
                        isFixed && facts.Value is { } value ? new XAttribute("Value", value) : null
                    )
                )
                : null,
            new XAttribute(
                "DataType",
                list is not null
                    ? Own($"states/{list.Code}")
                    : declared.Type switch
                    {
                        PropertyType.Number => "i=11",
                        PropertyType.Integer or PropertyType.State => "i=6",
                        PropertyType.Boolean => "i=1",
                        PropertyType.Time => "i=13",
                        _ => "i=12",
                    }
            ),
            new XAttribute("AccessLevel", declared.Kind is PropertyKind.Command or PropertyKind.Entered ? 3 : 1)
        );
        if (isFixed)
            yield break;
        if (range is { } span)
            yield return Fact(
                id,
                "EURange",
                NodeSetNames.Range,
                RangeXml,
                new XElement(Types + "Range", new XElement(Types + "Low", Text(span.Low)), new XElement(Types + "High", Text(span.High)))
            );
        if (unit is not null)
            yield return Fact(
                id,
                "EngineeringUnits",
                NodeSetNames.Units,
                UnitsXml,
                new XElement(
                    Types + "EUInformation",
                    new XElement(Types + "NamespaceUri", UnitNumber.Namespace),
                    new XElement(Types + "UnitId", unit.OpcUaId),
                    new XElement(Types + "DisplayName", new XElement(Types + "Text", unit.Symbol)),
                    new XElement(Types + "Description", new XElement(Types + "Text", unit.Name))
                )
            );
    }

    private static XElement Fact(string of, string name, string dataType, string encoding, XElement body) =>
        new(
            Set + "UAVariable",
            new XAttribute("NodeId", Own($"{of}/{name}")),
            new XAttribute("BrowseName", name),
            new XAttribute("ParentNodeId", Own(of)),
            new XAttribute("DataType", dataType),
            new XElement(Set + "DisplayName", name),
            new XElement(
                Set + "References",
                Reference(TypeDefinition, PropertyNode),
                Reference(ModellingRule, Mandatory),
                Reference(Property, Own(of), isForward: false)
            ),
            new XElement(
                Set + "Value",
                new XElement(
                    Types + "ExtensionObject",
                    new XElement(Types + "TypeId", new XElement(Types + "Identifier", encoding)),
                    new XElement(Types + "Body", body)
                )
            )
        );

    private static XElement Node(
        string kind,
        string id,
        string code,
        string name,
        string? description,
        IEnumerable<XElement> references,
        params object?[] more
    ) =>
        new(
            Set + kind,
            new XAttribute("NodeId", Own(id)),
            new XAttribute("BrowseName", $"1:{code}"),
            more.OfType<XAttribute>(),
            new XElement(Set + "DisplayName", Clean(name)),
            string.IsNullOrEmpty(description) ? null : new XElement(Set + "Description", Clean(description)),
            new XElement(Set + "References", references),
            more.OfType<XElement>()
        );

    private static XElement Beside(XElement what) => new(Set + "Extensions", new XElement(Set + "Extension", what));

    private static XElement Reference(string type, string to, bool isForward = true) =>
        new(Set + "Reference", new XAttribute("ReferenceType", type), isForward ? null : new XAttribute("IsForward", "false"), to);

    private static string Own(string id) => $"ns=1;s={Clean(id)}";

    /// <summary>A text without what XML cannot hold (XML 1.0, section 2.2).</summary>
    private static string Clean(string text) => text.All(XmlConvert.IsXmlChar) ? text : string.Concat(text.Where(XmlConvert.IsXmlChar));

    private static string Text(double number) => number.ToString("R", CultureInfo.InvariantCulture);
}
