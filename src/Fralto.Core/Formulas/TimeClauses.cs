namespace Fralto.Core.Formulas;

/// <summary>What is said of the time a function looks at.</summary>
internal sealed record TimeClauses
{
    /// <summary>The last so many seconds.</summary>
    public double? LastSeconds { get; init; }

    /// <summary>The last hour, day or shift of the calendar.</summary>
    public CalendarSpan? LastSpan { get; init; }

    /// <summary>How often the window moves on, in seconds.</summary>
    public double? EverySeconds { get; init; }

    /// <summary>It begins anew with each of these.</summary>
    public CalendarSpan? Each { get; init; }

    /// <summary>It begins anew at this time of day.</summary>
    public TimeSpan? ResetAt { get; init; }

    /// <summary>It begins anew when this turns true.</summary>
    public FormulaNode? ResetWhen { get; init; }

    /// <summary>The value is kept when this turns true.</summary>
    public FormulaNode? When { get; init; }

    /// <summary>Below this nothing counts.</summary>
    public FormulaNode? From { get; init; }

    /// <summary>Time constant of a filter, in seconds.</summary>
    public double? BySeconds { get; init; }

    /// <summary>True for straight lines between values in place of steps.</summary>
    public bool IsSloped { get; init; }

    public bool HasWindow => LastSeconds is not null || LastSpan is not null;

    public bool HasReset => Each is not null || ResetAt is not null || ResetWhen is not null;
}
