using Fralto.Core.Plant;

namespace Fralto.Web.Forms;

/// <summary>A field that holds a unit, shown and typed as people write it.</summary>
public static class UnitField
{
    /// <summary>The symbol of a code where the symbol leads back to it; else the code itself.</summary>
    public static string Text(string? code, PlantModel model) =>
        code is null ? ""
        : model.Units.Find(code) is { } unit && model.Units.Match(unit.Symbol)?.Code == code ? unit.Symbol
        : code;

    /// <summary>The code of the unit a field names; null when it is empty, null and a problem with the nearest units when it names
    /// none.</summary>
    public static string? Read(FormReader reader, string field, PlantModel model)
    {
        if (reader.Text(field) is not { Length: > 0 } text)
            return null;
        var unit = model.Units.Match(text);
        if (unit is null)
            reader.Refuse(field, model.Units.Unknown(text));
        return unit?.Code;
    }
}
