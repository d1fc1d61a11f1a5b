namespace Fralto.Core.Exchange;

/// <summary>What a column of a tag list can say.</summary>
public enum TagField
{
    Name,
    Address,
    Type,
    Order,
    Unit,
    Low,
    High,
    Description,
    UpdateClass,

    /// <summary>The table of a Modbus device, where the address stands in another column.</summary>
    Table,

    /// <summary>Unit id of a Modbus device, where it stands in a column of its own.</summary>
    UnitId,
}
