using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Store;

/// <summary>From a recorded number to a value: the part of a point's chain that gives it, as it is kept beside history.</summary>
/// <param name="Slice">Bits taken from the raw word; null for all of it.</param>
/// <param name="Scale">From signal to engineering value; null for none.</param>
/// <param name="Factor">Of the conversion of units.</param>
/// <param name="Offset">Of the conversion of units.</param>
public sealed record KeptScaling(Slice? Slice, Scale? Scale, double Factor, double Offset)
{
    /// <summary>The text a chain is kept as; null where numbers are values already.</summary>
    public static string? TextOf(Chain chain) =>
        chain.Slice is null && chain.Scale is null && chain.Conversion == UnitConversion.None
            ? null
            : Json.Write(new KeptScaling(chain.Slice, chain.Scale, chain.Conversion.Factor, chain.Conversion.Offset));

    /// <summary>The chain of a text.</summary>
    public static Chain Read(string text) =>
        Json.Read<KeptScaling>(text) is var kept ? new(kept.Slice, kept.Scale, new(kept.Factor, kept.Offset), null) : null!;
}
