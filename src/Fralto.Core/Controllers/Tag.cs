using Fralto.Core.Basics;
using Fralto.Core.Scaling;

namespace Fralto.Core.Controllers;

/// <summary>One addressable value in a controller.</summary>
/// <param name="Id">Stable and opaque.</param>
/// <param name="ControllerId">The controller it lives in.</param>
/// <param name="Name">Unique in its controller.</param>
/// <param name="Address">Where it is.</param>
/// <param name="Type">How its bits are read.</param>
/// <param name="WordOrder">Order of words and bytes, where it is read from registers.</param>
/// <param name="Description">What the device's documentation says of it.</param>
/// <param name="Count">Elements of an array, or bytes of a text; 1 for a single value.</param>
/// <param name="Unit">Code of the unit of what the device gives; null when it is counts or not known.</param>
public sealed record Tag(
    long Id,
    long ControllerId,
    string Name,
    TagAddress Address,
    RawType Type,
    WordOrder WordOrder,
    string Description,
    int Count = 1,
    string? Unit = null
) : Entity(Id)
{
    /// <summary>The most elements of an array and bytes of a text.</summary>
    public const int MostElements = 2000;

    /// <summary>Longest text of a tag whose place gives it no length, in characters.</summary>
    public const int LongestText = 200;

    /// <summary>Name of the update class it is read in; null for the controller's own interval.</summary>
    public string? UpdateClass { get; init; }

    /// <summary>What the device's documentation gives as its range, in <see cref="Unit"/>; null when it is not known.</summary>
    public Span? Range { get; init; }

    /// <summary>The device it was generated for; null for a tag of its own.</summary>
    public long? DeviceId { get; init; }

    /// <summary>The point of the layout it was generated from; null for a tag of its own.</summary>
    public long? PointId { get; init; }

    /// <summary>True when it is one bit on the wire, in a table of bits.</summary>
    public bool IsWireBit => Address.IsWireBit;

    /// <summary>True when it holds several values and a binding must say which.</summary>
    public bool IsArray => Count > 1 && Type != RawType.Text;

    /// <summary>How many values it holds: the elements of an array, else one.</summary>
    public int Elements => IsArray ? Count : 1;

    /// <summary>Registers, or single bits, it fills from its address on.</summary>
    public int Places => IsWireBit ? Count : RawCodec.WordsOf(Type, Count);

    /// <summary>Why nobody can write it; null when it can be tried.</summary>
    public string? WhyReadOnly => Address.WhyReadOnly(Name);

    /// <summary>The type with its count in words: int16, bool[256], text of 16.</summary>
    public string TypeText =>
        Type == RawType.Text
            ? !Address.HasFixedLength
                ? "text"
                : $"text of {Count}"
            : Count > 1
                ? $"{Type.Word()}[{Count}]"
                : Type.Word();
}
