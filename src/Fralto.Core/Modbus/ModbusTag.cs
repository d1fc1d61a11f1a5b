using Fralto.Core.Controllers;

namespace Fralto.Core.Modbus;

/// <summary>What a tag has of Modbus.</summary>
public static class ModbusTag
{
    extension(Tag tag)
    {
        /// <summary>Its place in a Modbus device; null for a tag of another protocol.</summary>
        public ModbusAddress? Register => tag.Address as ModbusAddress;
    }
}
