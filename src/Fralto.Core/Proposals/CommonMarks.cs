using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>The numbers, and letters that stand by themselves, that are the same in all the names of some tags that are called alike: part
/// of what they are called, as a word is.</summary>
internal readonly struct CommonMarks
{
    private readonly NameToken[][] _names;
    private readonly NameToken[] _own;
    private readonly List<int> _places = [];

    /// <param name="names">The words and numbers of all tags' names.</param>
    /// <param name="one">One of the tags; those with more or fewer words and numbers are not asked.</param>
    /// <param name="others">The others.</param>
    public CommonMarks(NameToken[][] names, int one, IReadOnlyCollection<int> others)
    {
        (_names, _own) = (names, names[one]);
        for (var i = 0; i < _own.Length; i++)
            if ((_own[i].IsNumber || _own[i].IsLetter) && IsCommon(i, others))
                _places.Add(i);
    }

    /// <summary>Whether a tag that is called alike has them.</summary>
    public bool AreIn(int position)
    {
        foreach (var i in _places)
            if (!IsSame(_names[position][i], _own[i]))
                return false;
        return true;
    }

    private static bool IsSame(NameToken one, NameToken other) =>
        one.IsNumber || other.IsNumber ? one.Number == other.Number : one.Text == other.Text;

    private bool IsCommon(int i, IReadOnlyCollection<int> others)
    {
        foreach (var other in others)
            if (_names[other].Length == _own.Length && !IsSame(_names[other][i], _own[i]))
                return false;
        return true;
    }
}
