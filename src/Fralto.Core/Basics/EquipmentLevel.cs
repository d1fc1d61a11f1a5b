namespace Fralto.Core.Basics;

/// <summary>The level of a piece of equipment.</summary>
/// <remarks>
/// Enterprise to work unit: IEC 62264-1 clause 5.3, with the kinds of work centre and work unit it names; modules: IEC 61512-1.
/// Names and order follow the enumeration of the OPC UA companion specification for ISA-95; exchange uses the names, never the numbers.
/// </remarks>
public enum EquipmentLevel
{
    Enterprise,
    Site,
    Area,
    ProcessCell,
    Unit,
    ProductionLine,
    WorkCell,
    ProductionUnit,
    StorageZone,
    StorageUnit,
    WorkCenter,
    WorkUnit,
    EquipmentModule,
    ControlModule,
    Other,
}
