namespace Fralto.Core.Units;

/// <summary>From a number in one unit to the number in another: factor × value + offset.</summary>
public readonly record struct UnitConversion(double Factor, double Offset)
{
    /// <summary>The number stays as it is.</summary>
    public static readonly UnitConversion None = new(1, 0);

    /// <summary>True when the number stays as it is.</summary>
    public bool IsNone => this == None;

    /// <summary>The conversion that leads back.</summary>
    public UnitConversion Inverse => new(1 / Factor, -Offset / Factor);

    /// <summary>The conversion between two units of one dimension; null when their dimensions differ.</summary>
    public static UnitConversion? Between(Unit from, Unit to)
    {
        if (from.Dimension != to.Dimension)
            return null;
        if (from.Code == to.Code || (from.Factor == to.Factor && from.Offset == to.Offset))
            return None;
        var factor = from.Factor / to.Factor;
        return new(factor, from.Offset * factor - to.Offset);
    }

    /// <summary>Why numbers of these two units should not be taken for each other although a factor leads from one to the other; null when
    /// nothing speaks against it.</summary>
    public static string? Caution(Unit from, Unit to)
    {
        bool Either(string one, string other) =>
            (from.Quantity == one && to.Quantity == other) || (from.Quantity == other && to.Quantity == one);
        if (Either("mass fraction", "volume fraction"))
            return "a share by mass is no share by volume; the densities lie between them";
        if (Either("power", "apparent power") || Either("power", "reactive power") || Either("apparent power", "reactive power"))
            return "active, reactive and apparent power differ by the power factor";
        if (Either("pressure", "pressure (absolute)"))
            return "an absolute pressure and a gauge pressure differ by that of the air";
        return Either("frequency", "rotation (as frequency)") ? "a frequency counts cycles, not turns of the shaft" : null;
    }

    /// <summary>A value on the scale: 100 °C is 212 °F.</summary>
    public double Of(double value) => value * Factor + Offset;

    /// <summary>A difference, a deadband or a rate: 100 °C of difference are 180 °F.</summary>
    public double OfDifference(double difference) => difference * Factor;
}
