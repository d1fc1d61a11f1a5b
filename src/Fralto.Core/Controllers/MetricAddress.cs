namespace Fralto.Core.Controllers;

/// <summary>A metric of a Sparkplug edge node or of one of its devices.</summary>
/// <param name="Group">Group id.</param>
/// <param name="Node">Edge node id.</param>
/// <param name="Device">Device id; null for a metric of the edge node itself.</param>
/// <param name="Metric">Name of the metric; members of a template by their path, joined by /.</param>
public sealed record MetricAddress(string Group, string Node, string? Device, string Metric) : TagAddress
{
    /// <summary>Group, node and device, joined by /.</summary>
    public string Source => Device is null ? $"{Group}/{Node}" : $"{Group}/{Node}/{Device}";

    /// <summary>Reads "group/node/device#metric" or "group/node#metric".</summary>
    public static MetricAddress? Parse(string text, out string? problem)
    {
        problem = null;
        var hash = text.IndexOf('#', StringComparison.Ordinal);
        var ids = hash < 0 ? [] : text[..hash].Split('/');
        if (ids.Length is 2 or 3 && ids.All(i => i.Length > 0 && !i.Contains('+', StringComparison.Ordinal)) && hash + 1 < text.Length && !text.Any(char.IsControl))
            return new(ids[0], ids[1], ids.Length == 3 ? ids[2] : null, text[(hash + 1)..]);
        problem = $"'{text}' is no metric; write group/node/device#metric, or group/node#metric for one of the node itself. Browsing lists them.";
        return null;
    }

    public override string ToString() => $"{Source}#{Metric}";
}
