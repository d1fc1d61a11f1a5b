namespace Fralto.Core.Pictures;

/// <summary>A piece of a curve that is drawn through.</summary>
/// <param name="Points">Its points in picture units, from left to right.</param>
/// <param name="IsUncertain">True where it is Uncertain more than Good.</param>
public sealed record TrendPiece(IReadOnlyList<(double X, double Y)> Points, bool IsUncertain);
