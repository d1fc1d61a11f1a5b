namespace Fralto.Core.Basics;

/// <summary>Something a person has to put right before an edit can be made.</summary>
/// <param name="Field">The field it belongs to; empty when it concerns the edit as a whole.</param>
/// <param name="Message">What is wrong and what to do, in words.</param>
public sealed record Problem(string Field, string Message);
