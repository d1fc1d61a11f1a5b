namespace Fralto.Core.Diagnosis;

/// <summary>What raw values look like.</summary>
public enum FitKind
{
    /// <summary>Nothing Good has been read.</summary>
    Silent,

    /// <summary>The same number all the while.</summary>
    Constant,

    /// <summary>Another order of words and bytes makes sense of it.</summary>
    WordOrder,

    /// <summary>Another signal fits better.</summary>
    Signal,

    /// <summary>Some lie outside the signal: a sensor or its wire.</summary>
    Outside,

    /// <summary>It fits.</summary>
    Fits,
}
