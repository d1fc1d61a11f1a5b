namespace Fralto.Web.Forms;

/// <summary>What a series would make.</summary>
/// <param name="Members">Name and code of each member.</param>
/// <param name="Problems">Why it cannot be made; empty when it can.</param>
public sealed record SeriesPreview(IReadOnlyList<(string Name, string Code)> Members, IReadOnlyList<string> Problems);
