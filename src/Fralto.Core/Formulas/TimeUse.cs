namespace Fralto.Core.Formulas;

/// <summary>What a formula keeps of what has been.</summary>
/// <param name="Kind">What is kept.</param>
/// <param name="Input">The step that is looked at.</param>
/// <param name="ResetWhen">The step that begins it anew when it turns true; -1 for none.</param>
/// <param name="When">The step that keeps the value when it turns true; -1 for none.</param>
/// <param name="From">The step below which nothing counts; -1 for none.</param>
/// <param name="Window">Length of the window in ticks; 0 for none.</param>
/// <param name="Pane">How often the window moves on, in ticks.</param>
/// <param name="Span">The window is the last of these; null for none.</param>
/// <param name="Each">It begins anew with each of these; null for never.</param>
/// <param name="ResetAt">It begins anew at this time of day; null for never.</param>
/// <param name="UnitSeconds">Seconds that count as one in a total; the time constant of a filter.</param>
/// <param name="IsSloped">True for straight lines between values.</param>
/// <param name="Signature">What it is, as text: what was kept is taken up again only by the same.</param>
internal sealed record TimeUse(
    OverTimeKind Kind,
    int Input,
    int ResetWhen,
    int When,
    int From,
    long Window,
    long Pane,
    CalendarSpan? Span,
    CalendarSpan? Each,
    TimeSpan? ResetAt,
    double UnitSeconds,
    bool IsSloped,
    string Signature
)
{
    /// <summary>True where it counts from a beginning, and can be begun anew.</summary>
    public bool IsCounter => Kind is OverTimeKind.Total or OverTimeKind.Starts or OverTimeKind.Time && Window == 0 && Span is null;
}
