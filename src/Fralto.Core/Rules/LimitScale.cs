namespace Fralto.Core.Rules;

/// <summary>What the numbers of a limit that is worked out by a formula are counted in.</summary>
public enum LimitScale
{
    /// <summary>True or false.</summary>
    Truth,

    /// <summary>The property's unit.</summary>
    Unit,

    /// <summary>The property's unit a minute.</summary>
    UnitPerMinute,

    /// <summary>Seconds.</summary>
    Seconds,
}
