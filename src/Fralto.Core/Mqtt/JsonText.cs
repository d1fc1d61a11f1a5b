using System.Text.Json;

namespace Fralto.Core.Mqtt;

/// <summary>Texts of JSON that somebody else has written: its escapes can name half of a character pair, which is no text (RFC 8259,
/// section 8.2).</summary>
public static class JsonText
{
    /// <summary>The text of a string; null when it is none.</summary>
    public static string? Of(JsonElement value)
    {
        try
        {
            return value.GetString();
        }
        catch (InvalidOperationException)
        {
            return null;
        }
    }

    /// <summary>A member by its name; null when there is none of this name.</summary>
    public static JsonElement? Member(JsonElement element, string name)
    {
        try
        {
            return element.TryGetProperty(name, out var member) ? member : null;
        }
        catch (InvalidOperationException)
        {
            // A neighbour's name is no text, which ends the search for this one too soon.
            foreach (var member in element.EnumerateObject())
                if (NameOf(member) == name)
                    return member.Value;
            return null;
        }
    }

    /// <summary>The name of a member; null when it is none.</summary>
    public static string? NameOf(JsonProperty member)
    {
        try
        {
            return member.Name;
        }
        catch (InvalidOperationException)
        {
            return null;
        }
    }
}
