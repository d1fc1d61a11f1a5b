using System.Text.Json;
using Fralto.Core.Basics;

namespace Fralto.Core.Exchange;

/// <summary>A release as a file: from one Fralto to another, say from a test system to the plant. Names lead, not ids, so that it fits a
/// plant that has grown by itself.</summary>
/// <param name="Format">Always <see cref="FormatName"/>.</param>
/// <param name="Version">Version of this format.</param>
/// <param name="Number">Its number where it was made.</param>
/// <param name="At">When it was made.</param>
/// <param name="Who">Who made it.</param>
/// <param name="Note">What it is for.</param>
/// <param name="Model">The whole model.</param>
public sealed record ReleaseFile(string Format, int Version, int Number, DateTimeOffset At, string Who, string Note, ModelDocument Model)
{
    /// <summary>The name of the format.</summary>
    public const string FormatName = "fralto-release";

    /// <summary>The version this Fralto writes and reads.</summary>
    public const int Newest = 1;

    /// <summary>The file as bytes.</summary>
    public byte[] Write() => JsonSerializer.SerializeToUtf8Bytes(this, ModelFormat.Json);

    /// <summary>Reads a file.</summary>
    /// <param name="utf8">The bytes.</param>
    /// <param name="problem">What is wrong with them; null when nothing is.</param>
    /// <returns>The release; null when it cannot be read.</returns>
    public static ReleaseFile? Read(ReadOnlySpan<byte> utf8, out Problem? problem)
    {
        problem = null;
        try
        {
            var file = JsonSerializer.Deserialize<ReleaseFile>(utf8, ModelFormat.Json);
            if (file is null || file.Format != FormatName)
                problem = new("format", $"This is no release of Fralto; its format would be {FormatName}.");
            else if (file.Version != Newest)
                problem = new("version", $"It is of version {file.Version}; this Fralto reads {Newest}.");
            else if (file.Model is null)
                problem = new("model", "It holds no model.");
            return problem is null ? file : null;
        }
        catch (JsonException e)
        {
            problem = new(e.Path ?? "", $"This is no release of Fralto: {JsonTrouble.Words(e)}");
            return null;
        }
    }

    /// <summary>The model with controllers reached elsewhere.</summary>
    /// <param name="map">For controllers by name: host, or host:port, or :port.</param>
    /// <param name="problem">What is wrong with the map; null when nothing is.</param>
    /// <returns>The model; null when the map is wrong.</returns>
    public ModelDocument? Mapped(IReadOnlyDictionary<string, string> map, out string? problem)
    {
        problem = null;
        var controllers = Model.Controllers?.ToArray() ?? [];
        foreach (var (name, place) in map)
        {
            var at = Array.FindIndex(controllers, c => c.Name.Equals(name, StringComparison.OrdinalIgnoreCase));
            if (at < 0)
            {
                problem = $"The release has no controller {name}; it has {string.Join(", ", controllers.Select(c => c.Name))}.";
                return null;
            }
            var colon = place.LastIndexOf(':');
            var (host, port) = (colon < 0 ? place : place[..colon], colon < 0 ? (int?)null : PortOf(place[(colon + 1)..]));
            if (place.Length == 0 || colon >= 0 && port is null || controllers[at].Host is null)
            {
                problem = $"'{place}' is no place for {name}; write host, host:port or :port.";
                return null;
            }
            controllers[at] = controllers[at] with
            {
                Host = host.Length > 0 ? host : controllers[at].Host,
                Port = port ?? controllers[at].Port,
            };
        }
        return Model with { Controllers = controllers };
    }

    private static int? PortOf(string text) =>
        int.TryParse(text, System.Globalization.NumberStyles.None, System.Globalization.CultureInfo.InvariantCulture, out var port)
        && port is >= 1 and <= 65535
            ? port
            : null;
}
