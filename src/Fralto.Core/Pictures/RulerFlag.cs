using Fralto.Core.Limits;
using Fralto.Core.Scaling;

namespace Fralto.Core.Pictures;

/// <summary>A limit on a ruler.</summary>
/// <param name="Limit">The limit.</param>
/// <param name="X">Where the setpoint lies.</param>
/// <param name="FlagX">Left edge of its flag.</param>
/// <param name="Lane">0 for the inner limits, 1 below for the outer ones.</param>
/// <param name="NoteLeft">True when the note on deadband and priority stands left of the flag, where there is room for it.</param>
/// <param name="Deadband">Where an alarm stays although the value has come back.</param>
/// <param name="Text">Letters and setpoint.</param>
/// <param name="Reach">The setpoints it can be moved to: inside the range and its neighbours.</param>
public readonly record struct RulerFlag(
    Limit Limit,
    double X,
    double FlagX,
    int Lane,
    bool NoteLeft,
    RulerStretch Deadband,
    string Text,
    Span Reach
);
