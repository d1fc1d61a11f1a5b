using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.NamingRules;
using Fralto.Core.Plant;

namespace Fralto.Core.Proposals;

/// <summary>Reads in the texts of tags which instances and places of the plant they speak of.</summary>
internal sealed class SpokenPlaces(PlantModel model, TagLexicon lexicon, PlantNames nodes, CountedTags counted)
{
    private const int MostParts = 20;
    private const int ShortestPlace = 3;
    private const int FewAlike = 4;
    private const int MostAlike = 500;

    private readonly Dictionary<long, Dictionary<int, (int Position, double Identity, TagWord[] Words)>> _near = [];
    private readonly Dictionary<int, TagWord[][]> _words = [];
    private readonly Dictionary<long, HashSet<long>> _calledLike = [];
    private readonly Dictionary<(int, long?), Equipment?> _elsewhere = [];
    private readonly Dictionary<int, Equipment[][]> _named = [];

    /// <summary>Looks for the tags whose texts speak of some instances; once for each.</summary>
    public void Look(IEnumerable<InstanceNames> instances)
    {
        var wanted = instances.DistinctBy(i => i.Instance.Id).Where(i => !_near.ContainsKey(i.Instance.Id)).ToArray();
        if (wanted.Length == 0)
            return;
        var marked = lexicon.Marked(wanted.SelectMany(i => i.Lineage.TakeLast(3)).DistinctBy(e => e.Id).SelectMany(e => nodes.Of(e).Marks));
        foreach (var instance in wanted)
        {
            var near = _near[instance.Instance.Id] = [];
            var anchors = instance
                .Lineage.Reverse()
                .Take(3)
                .FirstOrDefault(e => nodes.Of(e).Number is not null || nodes.Of(e).Marks.Any(m => nodes.Called(m).Count == 1))
                ?? instance.Instance;
            foreach (var position in nodes.Of(anchors).Marks.SelectMany(m => marked[m]).Distinct())
                if (Identity(instance, position) is > 0.3 and var identity)
                    near[position] = (position, identity, WordsBeside(instance, position));
        }
    }

    /// <summary>The tags whose texts speak of an instance, with how clearly they do and their other words.</summary>
    public IReadOnlyCollection<(int Position, double Identity, TagWord[] Words)> Near(InstanceNames instance) =>
        _near.TryGetValue(instance.Instance.Id, out var near) ? near.Values : [];

    /// <summary>How clearly a tag's texts speak of an instance, 0 to 1, and its other words.</summary>
    public (double Identity, TagWord[] Words) Identify(InstanceNames instance, int position)
    {
        if (!_near.TryGetValue(instance.Instance.Id, out var near))
            return (Identity(instance, position), WordsBeside(instance, position));
        return near.TryGetValue(position, out var known) ? (known.Identity, known.Words) : (0, WordsBeside(instance, position));
    }

    /// <summary>Whether a tag's texts speak as clearly of another of some instances: A-C-PUMP of pump C in area A, and of pump A in area
    /// C.</summary>
    public bool SpeaksAsWellOfAnother(InstanceNames instance, IEnumerable<InstanceNames> all, int position)
    {
        var own = Identify(instance, position).Identity;
        return all.Where(i => i != instance && i.Instance.ParentId is not null)
            .GroupBy(i => i.Instance.ParentId)
            .Where(g => SpokenOf(model.Equipment[g.Key!.Value], position) > 0.7)
            .SelectMany(g => g)
            .Any(i => Identity(i, position) >= own);
    }

    /// <summary>The key of a tag's name without what names the instance and the places above it.</summary>
    public string Rest(InstanceNames instance, int position) => NameToken.KeyOf(RestOf(instance, position));

    /// <summary>The words and numbers of a tag's name without what names the instance and the places above it.</summary>
    public NameToken[] RestOf(InstanceNames instance, int position)
    {
        var left = Left(instance, position)[(int)TagFace.Name];
        return [.. lexicon.Tokens[(int)TagFace.Name][position].Where((_, i) => left[i])];
    }

    /// <summary>A node elsewhere, called by a name with a number, that a tag's name speaks of; null for none, or when the instance's own
    /// places are spoken of.</summary>
    public Equipment? SpeaksOf(int position, InstanceNames instance)
    {
        var (tokens, found) = (lexicon.Tokens[(int)TagFace.Name][position], (Equipment?)null);
        Span<char> room = stackalloc char[256];
        for (var from = 0; from < tokens.Length; from++)
        {
            var key = new KeyWriter(room);
            var numbered = false;
            for (var to = from; to < tokens.Length && to < from + 3; to++)
            {
                key.Say(tokens[to]);
                numbered |= tokens[to].IsNumber;
                if (!numbered || nodes.Called(key.Key) is not { Count: > 0 } called)
                    continue;
                if (called.Any(instance.Lineage.Contains))
                    return null;
                found ??= counted.IsNobodys(position, from, to - from + 1, called[0]) ? null : called[0];
            }
        }
        return found;
    }

    /// <summary>True when a tag's name holds what the node is called, letters and number. A number that is the same in all tags called
    /// alike is no node's: DRYER-01 in all of 81-GAS-DRYER-01, 82-GAS-DRYER-01 and so on.</summary>
    public bool IsCalled(int position, Equipment node)
    {
        const int Name = (int)TagFace.Name;
        var isCalled = false;
        foreach (var mark in nodes.Of(node).Marks.Where(m => m.Any(char.IsLetter) && m.Any(char.IsAsciiDigit)))
            lexicon.Where(position, mark, (face, from, count) =>
                isCalled |= face == Name && Enumerable.Range(from, count).Any(at => Differs(position, at))
            );
        return isCalled;
    }

    /// <summary>True for a number of a tag's name that is another in others called alike, or where few are called so.</summary>
    private bool Differs(int position, int at)
    {
        var name = lexicon.Tokens[(int)TagFace.Name];
        var alike = lexicon.Shaped(TagFace.Name, position);
        return name[position][at].IsNumber
            && (alike.Count < FewAlike || alike.Take(MostAlike).Any(p => name[p][at].Number != name[position][at].Number));
    }

    /// <summary>A place beside one of an instance's own that a tag's texts name by its code or name, where they do not name its own; null
    /// for none.</summary>
    public Equipment? PlaceElsewhere(int position, InstanceNames instance)
    {
        if (_elsewhere.TryGetValue((position, instance.Instance.ParentId), out var known))
            return known;
        var found = new List<Equipment>();
        var own = new HashSet<EquipmentLevel>();
        Span<char> room = stackalloc char[256];
        for (var face = 0; face < (int)TagFace.Address; face++)
        {
            var tokens = lexicon.Tokens[face][position];
            for (var from = 0; from < tokens.Length; from++)
            {
                var key = new KeyWriter(room);
                for (var to = from; to < tokens.Length && to < from + 3; to++)
                {
                    key.Say(tokens[to]);
                    // A letter and a digit are as telling as three letters.
                    if (
                        key.Key.Length < ShortestPlace - (to > from && !tokens[from].IsNumber ? 1 : 0)
                        || nodes.Called(key.Key) is not { Count: > 0 } called
                    )
                        continue;
                    foreach (var node in called.Where(n => n.TemplateId is null))
                        if (instance.Lineage.Contains(node))
                            own.Add(node.Level);
                        else
                            found.Add(node);
                }
            }
        }
        return _elsewhere[(position, instance.Instance.ParentId)] = found.FirstOrDefault(n =>
            !own.Contains(n.Level) && instance.Lineage.Any(e => e.Level == n.Level && e.TemplateId is null)
        );
    }

    /// <summary>How clearly a tag's texts speak of an instance: of itself and, where others are called the same, of the places above
    /// it.</summary>
    private double Identity(InstanceNames instance, int position)
    {
        var own = SpokenOf(instance.Instance, position);
        // A part without a number is often not spoken of, only what it is a part of.
        if (own < 0.7)
            return
                instance.Instance.PartId is not null
                && nodes.Of(instance.Instance).Number is null
                && instance.Lineage.Count > 1
                && SpokenOf(instance.Lineage[^2], position) > 0.7
                ? 0.4
                : 0;
        // What speaks of a part is the part's, not that of the whole.
        if (
            model
                .Index.ChildrenOf(instance.Instance.Id)
                .Take(MostParts)
                .Any(part => part.PartId is not null && SpokenOf(part, position) > 0.7)
        )
            own *= 0.35;
        // A tag of which one text names another of its kind may be either's; one that names another place is not of this one.
        if (OthersNamed(instance.Instance, position) || PlaceElsewhere(position, instance) is not null || IsOfPlaceName(instance, position))
            own *= 0.35;
        // Others may be called the same: then the places above have to be spoken of, as far as they tell them apart.
        var same = nodes
            .Of(instance.Instance)
            .Marks.SelectMany(m => nodes.Called(m))
            .Where(e => e.Id != instance.Instance.Id)
            .Distinct()
            .ToList();
        for (var at = instance.Lineage.Count - 2; at >= 0 && same.Count > 0; at--)
            if (
                SpokenOf(instance.Lineage[at], position) > 0.7
                && IsBeside(instance.Lineage[at], instance.Instance, position)
                && CalledLike(instance.Lineage[at]) is var alike
            )
                same.RemoveAll(e => !model.Index.LineageOf(e.Id).Any(n => alike.Contains(n.Id)));
        return same.Count == 0 ? own : own * 0.35;
    }

    /// <summary>Whether a place is spoken of by more than what calls the instance: the SC of SC01 is a screen, and not Secondary
    /// crushing.</summary>
    private bool IsBeside(Equipment place, Equipment instance, int position)
    {
        var own = new List<(int Face, int From, int To)>();
        foreach (var mark in nodes.Of(instance).Marks)
            lexicon.Where(position, mark, (face, from, count) => own.Add((face, from, from + count)));
        var (any, beside) = (false, false);
        foreach (var mark in nodes.Of(place).Marks)
            lexicon.Where(position, mark, (face, from, count) =>
            {
                any = true;
                beside |= !own.Any(o => o.Face == face && o.From <= from && o.To >= from + count);
            });
        return beside || !any;
    }

    /// <summary>Whether what would call the instance is a part of what calls a place above it: the A of PUMP-A2 is that of area
    /// A2.</summary>
    private bool IsOfPlaceName(InstanceNames instance, int position)
    {
        var (own, above) = (new List<(int Face, int From, int To)>(), new List<(int Face, int From, int To)>());
        foreach (var mark in nodes.Of(instance.Instance).Marks)
            lexicon.Where(position, mark, (face, from, count) => own.Add((face, from, from + count)));
        foreach (var mark in instance.Lineage.SkipLast(1).SelectMany(e => nodes.Of(e).Marks))
            lexicon.Where(position, mark, (face, from, count) => above.Add((face, from, from + count)));
        return own.Count > 0 && own.TrueForAll(o => above.Exists(a => a.Face == o.Face && a.From > o.From && a.From < o.To && a.To > o.To));
    }

    /// <summary>The nodes that are called as this one is, itself among them: a text that speaks of one speaks of all.</summary>
    private HashSet<long> CalledLike(Equipment node) =>
        _calledLike.TryGetValue(node.Id, out var known)
            ? known
            : _calledLike[node.Id] = [.. nodes.Of(node).Marks.SelectMany(m => nodes.Called(m)).Select(e => e.Id)];

    private double SpokenOf(Equipment node, int position)
    {
        var names = nodes.Of(node);
        var isSaid = false;
        foreach (var mark in names.Marks)
            lexicon.Where(position, mark, (face, from, count) =>
                isSaid |= face != (int)TagFace.Name || !counted.IsNobodys(position, from, count, node)
            );
        if (isSaid)
            return 1;
        // Words that name another of its kind, one beside the other, are not said of this one.
        var isOthers = node.TemplateId is { } kind && NamedIn(position).Any(named => named.Any(n => n.TemplateId == kind));
        return names.Number is null && !isOthers ? SaidOf(node, position) : 0;
    }

    /// <summary>Whether the name or the description of a tag names others of an instance's kind, and not the instance.</summary>
    private bool OthersNamed(Equipment instance, int position) =>
        instance.TemplateId is { } kind
        && NamedIn(position).Any(named => named.Any(n => n.TemplateId == kind) && !named.Any(n => n.Id == instance.Id));

    /// <summary>The nodes that the name of a tag, and its description, call by letters and a number or by several words.</summary>
    private Equipment[][] NamedIn(int position)
    {
        if (_named.TryGetValue(position, out var known))
            return known;
        var named = new Equipment[(int)TagFace.Address][];
        Span<char> room = stackalloc char[256];
        for (var face = 0; face < named.Length; face++)
        {
            var tokens = lexicon.Tokens[face][position];
            var found = new List<Equipment>();
            for (var from = 0; from < tokens.Length; from++)
            {
                var key = new KeyWriter(room);
                for (var to = from; to < tokens.Length && to < from + TagLexicon.LongestMark; to++)
                {
                    key.Say(tokens[to]);
                    if (to > from)
                        foreach (var node in nodes.Called(key.Key))
                            if (face != (int)TagFace.Name || !counted.IsNobodys(position, from, to - from + 1, node))
                                found.Add(node);
                }
            }
            named[face] = [.. found.Distinct()];
        }
        return _named[position] = named;
    }

    /// <summary>How much of a node's name a tag's words say.</summary>
    private double SaidOf(Equipment node, int position)
    {
        var words = nodes.Of(node).NameTokens;
        if (words.Length == 0)
            return 0;
        // What names the places above it is not said of it: IN may be a hall, and is then no inlet.
        var said = node.ParentId is { } above ? WordsBeside(nodes.Of(above), position) : [.. TagWords(position).SelectMany(w => w)];
        var sum = 0.0;
        foreach (var word in words)
        {
            var wanted = PropertyWord.Of(word);
            sum += said.Select(s => s.Says(wanted)).DefaultIfEmpty().Max();
        }
        return sum / words.Length;
    }

    private TagWord[][] TagWords(int position) =>
        _words.TryGetValue(position, out var words)
            ? words
            : _words[position] = [
                .. lexicon.Tokens.Select((f, i) => f[position].Select(t => TagWord.Of(t, i == (int)TagFace.Name)).ToArray()),
            ];

    /// <summary>A tag's words without those that name the instance and the places above it.</summary>
    private TagWord[] WordsBeside(InstanceNames instance, int position)
    {
        var (words, left) = (TagWords(position), Left(instance, position));
        return [.. words.SelectMany((its, face) => its.Where((_, i) => left[face][i]))];
    }

    /// <summary>The words of a tag's description without those that name the instance and its places; null where it does not name the
    /// instance.</summary>
    public TagWord[]? DescriptionBeside(InstanceNames instance, int position)
    {
        const int Description = (int)TagFace.Description;
        var isNamed = false;
        foreach (var mark in nodes.Of(instance.Instance).Marks)
            lexicon.Where(position, mark, (face, _, _) => isNamed |= face == Description);
        if (!isNamed)
            return null;
        var left = Left(instance, position)[Description];
        return [.. TagWords(position)[Description].Where((_, i) => left[i])];
    }

    /// <summary>Which words of a tag, by text and place in it, do not name the instance or a place above it.</summary>
    private bool[][] Left(InstanceNames instance, int position)
    {
        var left = lexicon.Tokens.Select(f => Enumerable.Repeat(true, f[position].Length).ToArray()).ToArray();
        foreach (var node in instance.Lineage)
        foreach (var mark in nodes.Of(node).Marks)
            lexicon.Where(position, mark, (face, from, count) => Array.Fill(left[face], false, from, count));
        return left;
    }
}
