using System.Collections.Immutable;
using Fralto.Core.Basics;

namespace Fralto.Core.Modbus;

/// <summary>The block of data that every device of one kind exposes; the tags of each device are generated from it.</summary>
/// <param name="Id">Stable and opaque.</param>
/// <param name="Code">Short form, unique.</param>
/// <param name="Name">Name.</param>
/// <param name="Separator">Stands between the name of a device and that of a point in the name of a tag; may be empty.</param>
/// <param name="Points">What the block holds.</param>
public sealed record DeviceLayout(long Id, string Code, string Name, string Separator, ImmutableArray<LayoutPoint> Points) : Entity(Id)
{
    /// <summary>The most points of a layout.</summary>
    public const int MostPoints = 500;

    /// <summary>Longest separator, in characters.</summary>
    public const int LongestSeparator = 5;

    /// <inheritdoc/>
    public bool Equals(DeviceLayout? other) =>
        other is not null
        && (Id, Code, Name, Separator) == (other.Id, other.Code, other.Name, other.Separator)
        && Points.SequenceEqual(other.Points);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Id, Code);
}
