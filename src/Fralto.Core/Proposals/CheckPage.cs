namespace Fralto.Core.Proposals;

/// <summary>A page of the bindings that are to be looked at.</summary>
/// <param name="Lines">The lines of the page: what looks wrong first, the gravest before all, then the order of the plant.</param>
/// <param name="Number">The number of the page, from 1.</param>
/// <param name="Shown">How many lines all pages have together.</param>
/// <param name="All">Bindings there are.</param>
/// <param name="Left">Of them, those nobody has checked.</param>
/// <param name="Wrong">Of them, those that look wrong.</param>
public sealed record CheckPage(IReadOnlyList<CheckLine> Lines, int Number, int Shown, int All, int Left, int Wrong);
