namespace Fralto.Core.Exchange;

/// <summary>One thing an import would do, or cannot do.</summary>
/// <param name="Row">Row of the file; the header is row 1.</param>
/// <param name="Outcome">Added, changed or refused.</param>
/// <param name="Subject">Path or code of what it is about.</param>
/// <param name="Column">The column that differs or is wrong; empty for the row as a whole.</param>
/// <param name="Before">What stands there now.</param>
/// <param name="After">What would stand there.</param>
/// <param name="Reason">Why it is refused, or what is odd about it; empty when nothing is to be said.</param>
public sealed record ImportLine(
    int Row,
    ImportOutcome Outcome,
    string Subject,
    string Column,
    string Before,
    string After,
    string Reason = ""
);
