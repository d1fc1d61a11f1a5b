namespace Fralto.Core.Basics;

/// <summary>The rung a level stands on, whatever its kind: a process cell and a production line are both work centres.</summary>
public enum LevelRank
{
    Enterprise,
    Site,
    Area,
    WorkCentre,
    WorkUnit,
    Module,
    Other,
}
