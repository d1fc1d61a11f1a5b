namespace Fralto.StandIns.Maltings;

/// <summary>What a steep is doing, as its controller numbers it.</summary>
public enum SteepStep
{
    Idle,
    Fill,
    Soak,
    Drain,
    AirRest,
    Empty,
}
