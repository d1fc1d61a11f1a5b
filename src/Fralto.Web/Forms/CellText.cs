using System.Globalization;

namespace Fralto.Web.Forms;

/// <summary>How addresses and forms name the property of an instance: both ids, joined by a point.</summary>
public static class CellText
{
    /// <summary>Reads "17.4"; null when it names no cell.</summary>
    /// <param name="text">The text as it came.</param>
    public static (long EquipmentId, long PropertyId)? Read(string? text) =>
        text?.Split('.') is [var e, var p]
        && long.TryParse(e, NumberStyles.None, CultureInfo.InvariantCulture, out var equipment)
        && long.TryParse(p, NumberStyles.None, CultureInfo.InvariantCulture, out var property)
            ? (equipment, property)
            : null;
}
