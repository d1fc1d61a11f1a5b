namespace Fralto.Web.Pages;

/// <summary>What the address of the controllers says.</summary>
public sealed class ControllersQuery
{
    /// <summary>The controller shown.</summary>
    public long? At { get; set; }

    /// <summary>What is being added or changed: controller, change, tag, unfold or write.</summary>
    public string? Open { get; set; }

    /// <summary>What a new controller speaks.</summary>
    public string? Protocol { get; set; }

    /// <summary>The tag being changed.</summary>
    public long? Tag { get; set; }
}
