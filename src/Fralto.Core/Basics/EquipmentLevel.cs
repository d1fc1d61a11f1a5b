namespace Fralto.Core.Basics;

/// <summary>The level of a piece of equipment.</summary>
/// <remarks>
/// Enterprise to work unit: IEC 62264-1 clause 5.3, with the kinds of work centre and work unit it names; modules: IEC 61512-1.
/// Names and order follow the enumeration of the OPC UA companion specification for ISA-95; exchange uses the names, never the numbers.
/// </remarks>
public enum EquipmentLevel
{
    /// <summary>The whole company (IEC 62264-1).</summary>
    Enterprise,

    /// <summary>A place where it works.</summary>
    Site,

    /// <summary>A part of a site.</summary>
    Area,

    /// <summary>A work centre for batches.</summary>
    ProcessCell,

    /// <summary>A work unit of a process cell.</summary>
    Unit,

    /// <summary>A work centre for discrete production.</summary>
    ProductionLine,

    /// <summary>A work unit of a production line.</summary>
    WorkCell,

    /// <summary>A work centre for continuous production.</summary>
    ProductionUnit,

    /// <summary>A work centre for storage.</summary>
    StorageZone,

    /// <summary>A work unit of a storage zone.</summary>
    StorageUnit,

    /// <summary>A work centre of any other kind.</summary>
    WorkCenter,

    /// <summary>A work unit of any other kind.</summary>
    WorkUnit,

    /// <summary>A group of control modules that does one thing (IEC 61512-1).</summary>
    EquipmentModule,

    /// <summary>A single device and its control (IEC 61512-1).</summary>
    ControlModule,

    /// <summary>What none of the others is.</summary>
    Other,
}
