namespace Fralto.Core.Planning;

/// <summary>How much a finding matters.</summary>
public enum FindingSeverity
{
    /// <summary>The model cannot be used as it says.</summary>
    Error,

    /// <summary>It can be used, and is likely wrong.</summary>
    Warning,

    /// <summary>Something that could be better.</summary>
    Hint,
}
