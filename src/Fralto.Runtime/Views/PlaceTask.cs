namespace Fralto.Runtime.Views;

/// <summary>Something to be done next at a place.</summary>
/// <param name="What">What, in a few words.</param>
/// <param name="Why">Where, and why.</param>
/// <param name="Gain">What it clears.</param>
/// <param name="Act">What a button says.</param>
/// <param name="Address">Where it is done.</param>
public sealed record PlaceTask(string What, string Why, string Gain, string Act, string Address);
