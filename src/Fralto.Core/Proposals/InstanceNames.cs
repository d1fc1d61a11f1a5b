using Fralto.Core.Hierarchy;
using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>What naming rules can follow of one instance: numbers and texts of itself and of the places above it.</summary>
/// <param name="instance">The instance.</param>
/// <param name="lineage">The places above it from the top, and itself at the end.</param>
/// <param name="nodes">Sheets of all nodes.</param>
internal sealed class InstanceNames(Equipment instance, IReadOnlyList<Equipment> lineage, PlantNames nodes) : IFollowed
{
    public Equipment Instance => instance;

    public IReadOnlyList<Equipment> Lineage => lineage;

    /// <summary>The part it was made from and the place that has enough of its kind for a rule to be judged by them; 0 for none.</summary>
    public (long PartId, long PlaceId) Group { get; set; }

    public long? NumberOf(PlaceRef place, NumberKind kind) =>
        place.Of(lineage) is not { } node
            ? null
            : kind switch
            {
                NumberKind.Number => nodes.Of(node).Number,
                NumberKind.Tail => nodes.Of(node).Number is >= 100 and var number ? number % 100 : null,
                NumberKind.Head => nodes.Of(node).Number is >= 100 and var number ? number / 100 : null,
                NumberKind.Order => nodes.OrderOf(node),
                NumberKind.Position => nodes.PositionOf(node),
                NumberKind.Count => nodes.CountOf(node).InPlant,
                _ => nodes.CountOf(node).InSite,
            };

    public NodeNames? NamesOf(PlaceRef place) => place.Of(lineage) is { } node ? nodes.Of(node) : null;

    public string? TextOf(TextPiece piece) =>
        piece.Place.Of(lineage) is not { } node ? null
        : piece.Cut == TextCut.OrderLetter
            ? nodes.OrderOf(node) is <= 26 and var order ? ((char)('a' + order - 1)).ToString()
                : null
        : nodes.Of(node).TextOf(piece.OfName, piece.Cut, piece.Length);
}
