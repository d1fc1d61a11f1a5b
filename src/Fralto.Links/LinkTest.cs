namespace Fralto.Links;

/// <summary>What a connection test found.</summary>
/// <param name="Succeeded">True when the device answered to its unit id.</param>
/// <param name="Message">What was found, and what to check when it failed.</param>
public sealed record LinkTest(bool Succeeded, string Message);
