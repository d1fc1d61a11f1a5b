namespace Fralto.Web.Pages;

/// <summary>What the address of the plant says.</summary>
public sealed class PlantQuery
{
    /// <summary>The selected node.</summary>
    public long? At { get; set; }

    /// <summary>What is open: add, series, change, copy, move, or value- with the id of a property.</summary>
    public string? Open { get; set; }

    /// <summary>The property whose own facts are open.</summary>
    public long? Property { get; set; }

    /// <summary>Further nodes that are selected with the first, as ids with commas between them.</summary>
    public string? With { get; set; }
}
