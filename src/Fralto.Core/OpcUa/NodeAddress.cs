using System.Globalization;
using Fralto.Core.Controllers;

namespace Fralto.Core.OpcUa;

/// <summary>A variable of an OPC UA server, or a part of it.</summary>
/// <remarks>Nodes are written as OPC UA Part 6, clause 5.3.1.11 writes them, with the address of their namespace: what number a namespace
/// has may be another after the next start of the server (Part 3, clause 8.2).</remarks>
/// <param name="Namespace">Address of the namespace; empty for that of the standard itself.</param>
/// <param name="Identifier">Kind and identifier in it: i=2258, s=Compressor 1.Pressure, g=…, b=….</param>
/// <param name="Member">Names that lead to a member of a structure, joined by /; null for the whole value.</param>
/// <param name="Element">One element of an array, from 0; null for the whole value.</param>
public sealed record NodeAddress(string Namespace, string Identifier, string? Member = null, int? Element = null) : TagAddress
{
    /// <summary>The address of the standard's own namespace, which is not written.</summary>
    public const string Standard = "http://opcfoundation.org/UA/";

    private const string ElementWord = "element ";
    private const string MemberWord = "member ";
    private const string Named = "nsu=";

    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.OpcUa;

    /// <inheritdoc/>
    public override bool IsWords => Identifier.StartsWith("s=", StringComparison.Ordinal);

    /// <inheritdoc/>
    public override TagAddress? ElementAt(int index) => this with { Element = index };

    /// <summary>The node alone.</summary>
    public string Node => Namespace.Length == 0 ? Identifier : $"{Named}{Written};{Identifier}";

    /// <summary>The namespace as it is written: its semicolons and per cent signs by their numbers.</summary>
    private string Written => Namespace.Replace("%", "%25", StringComparison.Ordinal).Replace(";", "%3B", StringComparison.Ordinal);

    /// <summary>Reads "nsu=http://x/;s=Name" or "i=2258", and beside it " | member a/b" and " | element 3".</summary>
    public static NodeAddress? Parse(string text, out string? problem)
    {
        problem = null;
        var pieces = Pieces(text.Trim());
        int? element = null;
        string? member = null;
        if (Last(ElementWord) is { } number && int.TryParse(number, NumberStyles.None, CultureInfo.InvariantCulture, out var index))
        {
            element = index;
            pieces.RemoveAt(pieces.Count - 1);
        }
        if (Last(MemberWord) is { } path)
        {
            member = Said(path);
            pieces.RemoveAt(pieces.Count - 1);
        }
        var node = Said(string.Join(Beside, pieces));
        if (member is not { Length: 0 } && Find(node, ref problem) is var (space, identifier))
            return new(space, identifier, member, element);
        problem ??=
            $"'{text}' is no node; write nsu=http://address.of.its/namespace/;s=Name, or i=2258 for one of the standard. "
            + "Browsing lists them.";
        return null;

        // What the last of several pieces says behind a word.
        string? Last(string word) =>
            pieces.Count > 1 && pieces[^1].StartsWith(word, StringComparison.Ordinal) ? pieces[^1][word.Length..] : null;
    }

    /// <summary>The node of a text; null where it is none.</summary>
    public static NodeAddress? OfNode(string node)
    {
        string? problem = null;
        return Find(node, ref problem) is var (space, identifier) ? new(space, identifier) : null;
    }

    private static (string Namespace, string Identifier)? Find(string node, ref string? problem)
    {
        if (node.StartsWith("ns=", StringComparison.Ordinal))
        {
            problem =
                $"'{node}' names its namespace by a number, which may be another after the server's next start; write nsu= and the "
                + "namespace's address. Browsing lists them so.";
            return null;
        }
        if (!node.StartsWith(Named, StringComparison.Ordinal))
            return IsIdentifier(node) ? ("", node) : null;
        var end = node.IndexOf(';', StringComparison.Ordinal);
        if (end <= Named.Length || !IsIdentifier(node[(end + 1)..]))
            return null;
        var space = node[Named.Length..end]
            .Replace("%3B", ";", StringComparison.OrdinalIgnoreCase)
            .Replace("%25", "%", StringComparison.Ordinal);
        return (space == Standard ? "" : space, node[(end + 1)..]);
    }

    private static bool IsIdentifier(string text) =>
        text.Length > 2
        && text[1] == '='
        && text[0] switch
        {
            'i' => uint.TryParse(text.AsSpan(2), NumberStyles.None, CultureInfo.InvariantCulture, out _),
            's' => !text.Any(char.IsControl),
            'g' => Guid.TryParseExact(text.AsSpan(2), "D", out _),
            'b' => Convert.TryFromBase64String(text[2..], new byte[text.Length], out _),
            _ => false,
        };

    private protected override TagAddress? ReadBack(string line, out string? problem) => Parse(line, out problem);

    /// <inheritdoc/>
    public override string ToString() =>
        Piece(Node)
        + (Member is null ? "" : $"{Beside}{MemberWord}{Piece(Member)}")
        + (Element is { } element ? $"{Beside}{ElementWord}{element}" : "");
}
