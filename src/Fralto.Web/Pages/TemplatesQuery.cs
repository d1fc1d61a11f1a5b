namespace Fralto.Web.Pages;

/// <summary>What the address of the templates says.</summary>
public sealed class TemplatesQuery
{
    /// <summary>The template shown.</summary>
    public long? At { get; set; }

    /// <summary>The property whose ruler is shown.</summary>
    public long? Property { get; set; }

    /// <summary>What is open: template, change, property, part, uses or remove.</summary>
    public string? Open { get; set; }

    /// <summary>The part being changed.</summary>
    public long? Part { get; set; }
}
