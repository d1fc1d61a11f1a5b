namespace Fralto.Core.Exchange;

/// <summary>What a column of a tag list can say.</summary>
public enum TagField
{
    /// <summary>Name of the tag.</summary>
    Name,

    /// <summary>Where it is.</summary>
    Address,

    /// <summary>Raw type, with its count.</summary>
    Type,

    /// <summary>Order of words and bytes.</summary>
    Order,

    /// <summary>Unit the device gives.</summary>
    Unit,

    /// <summary>Low end of the range.</summary>
    Low,

    /// <summary>High end of the range.</summary>
    High,

    /// <summary>What it is.</summary>
    Description,

    /// <summary>Update class.</summary>
    UpdateClass,

    /// <summary>The table of a Modbus device, where the address stands in another column.</summary>
    Table,

    /// <summary>Unit id of a Modbus device, where it stands in a column of its own.</summary>
    UnitId,
}
