namespace Fralto.Core.Scaling;

/// <summary>The signals Fralto knows by name.</summary>
public enum SignalKind
{
    /// <summary>Any two raw numbers.</summary>
    Free,

    /// <summary>Any raw number: nothing is said of where it may lie. For gain and offset alone.</summary>
    Open,

    /// <summary>4...20 mA as milliamperes.</summary>
    Milliamps,

    /// <summary>4...20 mA as microamperes, 4000...20000.</summary>
    Microamps,

    /// <summary>4...20 mA as 0...32767 counts: 4 mA is 0.</summary>
    Counts15,

    /// <summary>4...20 mA as 0...65535 counts: 4 mA is 0.</summary>
    Counts16,

    /// <summary>4...20 mA on a 0...20 mA card of 0...32767 counts: 4 mA is 6553.4.</summary>
    DeadZeroCounts15,

    /// <summary>4...20 mA on a 0...20 mA card of 0...65535 counts: 4 mA is 13107.</summary>
    DeadZeroCounts16,

    /// <summary>4...20 mA as 0...27648 counts, with room above and below.</summary>
    Counts27648,

    /// <summary>0...10 V as volts.</summary>
    Volts,

    /// <summary>0...100 % as percent.</summary>
    Percent,
}
