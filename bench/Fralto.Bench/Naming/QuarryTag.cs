using Fralto.Core.Scaling;

namespace Fralto.Bench.Naming;

/// <summary>A signal of a machine that wants a tag.</summary>
/// <param name="Kind">The machine's kind.</param>
/// <param name="KindIndex">The kind's place among the kinds, from 0.</param>
/// <param name="Pit">The pit, from 1.</param>
/// <param name="Area">The area's number, from 1.</param>
/// <param name="AreaCode">The area's code.</param>
/// <param name="AreaName">The area's name.</param>
/// <param name="Code">The machine's code.</param>
/// <param name="Name">The machine's name.</param>
/// <param name="Number">The machine's number in its area, from 1.</param>
/// <param name="Running">Its number among those of its kind, from 0.</param>
/// <param name="Cabinet">The running number of the machine among all, from 1.</param>
/// <param name="Signal">What it tells or takes.</param>
/// <param name="SignalIndex">The signal's place, from 0.</param>
/// <param name="Dice">A number by chance that is this machine's.</param>
internal sealed record QuarryTag(
    QuarryKind Kind,
    int KindIndex,
    int Pit,
    int Area,
    string AreaCode,
    string AreaName,
    string Code,
    string Name,
    int Number,
    int Running,
    int Cabinet,
    QuarrySignal Signal,
    int SignalIndex,
    int Dice
)
{
    /// <summary>True for one that is true or false.</summary>
    public bool IsBoolean => Signal.Raw == RawType.Bool;
}
