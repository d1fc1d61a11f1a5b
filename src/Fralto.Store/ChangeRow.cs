using System.Text.Json;
using Fralto.Core.Plant;

namespace Fralto.Store;

/// <summary>One change as the journal keeps it: the kind of entity, and the entity before and after.</summary>
/// <param name="Kind">The identifier of the kind.</param>
/// <param name="Before">The entity before; null when it is new.</param>
/// <param name="After">The entity after; null when it is gone.</param>
internal sealed record ChangeRow(string Kind, JsonElement? Before, JsonElement? After)
{
    public static ChangeRow Of(ModelChange change) =>
        new(
            EntityKinds.Of((change.After ?? change.Before)!).Id,
            change.Before is null ? null : Json.Element(change.Before),
            change.After is null ? null : Json.Element(change.After)
        );

    /// <exception cref="FormatException">There is no such kind of entity.</exception>
    public ModelChange ToChange()
    {
        var type = (EntityKinds.Called(Kind) ?? throw new FormatException($"'{Kind}' is no kind of entity.")).Type;
        return new(Json.Read(Before, type), Json.Read(After, type));
    }
}
