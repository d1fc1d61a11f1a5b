namespace Fralto.Links.Sparkplug;

/// <summary>A Sparkplug B topic: spBv1.0/{group}/{message}/{edge node}[/{device}] (Eclipse Sparkplug 3.0.0, chapter 4).</summary>
internal readonly record struct SparkplugTopic(string Group, string Message, string Node, string? Device)
{
    public const string Namespace = "spBv1.0";

    /// <summary>Group, node and device, joined by /.</summary>
    public string Source => Device is null ? $"{Group}/{Node}" : $"{Group}/{Node}/{Device}";

    public (string Group, string Node) NodeKey => (Group, Node);

    public static SparkplugTopic? Parse(string topic) =>
        topic.Split('/') switch
        {
            [Namespace, var group, var message, var node] when message.StartsWith('N') => new(group, message, node, null),
            [Namespace, var group, var message, var node, var device] when message.StartsWith('D') => new(group, message, node, device),
            _ => null,
        };

    /// <summary>The topic of a command.</summary>
    public static string Command(string group, string node, string? device) =>
        device is null ? $"{Namespace}/{group}/NCMD/{node}" : $"{Namespace}/{group}/DCMD/{node}/{device}";

    /// <summary>The topic on which a host application says whether it lives.</summary>
    public static string State(string hostId) => $"{Namespace}/STATE/{hostId}";
}
