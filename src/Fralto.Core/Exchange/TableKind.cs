namespace Fralto.Core.Exchange;

/// <summary>What a table of a bulk file lists.</summary>
public enum TableKind
{
    /// <summary>A node of the plant in each row.</summary>
    Equipment,

    /// <summary>An instance in each row, a fixed property in each column.</summary>
    Values,

    /// <summary>What a template says about a property in each row.</summary>
    Properties,

    /// <summary>A property of an instance with the tag that feeds it in each row.</summary>
    Bindings,
}
