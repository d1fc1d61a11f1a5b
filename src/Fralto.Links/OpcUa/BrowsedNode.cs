using System.Text.Json;
using Fralto.Core.Controllers;
using Fralto.Core.OpcUa;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Links.OpcUa;

/// <summary>A variable as the child lists it, as what could become tags.</summary>
internal static class BrowsedNode
{
    private const int MostStates = 200;
    private const int DeepestMember = 6;
    private const uint MayRead = 1,
        MayWrite = 2;

    /// <summary>What could become of a node: one item; of a structure an item for each member that holds a value; none where it holds
    /// nothing that can be read as a value.</summary>
    public static IEnumerable<SourceItem> ItemsOf(JsonElement node)
    {
        if (NodeAddress.OfNode(node.GetProperty("node").GetString()!) is not { } address)
            return [];
        string[] path = [.. node.GetProperty("path").EnumerateArray().Select(p => p.GetString()!)];
        var value = node.GetProperty("value");
        var count = Math.Clamp(node.GetProperty("count").GetInt32(), 1, Tag.MostElements);
        if (node.GetProperty("type").GetString() == "ExtensionObject")
            return Members(address, path, value, Access(node), "", 0);
        if (TypeOf(node.GetProperty("type").GetString()) is not { } type || type == RawType.Text && count > 1)
            return [];
        var (unit, code) = UnitOf(node);
        return
        [
            new(address, path, type, count, NodeValue.Words(value), unit, RangeOf(node), node.GetProperty("description").GetString() ?? "")
            {
                UnitCode = code,
                Rights = Access(node),
                States = StatesOf(node),
                StatesName = node.GetProperty("enumeration").GetString() ?? "",
            },
        ];
    }

    /// <summary>Unit of a node: its spelling, and its code where it is one of UNECE.</summary>
    public static (string? Text, string? Code) UnitOf(JsonElement node)
    {
        var unit = node.GetProperty("unit");
        if (unit.ValueKind != JsonValueKind.Object)
            return (null, null);
        var text = unit.GetProperty("text").GetString();
        var code =
            unit.GetProperty("uri").GetString() is UnitNumber.Namespace or "" && unit.GetProperty("id").TryGetInt32(out var number)
                ? UnitNumber.CodeOf(number)
                : null;
        return (string.IsNullOrEmpty(text) ? code : text, code);
    }

    /// <summary>Range of a node; null where it says none.</summary>
    public static Span? RangeOf(JsonElement node) =>
        node.GetProperty("range") is { ValueKind: JsonValueKind.Array } range
        && new Span(range[0].GetDouble(), range[1].GetDouble()) is { IsUsable: true } usable
            ? usable
            : null;

    /// <summary>States of a node by number; empty where it says none.</summary>
    public static IReadOnlyList<(long Number, string Name)> StatesOf(JsonElement node) =>
        node.GetProperty("states") is { ValueKind: JsonValueKind.Array } states
            ? [.. states.EnumerateArray().Take(MostStates).Select(s => (s[0].GetInt64(), s[1].GetString() ?? ""))]
            : [];

    /// <summary>The type of the tag a built-in type becomes (OPC UA Part 6, table 1); null for those that are no value.</summary>
    public static RawType? TypeOf(string? type) =>
        type switch
        {
            "Boolean" => RawType.Bool,
            "SByte" => RawType.Int8,
            "Byte" => RawType.UInt8,
            "Int16" => RawType.Int16,
            "UInt16" => RawType.UInt16,
            "Int32" => RawType.Int32,
            "UInt32" => RawType.UInt32,
            "Int64" => RawType.Int64,
            "UInt64" => RawType.UInt64,
            "Float" => RawType.Float32,
            "Double" => RawType.Float64,
            "String" or "LocalizedText" or "DateTime" or "Guid" or "QualifiedName" or "ByteString" or "NodeId" => RawType.Text,
            _ => null,
        };

    private static string Access(JsonElement node)
    {
        var access = node.GetProperty("access").GetUInt32();
        return (access & MayRead) == 0 ? "may not be read"
            : (access & MayWrite) == 0 ? ""
            : "may be written";
    }

    private static IEnumerable<SourceItem> Members(
        NodeAddress address,
        string[] path,
        JsonElement value,
        string access,
        string below,
        int depth
    )
    {
        if (value.ValueKind != JsonValueKind.Object || depth > DeepestMember)
            yield break;
        foreach (var member in value.EnumerateObject())
        {
            var at = below.Length == 0 ? member.Name : $"{below}/{member.Name}";
            string[] its = [.. path, member.Name];
            if (member.Value.ValueKind == JsonValueKind.Object)
                foreach (var deeper in Members(address, its, member.Value, access, at, depth + 1))
                    yield return deeper;
            else if (member.Value.ValueKind is JsonValueKind.Number or JsonValueKind.String)
                yield return new(
                    address with
                    {
                        Member = at,
                    },
                    its,
                    member.Value.ValueKind == JsonValueKind.Number ? RawType.Float64 : RawType.Text,
                    1,
                    NodeValue.Words(member.Value),
                    null,
                    null,
                    "member of a structure"
                )
                {
                    Rights = access == "may not be read" ? access : "",
                };
        }
    }
}
