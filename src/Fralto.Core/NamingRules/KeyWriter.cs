using System.Globalization;

namespace Fralto.Core.NamingRules;

/// <summary>Writes the key of a name piece by piece, without making strings of what is only looked up.</summary>
internal ref struct KeyWriter(Span<char> room)
{
    private readonly Span<char> _room = room;
    private int _length;
    private bool _afterNumber;
    private bool _afterLetter;

    /// <summary>The key so far; names longer than the room are cut, which only makes them not be found.</summary>
    public readonly ReadOnlySpan<char> Key => _room[.._length];

    public void Add(NameToken token)
    {
        if (token.IsNumber)
            Add(token.Number);
        else
            Add(token.Text);
    }

    /// <summary>Adds a word or number of what is said; letters that stand by themselves stay apart: C.A is a C and an A, and not
    /// CA.</summary>
    public void Say(NameToken token)
    {
        if (_afterLetter && token.IsLetter && _length < _room.Length)
            _room[_length++] = '.';
        Add(token);
        _afterLetter = token.IsLetter;
    }

    public void Add(long number)
    {
        if (_afterNumber && _length < _room.Length)
            _room[_length++] = '.';
        if (number.TryFormat(_room[_length..], out var written, provider: CultureInfo.InvariantCulture))
            _length += written;
        _afterNumber = true;
    }

    /// <summary>Adds the key of a piece, which may itself begin and end with numbers.</summary>
    public void Add(ReadOnlySpan<char> piece)
    {
        if (piece.IsEmpty)
            return;
        if (_afterNumber && char.IsAsciiDigit(piece[0]) && _length < _room.Length)
            _room[_length++] = '.';
        var taken = Math.Min(piece.Length, _room.Length - _length);
        piece[..taken].CopyTo(_room[_length..]);
        _length += taken;
        _afterNumber = char.IsAsciiDigit(piece[^1]);
    }

    public override readonly string ToString() => Key.ToString();
}
