namespace Fralto.Store;

/// <summary>A command as it is kept.</summary>
/// <param name="At">When it was given.</param>
/// <param name="Who">Who gave it.</param>
/// <param name="Target">Path of the property, or controller and tag.</param>
/// <param name="Before">The value before, in words.</param>
/// <param name="Wanted">The value asked for, in words.</param>
/// <param name="Written">The raw value that was written.</param>
/// <param name="Outcome">confirmed, refused or not confirmed; sending until an answer has come.</param>
/// <param name="Reason">Why, when it was not confirmed.</param>
public sealed record CommandEntry(
    DateTimeOffset At,
    string Who,
    string Target,
    string Before,
    string Wanted,
    string Written,
    string Outcome,
    string Reason
)
{
    /// <summary>The outcome of a command that has been noted and whose answer has not.</summary>
    public const string Sending = "sending";
}
