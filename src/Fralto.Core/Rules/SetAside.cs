namespace Fralto.Core.Rules;

/// <summary>Something a plant was kept with that cannot be part of a model: it is left out, and everything else goes on.</summary>
/// <param name="Kind">What it is, in words: tag, binding, scale.</param>
/// <param name="Id">Its id; of a binding, that of its instance; of what a layer says, that of the layer.</param>
/// <param name="Name">Its name.</param>
/// <param name="Why">Why it cannot be used.</param>
/// <param name="Row">What was kept of it, as far as it is known.</param>
public sealed record SetAside(string Kind, long Id, string Name, string Why, string Row = "");
