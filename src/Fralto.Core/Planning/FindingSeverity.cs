namespace Fralto.Core.Planning;

/// <summary>How much a finding matters.</summary>
public enum FindingSeverity
{
    Error,
    Warning,
    Hint,
}
