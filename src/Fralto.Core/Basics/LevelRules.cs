namespace Fralto.Core.Basics;

/// <summary>Which level may sit below which.</summary>
/// <remarks>
/// Upper levels: IEC 62264-1 clause 5.3; modules: the physical model of IEC 61512-1. The standard lets a company leave a rung out, so
/// a skipped rung is allowed as long as the order from top to bottom is kept and each kind of work unit stays with its kind of work centre.
/// </remarks>
public static class LevelRules
{
    private static readonly Dictionary<EquipmentLevel, (LevelRank Rank, string Name)> Levels = new()
    {
        [EquipmentLevel.Enterprise] = (LevelRank.Enterprise, "enterprise"),
        [EquipmentLevel.Site] = (LevelRank.Site, "site"),
        [EquipmentLevel.Area] = (LevelRank.Area, "area"),
        [EquipmentLevel.ProcessCell] = (LevelRank.WorkCentre, "process cell"),
        [EquipmentLevel.ProductionLine] = (LevelRank.WorkCentre, "production line"),
        [EquipmentLevel.ProductionUnit] = (LevelRank.WorkCentre, "production unit"),
        [EquipmentLevel.StorageZone] = (LevelRank.WorkCentre, "storage zone"),
        [EquipmentLevel.WorkCenter] = (LevelRank.WorkCentre, "work centre"),
        [EquipmentLevel.Unit] = (LevelRank.WorkUnit, "unit"),
        [EquipmentLevel.WorkCell] = (LevelRank.WorkUnit, "work cell"),
        [EquipmentLevel.StorageUnit] = (LevelRank.WorkUnit, "storage unit"),
        [EquipmentLevel.WorkUnit] = (LevelRank.WorkUnit, "work unit"),
        [EquipmentLevel.EquipmentModule] = (LevelRank.Module, "equipment module"),
        [EquipmentLevel.ControlModule] = (LevelRank.Module, "control module"),
        [EquipmentLevel.Other] = (LevelRank.Other, "other"),
    };

    private static readonly Dictionary<EquipmentLevel, EquipmentLevel[]> WorkUnitsOf = new()
    {
        [EquipmentLevel.ProcessCell] = [EquipmentLevel.Unit],
        [EquipmentLevel.ProductionUnit] = [EquipmentLevel.Unit],
        [EquipmentLevel.ProductionLine] = [EquipmentLevel.WorkCell],
        [EquipmentLevel.StorageZone] = [EquipmentLevel.StorageUnit],
        [EquipmentLevel.WorkCenter] = [EquipmentLevel.WorkUnit],
    };

    /// <summary>Every level, from the top of the hierarchy down.</summary>
    public static IReadOnlyList<EquipmentLevel> FromTheTop { get; } = [.. Levels.Keys];

    /// <summary>The level in words, as it reads inside a sentence.</summary>
    public static string NameOf(EquipmentLevel level) => Levels[level].Name;

    /// <summary>The rung a level stands on.</summary>
    public static LevelRank RankOf(EquipmentLevel level) => Levels[level].Rank;

    /// <summary>The rung in words.</summary>
    public static string NameOf(LevelRank rank) =>
        rank switch
        {
            LevelRank.WorkCentre => "Work centre",
            LevelRank.WorkUnit => "Work unit",
            _ => rank.ToString(),
        };

    /// <summary>Why a child of this level may not sit below the parent; null when it may.</summary>
    /// <param name="parent">The parent's level; null for the top of the plant.</param>
    /// <param name="child">The level to place.</param>
    public static string? Misfit(EquipmentLevel? parent, EquipmentLevel child)
    {
        if (parent is not { } above)
            return child == EquipmentLevel.Enterprise
                ? null
                : $"{WithArticle(child)} needs a place above it; only an enterprise stands at the top.";
        if (above == EquipmentLevel.Other || (child == EquipmentLevel.Other && above != EquipmentLevel.ControlModule))
            return null;
        if (above == EquipmentLevel.EquipmentModule && RankOf(child) == LevelRank.Module)
            return null;
        if (above == EquipmentLevel.ControlModule && child == EquipmentLevel.ControlModule)
            return null;
        if (RankOf(child) <= RankOf(above))
            return $"{WithArticle(child)} cannot sit below {WithArticle(above).ToLowerInvariant()}: the order is enterprise, site, "
                + $"area, work centre, work unit, module (IEC 62264-1, 5.3).";
        if (WorkUnitsOf.TryGetValue(above, out var allowed) && RankOf(child) == LevelRank.WorkUnit && !allowed.Contains(child))
            return $"{WithArticle(above)} is divided into {NameOf(allowed[0])}s, not {NameOf(child)}s (IEC 62264-1, 5.3).";
        return null;
    }

    /// <summary>The levels that may sit below a parent, from the top down.</summary>
    public static IEnumerable<EquipmentLevel> AllowedBelow(EquipmentLevel? parent) =>
        FromTheTop.Where(level => Misfit(parent, level) is null);

    private static string WithArticle(EquipmentLevel level) =>
        level is EquipmentLevel.Enterprise or EquipmentLevel.Area or EquipmentLevel.EquipmentModule ? $"An {NameOf(level)}"
        : level is EquipmentLevel.Other ? "Other equipment"
        : $"A {NameOf(level)}";
}
