namespace Fralto.Web.Live;

/// <summary>What a page can look at.</summary>
public enum LiveScopeKind
{
    /// <summary>The header's figures only.</summary>
    Header,

    /// <summary>A node of the plant and all below it; id 0 is the whole plant.</summary>
    Place,

    /// <summary>A node of what runs and all below it; id 0 is the whole plant.</summary>
    Running,

    /// <summary>All instances of a template and its descendants, and raw tag readings.</summary>
    Template,

    /// <summary>A node of the plant and all below it, and raw tag readings.</summary>
    Matrix,

    /// <summary>All instances of a template, or a node and all below it, with how old each value is; id 0 is the whole plant.</summary>
    Check,

    /// <summary>The raw readings of one controller's tags.</summary>
    Controller,
}
