using System.Globalization;
using Fralto.Core.Controllers;

namespace Fralto.Core.Sparkplug;

/// <summary>A metric of a Sparkplug edge node or of one of its devices.</summary>
/// <param name="Group">Group id.</param>
/// <param name="Node">Edge node id.</param>
/// <param name="Device">Device id; null for a metric of the edge node itself.</param>
/// <param name="Metric">Name of the metric; members of a template by their path, joined by /.</param>
/// <param name="Element">One element of an array, from 0; null for the whole metric.</param>
public sealed record MetricAddress(string Group, string Node, string? Device, string Metric, int? Element = null) : TagAddress
{
    private const string ElementWord = "element ";

    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.Sparkplug;

    /// <inheritdoc/>
    public override bool IsWords => true;

    /// <inheritdoc/>
    public override TagAddress? ElementAt(int index) => this with { Element = index };

    /// <summary>Group, node and device, joined by /.</summary>
    public string Source => Device is null ? $"{Group}/{Node}" : $"{Group}/{Node}/{Device}";

    /// <summary>Reads "group/node/device#metric" or "group/node#metric", and " | element 3" beside it.</summary>
    public static MetricAddress? Parse(string text, out string? problem)
    {
        problem = null;
        int? element = null;
        var parts = Pieces(text);
        // A metric's own name may hold what parts the pieces: only what is an element in the last of them is said beside it.
        if (
            parts is [var first, .. [var last]]
            && last.StartsWith(ElementWord, StringComparison.Ordinal)
            && int.TryParse(last.AsSpan(ElementWord.Length), NumberStyles.None, CultureInfo.InvariantCulture, out var index)
        )
            (element, parts) = (index, [first]);
        var where = parts is [var single] ? Said(single) : text;
        var hash = where.IndexOf('#', StringComparison.Ordinal);
        var ids = hash < 0 ? [] : where[..hash].Split('/');
        if (ids.Length is 2 or 3 && ids.All(IsId) && hash + 1 < where.Length)
            return new(ids[0], ids[1], ids.Length == 3 ? ids[2] : null, where[(hash + 1)..], element);
        problem =
            $"'{text}' is no metric; write group/node/device#metric, or group/node#metric for one of the node itself. Browsing lists them.";
        return null;
    }

    private protected override TagAddress? ReadBack(string line, out string? problem) => Parse(line, out problem);

    private static bool IsId(string id) => id.Length > 0 && !id.Contains('+', StringComparison.Ordinal) && !id.Any(char.IsControl);

    /// <inheritdoc/>
    public override string ToString() =>
        $"{Piece($"{Source}#{Metric}")}{(Element is { } element ? $"{Beside}{ElementWord}{element}" : "")}";
}
