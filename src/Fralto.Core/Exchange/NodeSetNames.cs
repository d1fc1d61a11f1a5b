using System.Xml.Linq;

namespace Fralto.Core.Exchange;

/// <summary>Names and numbers of NodeSet2 files (OPC UA Part 6, annex F; node ids of Part 6, annex A.3).</summary>
internal static class NodeSetNames
{
    /// <summary>The namespace of the file's own elements.</summary>
    public static readonly XNamespace Set = "http://opcfoundation.org/UA/2011/03/UANodeSet.xsd";

    /// <summary>The namespace of values.</summary>
    public static readonly XNamespace Types = "http://opcfoundation.org/UA/2008/02/Types.xsd";

    /// <summary>The namespace of what Fralto says beside the standard: levels, kinds, formulas.</summary>
    public static readonly XNamespace Own = "urn:fralto:nodeset";

    /// <summary>The namespace models are written in.</summary>
    public const string Model = "urn:fralto:model";

    public const string Organizes = "i=35",
        ModellingRule = "i=37",
        TypeDefinition = "i=40",
        Subtype = "i=45",
        Property = "i=46",
        Component = "i=47";

    public const string BaseObject = "i=58",
        Folder = "i=61",
        BaseDataVariable = "i=63",
        PropertyNode = "i=68",
        AnalogItem = "i=2368",
        AnalogUnit = "i=17497",
        AnalogUnitRange = "i=17570",
        Enumeration = "i=29",
        Objects = "i=85",
        Mandatory = "i=78";

    public const string Range = "i=884",
        RangeXml = "i=885",
        Units = "i=887",
        UnitsXml = "i=888";

    /// <summary>Built-in types by name, as files use them also without an alias.</summary>
    public static readonly IReadOnlyDictionary<string, string> BuiltIn = new Dictionary<string, string>
    {
        ["Boolean"] = "i=1",
        ["SByte"] = "i=2",
        ["Byte"] = "i=3",
        ["Int16"] = "i=4",
        ["UInt16"] = "i=5",
        ["Int32"] = "i=6",
        ["UInt32"] = "i=7",
        ["Int64"] = "i=8",
        ["UInt64"] = "i=9",
        ["Float"] = "i=10",
        ["Double"] = "i=11",
        ["String"] = "i=12",
        ["DateTime"] = "i=13",
        ["LocalizedText"] = "i=21",
        ["Number"] = "i=26",
        ["Integer"] = "i=27",
        ["UInteger"] = "i=28",
        ["Organizes"] = Organizes,
        ["HasModellingRule"] = ModellingRule,
        ["HasTypeDefinition"] = TypeDefinition,
        ["HasSubtype"] = Subtype,
        ["HasProperty"] = Property,
        ["HasComponent"] = Component,
        ["HasOrderedComponent"] = "i=49",
    };
}
