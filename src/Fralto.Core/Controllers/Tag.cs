using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.Core.Controllers;

/// <summary>One addressable value in a controller.</summary>
/// <param name="Id">Stable and opaque.</param>
/// <param name="ControllerId">The controller it lives in.</param>
/// <param name="Name">Unique in its controller.</param>
/// <param name="Address">Where it is.</param>
/// <param name="Type">How its bits are read.</param>
/// <param name="WordOrder">Order of words for 32-bit types.</param>
/// <param name="Description">What the device's documentation says of it.</param>
public sealed record Tag(long Id, long ControllerId, string Name, ModbusAddress Address, RawType Type, WordOrder WordOrder, string Description) : Entity(Id);
