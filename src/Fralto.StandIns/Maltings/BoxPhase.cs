namespace Fralto.StandIns.Maltings;

/// <summary>What a germination box is doing, as its controller numbers it.</summary>
public enum BoxPhase
{
    Idle,
    Load,
    Germinate,
    Turn,
    Unload,
}
