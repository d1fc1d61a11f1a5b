using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.Core.Controllers;

/// <summary>One addressable value in a controller.</summary>
/// <param name="Id">Stable and opaque.</param>
/// <param name="ControllerId">The controller it lives in.</param>
/// <param name="Name">Unique in its controller.</param>
/// <param name="Address">Where it is.</param>
/// <param name="Type">How its bits are read.</param>
/// <param name="WordOrder">Order of words and bytes.</param>
/// <param name="Description">What the device's documentation says of it.</param>
/// <param name="Count">Elements of an array, or bytes of a text; 1 for a single value.</param>
/// <param name="Unit">Code of the unit of what the device gives; null when it is counts or not known.</param>
public sealed record Tag(
    long Id, long ControllerId, string Name, ModbusAddress Address, RawType Type, WordOrder WordOrder, string Description, int Count = 1, string? Unit = null) : Entity(Id)
{
    /// <summary>The most elements of an array and bytes of a text.</summary>
    public const int MostElements = 2000;

    /// <summary>True when it holds several values and a binding must say which.</summary>
    public bool IsArray => Count > 1 && Type != RawType.Text;

    /// <summary>How many values it holds: the elements of an array, else one.</summary>
    public int Elements => IsArray ? Count : 1;

    /// <summary>Registers, or single bits, it fills from its address on.</summary>
    public int Places => Address.IsBit ? Count : RawCodec.WordsOf(Type, Count);

    /// <summary>The type with its count in words: int16, bool[256], text of 16.</summary>
    public string TypeText => Type == RawType.Text ? $"text of {Count}" : Count > 1 ? $"{Type.Word()}[{Count}]" : Type.Word();
}
