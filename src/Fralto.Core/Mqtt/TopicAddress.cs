using Fralto.Core.Controllers;

namespace Fralto.Core.Mqtt;

/// <summary>A value in the payloads of an MQTT topic.</summary>
/// <remarks>Places inside JSON are JSON pointers in their fragment form (RFC 6901, section 6): #/level, #/temps/2; # alone is the whole
/// document.</remarks>
/// <param name="Topic">The topic, without wildcards.</param>
/// <param name="Pointer">Place of the value inside a JSON payload; null when the payload itself is the value.</param>
/// <param name="TimePointer">Place of its time: ISO 8601, or milliseconds or seconds since 1970; null for the time of arrival.</param>
/// <param name="QualityPointer">Place of its quality: a word or a number; null for Good.</param>
/// <param name="CommandTopic">Where a command is published; null when it cannot be commanded.</param>
public sealed record TopicAddress(
    string Topic,
    string? Pointer = null,
    string? TimePointer = null,
    string? QualityPointer = null,
    string? CommandTopic = null
) : TagAddress
{
    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.Mqtt;

    /// <inheritdoc/>
    public override bool IsWords => true;

    /// <inheritdoc/>
    public override TagAddress? ElementAt(int index) => Pointer is null ? null : this with { Pointer = $"{Pointer}/{index}" };

    /// <inheritdoc/>
    public override string Place => Topic + (Pointer is null ? "" : "#" + Pointer);

    /// <summary>Reads "topic", "topic#/pointer" and, parted by " | ", "time #/pointer", "quality #/pointer" and "set topic"; what holds " |
    /// " itself, or begins or ends with a space, stands in quotes.</summary>
    public static TopicAddress? Parse(string text, out string? problem)
    {
        var parts = Pieces(text.Trim());
        var where = Said(parts[0]);
        var hash = where.IndexOf('#', StringComparison.Ordinal);
        var (topic, pointer) = hash < 0 ? (where, null) : (where[..hash], where[(hash + 1)..]);
        problem = TopicProblem(topic) ?? PointerProblem(pointer);
        var address = new TopicAddress(topic, pointer);
        foreach (var part in parts.Skip(1))
        {
            if (problem is not null)
                break;
            var space = part.IndexOf(' ', StringComparison.Ordinal);
            var (word, rest) = space < 0 ? (part, "") : (part[..space], Said(part[(space + 1)..].Trim()));
            switch (word)
            {
                case "time" or "quality" when rest.StartsWith('#'):
                    problem = PointerProblem(rest[1..]);
                    address = word == "time" ? address with { TimePointer = rest[1..] } : address with { QualityPointer = rest[1..] };
                    break;
                case "set":
                    problem = TopicProblem(rest);
                    address = address with { CommandTopic = rest };
                    break;
                default:
                    problem = $"'{part}' is not understood; beside a topic stand: time #/place, quality #/place, set topic.";
                    break;
            }
        }
        if (problem is null && pointer is null && (address.TimePointer ?? address.QualityPointer) is not null)
            problem = "Time and quality are places in a JSON payload; say where the value is too, as in silo/7#/level.";
        return problem is null ? address : null;
    }

    /// <summary>What is wrong with a topic to publish or listen to; null when it is fine.</summary>
    public static string? TopicProblem(string topic) =>
        topic.Length == 0 ? "Give the topic."
        : topic.AsSpan().IndexOfAny('+', '#') >= 0 ? $"'{topic}' holds a wildcard; a tag is at one topic. Wildcards are for browsing."
        : topic.Any(char.IsControl) ? "The topic holds a control character."
        : topic.StartsWith('$') ? "Topics that begin with $ belong to the broker."
        : null;

    /// <summary>What is wrong with a topic filter to listen to; null when it is fine.</summary>
    /// <remarks>MQTT 3.1.1 and 5.0, section 4.7.1: + stands for one level, # for all the rest and stands last.</remarks>
    public static string? FilterProblem(string filter)
    {
        if (filter.Length is 0 or > Longest)
            return $"A topic filter has 1 to {Longest} characters, not {filter.Length}.";
        if (filter.Any(char.IsControl))
            return "The topic filter holds a control character.";
        var levels = filter.Split('/');
        for (var i = 0; i < levels.Length; i++)
        {
            if (levels[i].Contains('#', StringComparison.Ordinal) && (levels[i] != "#" || i < levels.Length - 1))
                return $"'{filter}' is no topic filter: # stands alone in the last level, as in silo/#.";
            if (levels[i].Contains('+', StringComparison.Ordinal) && levels[i] != "+")
                return $"'{filter}' is no topic filter: + stands alone in its level, as in silo/+/level.";
        }
        return null;
    }

    /// <summary>The names a JSON pointer leads through.</summary>
    public static string[] Steps(string pointer) =>
        pointer.Length == 0
            ? []
            :
            [
                .. pointer[1..]
                    .Split('/')
                    .Select(s => s.Replace("~1", "/", StringComparison.Ordinal).Replace("~0", "~", StringComparison.Ordinal)),
            ];

    /// <summary>A name as a step of a JSON pointer.</summary>
    public static string Step(string name) =>
        name.Replace("~", "~0", StringComparison.Ordinal).Replace("/", "~1", StringComparison.Ordinal);

    /// <inheritdoc/>
    public override string ToString() =>
        Piece(Place)
        + (TimePointer is null ? "" : $"{Beside}time {Piece("#" + TimePointer)}")
        + (QualityPointer is null ? "" : $"{Beside}quality {Piece("#" + QualityPointer)}")
        + (CommandTopic is null ? "" : $"{Beside}set {Piece(CommandTopic)}");

    /// <inheritdoc/>
    public override string? WhyReadOnly(string name) =>
        CommandTopic is null ? $"{name} has no topic for commands; add one to its address: | set topic." : null;

    private protected override TagAddress? ReadBack(string line, out string? problem) => Parse(line, out problem);

    private static string? PointerProblem(string? pointer) =>
        pointer is null or "" || pointer.StartsWith('/')
            ? null
            : $"'#{pointer}' is no place in JSON; a place begins with #/, as in #/level or #/temps/2.";
}
