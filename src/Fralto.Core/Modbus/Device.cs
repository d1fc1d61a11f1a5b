using Fralto.Core.Basics;
using Fralto.Core.Controllers;

namespace Fralto.Core.Modbus;

/// <summary>One device of a kind that a layout describes: its tags are those of the layout, from its base address on.</summary>
/// <param name="Id">Stable and opaque.</param>
/// <param name="ControllerId">The controller it is behind.</param>
/// <param name="LayoutId">The layout of its data.</param>
/// <param name="Name">Comes first in the names of its tags; unique in its controller.</param>
/// <param name="Base">Address on the wire at which its registers begin.</param>
/// <param name="BitBase">Address at which its coils and discrete inputs begin.</param>
/// <param name="UnitId">Its unit id; null for the controller's own.</param>
public sealed record Device(long Id, long ControllerId, long LayoutId, string Name, int Base, int BitBase, int? UnitId = null) : Entity(Id)
{
    /// <summary>The tag of one point of its layout.</summary>
    /// <param name="layout">Its layout.</param>
    /// <param name="point">The point.</param>
    /// <param name="id">Id of the tag.</param>
    public Tag TagOf(DeviceLayout layout, LayoutPoint point, long id)
    {
        var isBit = point.Area is RegisterArea.Coil or RegisterArea.DiscreteInput;
        return new(
            id,
            ControllerId,
            Name + layout.Separator + point.Name,
            new ModbusAddress(point.Area, (isBit ? BitBase : Base) + point.Offset, point.Bit, UnitId),
            point.Type,
            point.WordOrder,
            point.Description,
            point.Count,
            point.Unit
        )
        {
            UpdateClass = point.UpdateClass,
            DeviceId = Id,
            PointId = point.Id,
        };
    }
}
