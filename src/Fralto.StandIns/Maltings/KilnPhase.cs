namespace Fralto.StandIns.Maltings;

/// <summary>What a kiln is doing; three bits in its controller.</summary>
public enum KilnPhase
{
    Idle,
    Loading,
    Withering,
    Break,
    Drying,
    Curing,
    Cooling,
    Unloading,
}
