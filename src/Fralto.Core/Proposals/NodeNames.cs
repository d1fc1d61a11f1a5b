using Fralto.Core.Hierarchy;
using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>Numbers and texts of one node.</summary>
internal sealed class NodeNames
{
    private readonly Dictionary<(bool, TextCut, int), string?> _cuts = [];
    private readonly NameToken[] _code;
    private readonly NameToken[] _name;

    public NodeNames(Equipment node)
    {
        (_code, _name) = (NameToken.Of(node.Code), NameToken.Of(node.Name));
        Number = LastNumber(_code) ?? LastNumber(_name);
        CodeKey = NameToken.KeyOf(_code);
        NameKey = NameToken.KeyOf(_name);
        // Names of several words are also called by their first letters: PS1 for Pilot steep 1.
        var words = _name.Count(t => !t.IsNumber);
        var initials =
            words < 2
                ? null
                : NameToken.KeyOf([
                    .. new[] { new NameToken(string.Concat(_name.Where(t => !t.IsNumber).Select(t => t.Text[0])), -1, 0) },
                    .. _name.Where(t => t.IsNumber),
                ]);
        Marks =
        [
            .. new[] { CodeKey, NameKey, initials, NameToken.SaidOf(_code), NameToken.SaidOf(_name) }
                .OfType<string>()
                .Where(m => m.Length > 0)
                .Distinct(),
        ];
    }

    public long? Number { get; }

    public string CodeKey { get; }

    public string NameKey { get; }

    /// <summary>What texts may call it: its code, its name, its initials, each as a key.</summary>
    public string[] Marks { get; }

    public NameToken[] CodeTokens => _code;

    public NameToken[] NameTokens => _name;

    public string? TextOf(bool ofName, TextCut cut, int length)
    {
        if (cut == TextCut.Whole)
            return ofName ? NameKey : CodeKey;
        if (_cuts.TryGetValue((ofName, cut, length), out var known))
            return known;
        var words = (ofName ? _name : _code).Where(t => !t.IsNumber).Select(t => t.Text).ToArray();
        return _cuts[(ofName, cut, length)] =
            words.Length == 0
                ? null
                : cut switch
                {
                    TextCut.First => words[0],
                    TextCut.Last => words[^1],
                    TextCut.Initials => string.Concat(words.Select(w => w[0])),
                    TextCut.Letters => Start(string.Concat(words), length),
                    _ => Start(Consonants(string.Concat(words)), length),
                };
    }

    /// <summary>The first letter and the consonants after it.</summary>
    internal static string Consonants(string word) =>
        word.Length == 0 ? word : word[0] + string.Concat(word.Skip(1).Where(c => !"aeiou".Contains(c, StringComparison.Ordinal)));

    private static string Start(string word, int length) => length > 0 && word.Length > length ? word[..length] : word;

    private static long? LastNumber(NameToken[] tokens)
    {
        for (var i = tokens.Length - 1; i >= 0; i--)
            if (tokens[i].IsNumber)
                return tokens[i].Number;
        return null;
    }
}
