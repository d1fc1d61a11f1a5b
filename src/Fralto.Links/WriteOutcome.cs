namespace Fralto.Links;

/// <summary>What became of a written value.</summary>
public enum WriteOutcome
{
    /// <summary>The controller has it: it reads back as written.</summary>
    Confirmed,

    /// <summary>The controller said no, or was never asked.</summary>
    Refused,

    /// <summary>It was sent, but did not read back in time.</summary>
    NotConfirmed,
}
