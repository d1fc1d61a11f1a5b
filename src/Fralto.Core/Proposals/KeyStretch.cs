namespace Fralto.Core.Proposals;

/// <summary>Keys of tags that begin alike, of all in their order.</summary>
/// <param name="From">The first of them.</param>
/// <param name="To">The one behind the last.</param>
/// <param name="Begun">How many letters they have in common, at least.</param>
internal readonly record struct KeyStretch(int From, int To, int Begun)
{
    public bool IsEmpty => From == To;
}
