namespace Fralto.Bench.Naming;

/// <summary>The cell a tag is named for.</summary>
/// <param name="Kind">The kind of the unit.</param>
/// <param name="KindIndex">Which of the kinds, from 0.</param>
/// <param name="AreaText">What names call the area.</param>
/// <param name="AreaName">What people call it.</param>
/// <param name="AreaSaid">True where people say it with the unit.</param>
/// <param name="Number">Number of the unit; null for a letter.</param>
/// <param name="NumberText">The number or letter.</param>
/// <param name="Ordinal">Which of all units of the kind below one controller, from 0.</param>
/// <param name="Shuffled">The same in an order of chance.</param>
/// <param name="Signal">The property.</param>
/// <param name="SignalIndex">Which of the properties.</param>
internal sealed record GrammarPlace(
    Kind Kind,
    int KindIndex,
    string AreaText,
    string AreaName,
    bool AreaSaid,
    int? Number,
    string NumberText,
    int Ordinal,
    int Shuffled,
    Signal Signal,
    int SignalIndex
);
