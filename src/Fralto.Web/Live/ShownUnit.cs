using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Web.Live;

/// <summary>How the value of a point is shown to one person.</summary>
/// <param name="Unit">The unit; null for none.</param>
/// <param name="Conversion">From the unit of the model to it.</param>
/// <param name="Range">The range in it.</param>
/// <param name="Decimals">Decimals that suit the range there.</param>
public readonly record struct ShownUnit(Unit? Unit, UnitConversion Conversion, Span? Range, int Decimals)
{
    /// <summary>The symbol beside the number.</summary>
    public string Symbol => Unit?.Symbol ?? "";
}
