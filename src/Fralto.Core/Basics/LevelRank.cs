namespace Fralto.Core.Basics;

/// <summary>The rung a level stands on, whatever its kind: a process cell and a production line are both work centres.</summary>
public enum LevelRank
{
    /// <summary>The top.</summary>
    Enterprise,

    /// <summary>Sites.</summary>
    Site,

    /// <summary>Areas.</summary>
    Area,

    /// <summary>Work centres of every kind.</summary>
    WorkCentre,

    /// <summary>Work units of every kind.</summary>
    WorkUnit,

    /// <summary>Equipment and control modules, which may hold modules.</summary>
    Module,

    /// <summary>What may stand anywhere.</summary>
    Other,
}
