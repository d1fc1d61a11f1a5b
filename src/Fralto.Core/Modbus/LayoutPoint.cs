using Fralto.Core.Scaling;

namespace Fralto.Core.Modbus;

/// <summary>One value of the block a kind of device exposes.</summary>
/// <param name="Id">Stable and opaque.</param>
/// <param name="Name">Comes after the device's name in the tag's name.</param>
/// <param name="Area">The table.</param>
/// <param name="Offset">Registers or bits after the device's base address in that table.</param>
/// <param name="Bit">One bit of a register; null for all of it.</param>
/// <param name="Type">How its bits are read.</param>
/// <param name="WordOrder">Order of words and bytes.</param>
/// <param name="Count">Elements, or bytes of text.</param>
/// <param name="Unit">Code of the unit; null when it is counts or not known.</param>
/// <param name="UpdateClass">Update class of its tags; null for the controller's own interval.</param>
/// <param name="Description">What it is.</param>
public sealed record LayoutPoint(
    long Id,
    string Name,
    RegisterArea Area,
    int Offset,
    int? Bit,
    RawType Type,
    WordOrder WordOrder,
    int Count = 1,
    string? Unit = null,
    string? UpdateClass = null,
    string Description = ""
);
