namespace Fralto.Core.Proposals;

/// <summary>Which of the bindings are to be looked at.</summary>
public enum CheckFilter
{
    /// <summary>Those nobody has checked since they were bound.</summary>
    Left,

    /// <summary>Those that look wrong.</summary>
    Wrong,

    /// <summary>All of them.</summary>
    All,
}
