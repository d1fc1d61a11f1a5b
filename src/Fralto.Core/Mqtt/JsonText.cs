using System.Text.Json;

namespace Fralto.Core.Mqtt;

/// <summary>Texts of JSON that somebody else has written: its escapes can name half of a character pair, which is no text (RFC 8259, section 8.2).</summary>
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
