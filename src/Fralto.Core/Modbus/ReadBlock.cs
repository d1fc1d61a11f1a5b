using System.Collections.Immutable;
using Fralto.Core.Controllers;

namespace Fralto.Core.Modbus;

/// <summary>One read request and the tags it serves.</summary>
/// <param name="UnitId">The device asked.</param>
/// <param name="Area">The table read.</param>
/// <param name="Start">First address.</param>
/// <param name="Count">Registers or bits.</param>
/// <param name="Tags">The tags whose values lie in it, by address.</param>
public sealed record ReadBlock(int UnitId, RegisterArea Area, int Start, int Count, ImmutableArray<Tag> Tags)
{
    /// <summary>The request on the wire.</summary>
    public ModbusRequest Request => ModbusRequest.Read(FunctionOf(Area), Start, Count);

    private static ModbusFunction FunctionOf(RegisterArea area) =>
        area switch
        {
            RegisterArea.Coil => ModbusFunction.ReadCoils,
            RegisterArea.DiscreteInput => ModbusFunction.ReadDiscreteInputs,
            RegisterArea.InputRegister => ModbusFunction.ReadInputRegisters,
            _ => ModbusFunction.ReadHoldingRegisters,
        };
}
