namespace Fralto.Web.Pages;

/// <summary>What the address of the live values says.</summary>
public sealed class LiveQuery
{
    /// <summary>The place; null for the whole plant.</summary>
    public long? At { get; set; }

    /// <summary>Code of the unit that is to be looked at as another.</summary>
    public string? Unit { get; set; }

    /// <summary>The command being given: instance and property, joined by a point.</summary>
    public string? Command { get; set; }

    /// <summary>The value being entered: instance and property, joined by a point.</summary>
    public string? Enter { get; set; }
}
