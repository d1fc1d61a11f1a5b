namespace Fralto.Core.Scaling;

/// <summary>What becomes of a raw value that is no measuring information, short of a sensor failure.</summary>
public enum OutsideRule
{
    /// <summary>The value is kept and Uncertain.</summary>
    Keep,

    /// <summary>The value is that of the nearest accepted raw value, and Uncertain.</summary>
    Clamp,

    /// <summary>The value is Bad.</summary>
    Bad,
}
