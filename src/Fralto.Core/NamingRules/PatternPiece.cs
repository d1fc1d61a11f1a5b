namespace Fralto.Core.NamingRules;

/// <summary>One piece of a naming rule.</summary>
public abstract record PatternPiece
{
    /// <summary>Adds what the piece becomes for an instance to a key; false when the instance has nothing for it.</summary>
    internal abstract bool Write(IFollowed instance, ref KeyWriter key);

    /// <summary>What the piece becomes for an instance, as people write it; null when the instance has nothing for it.</summary>
    internal abstract string? TextFor(IFollowed instance);
}
