namespace Fralto.Bench.Naming;

/// <summary>Where a tag of the waterworks belongs.</summary>
/// <param name="Site">Number of the site, from 1.</param>
/// <param name="Area">Position of the area in its site, from 1.</param>
/// <param name="AreaCode">Code of the area.</param>
/// <param name="AreaName">Name of the area.</param>
/// <param name="Kind">Kind of the unit.</param>
/// <param name="KindIndex">Position of the kind, from 1.</param>
/// <param name="Number">Number of the unit in its area, with gaps.</param>
/// <param name="Position">Position of the unit among its kind in its area, from 1.</param>
/// <param name="Ordinal">Position of the unit among its kind in the plant, from 1.</param>
/// <param name="Part">Code, name and Spanish name of the part that has the signal; null for the unit itself.</param>
/// <param name="PartIndex">Position of the part, from 1; 0 for the unit itself.</param>
/// <param name="Signal">The signal.</param>
/// <param name="SignalIndex">Position of the signal in its kind.</param>
internal sealed record WaterTag(
    int Site,
    int Area,
    string AreaCode,
    string AreaName,
    WaterKind Kind,
    int KindIndex,
    int Number,
    int Position,
    int Ordinal,
    (string Code, string Name, string Spanish)? Part,
    int PartIndex,
    WaterSignal Signal,
    int SignalIndex
);
