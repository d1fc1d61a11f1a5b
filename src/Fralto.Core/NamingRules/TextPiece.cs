using System.Globalization;
using Fralto.Core.Hierarchy;

namespace Fralto.Core.NamingRules;

/// <summary>A text that follows the code or name of the instance or of a place above it.</summary>
/// <param name="Place">The node.</param>
/// <param name="OfName">True for its name, false for its code.</param>
/// <param name="Cut">How it is cut.</param>
/// <param name="Length">How many letters, where the cut counts them; 0 for all.</param>
public sealed record TextPiece(PlaceRef Place, bool OfName, TextCut Cut, int Length = 0) : PatternPiece
{
    internal override bool Write(IFollowed instance, ref KeyWriter key)
    {
        if (instance.TextOf(this) is not { Length: > 0 } text)
            return false;
        key.Add(text);
        return true;
    }

    internal override string? TextFor(IFollowed instance) =>
        Cut switch
        {
            TextCut.Whole => OfName ? Place.Of(instance.Lineage)?.Name : Place.Of(instance.Lineage)?.Code,
            _ => instance.TextOf(this)?.ToUpperInvariant(),
        };

    /// <inheritdoc/>
    public override string ToString()
    {
        if (Cut == TextCut.OrderLetter)
            return "{" + (Place == PlaceRef.Self ? "" : $"{Place}.") + "order:letter}";
        var cut =
            Cut is TextCut.Whole
                ? ""
                : $":{Cut.ToString().ToLowerInvariant()}{(Length > 0 ? Length.ToString(CultureInfo.InvariantCulture) : "")}";
        return "{" + (Place == PlaceRef.Self ? "" : $"{Place}.") + (OfName ? "name" : "code") + cut + "}";
    }
}
