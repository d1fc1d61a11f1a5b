using System.Globalization;

namespace Fralto.Core.Controllers;

/// <summary>A place in a Modbus device: a table and the address on the wire, counted from 0.</summary>
public readonly record struct ModbusAddress(RegisterArea Area, int Offset)
{
    /// <summary>The highest address on the wire.</summary>
    public const int Highest = 65535;

    /// <summary>True for the tables of single bits.</summary>
    public bool IsBit => Area is RegisterArea.Coil or RegisterArea.DiscreteInput;

    /// <summary>The number device manuals print: table digit and the address counted from 1, for example 40001 (a convention, not the protocol).</summary>
    public string Number => $"{Digit}{(Offset + 1).ToString(Offset < 9999 ? "D4" : "D5", CultureInfo.InvariantCulture)}";

    private char Digit => Area switch
    {
        RegisterArea.Coil => '0',
        RegisterArea.DiscreteInput => '1',
        RegisterArea.InputRegister => '3',
        _ => '4',
    };

    private string AreaName => Area switch
    {
        RegisterArea.Coil => "coil",
        RegisterArea.DiscreteInput => "discrete",
        RegisterArea.InputRegister => "input",
        _ => "holding",
    };

    /// <summary>Table and wire address, for example "holding 120".</summary>
    public override string ToString() => $"{AreaName} {Offset.ToString(CultureInfo.InvariantCulture)}";
}
