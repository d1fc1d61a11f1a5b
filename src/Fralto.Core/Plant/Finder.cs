using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Properties;

namespace Fralto.Core.Plant;

/// <summary>Finds equipment, its properties, templates, scales and tags by any part of name, code, path, label or description.</summary>
public static class Finder
{
    /// <summary>Longest text looked for, in characters.</summary>
    public const int LongestText = 100;

    private const int MostWords = 20;

    /// <summary>What matches every word of a text, the closest first: the whole name or code, then its beginning, then any part.</summary>
    /// <param name="model">Where to look.</param>
    /// <param name="text">Words in any order and case; nothing is found for none. A word matches a node when it matches any code on its
    /// path.</param>
    /// <param name="most">How many at most.</param>
    public static IReadOnlyList<Found> Find(PlantModel model, string text, int most)
    {
        var words = (text.Length > LongestText ? text[..LongestText] : text).Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (words.Length == 0)
            return [];
        var best = new Best(most, string.Join(' ', words));
        words = [.. words.Take(MostWords).Select(w => w.ToUpperInvariant())];
        AddEquipment(model, words, best);
        foreach (var t in model.Templates.Values)
        {
            if (Match(words, t.Name, t.Code, t.Description, t.Labels))
                best.Offer(FoundKind.Template, t.Id, 0, t.Name, t.Code, t.Description);
            foreach (var p in t.Properties)
                if (Match(words, p.Name, p.Code, t.Name, Labels.None))
                    best.Offer(FoundKind.Property, p.Id, t.Id, p.Name, p.Code, t.Name);
        }
        foreach (var s in model.Scales.Values)
            if (Match(words, s.Name, s.Code, s.Description, Labels.None))
                best.Offer(FoundKind.Scale, s.Id, 0, s.Name, s.Code, s.Scale.Words);
        AddTags(model, words, best);
        return
        [
            .. best.InOrder.Select(f =>
                f.Kind switch
                {
                    FoundKind.Equipment => f with { Where = model.Index.PathOf(f.Id) },
                    FoundKind.Value => f with { Where = model.Index.PathOf(f.OwnerId) },
                    FoundKind.Tag => f with { Where = $"{model.Controllers[f.OwnerId].Name} {model.Tags[f.Id].Address}" },
                    _ => f,
                }
            ),
        ];
    }

    /// <summary>What a word has matched in a code or label counts for everything below, so no path is ever put together.</summary>
    private static void AddEquipment(PlantModel model, string[] words, Best best)
    {
        var layout = model.Index.Layout;
        var (inherited, own) = (new int[layout.Nodes.Length], new int[layout.Nodes.Length]);
        var labelled = model
            .Templates.Values.Select(t => (t.Id, Labels: model.Index.LabelsOf(t.Id)))
            .Where(t => !t.Labels.IsEmpty)
            .ToDictionary(t => t.Id, t => t.Labels);
        for (var w = 0; w < words.Length; w++)
        {
            model.Index.Codes.Mark(words[w], inherited, 1 << w);
            model.Index.Names.Mark(words[w], own, 1 << w);
            if (words[w].Contains('/', StringComparison.Ordinal))
                for (var i = 0; i < layout.Nodes.Length; i++)
                    if (Holds(model.Index.PathOf(layout.Nodes[i].Id), words[w]))
                        own[i] |= 1 << w;
        }
        var all = (1 << words.Length) - 1;
        var properties = PropertiesOf(model, words);
        for (var i = 0; i < layout.Nodes.Length; i++)
        {
            if (layout.Parent[i] >= 0)
                inherited[i] |= inherited[layout.Parent[i]];
            var matched = inherited[i] | own[i];
            var node = layout.Nodes[i];
            if (matched != all && node.TemplateId is { } template && labelled.TryGetValue(template, out var labels))
                for (var w = 0; w < words.Length; w++)
                    if (HoldsLabel(labels, words[w]))
                        matched |= 1 << w;
            if (matched == all)
                best.Offer(FoundKind.Equipment, node.Id, 0, node.Name, node.Code, "");
            // Some words name the instance, the others one of its properties: kiln 2 moist.
            else if (matched != 0 && node.TemplateId is { } its && properties.TryGetValue(its, out var marked))
                foreach (var (property, mask) in marked)
                    if ((matched | mask) == all)
                        best.Offer(FoundKind.Value, property.Id, node.Id, $"{node.Name} {property.Name}", property.Code, "");
        }
    }

    /// <summary>The properties of each template that have any of the words, with those they have.</summary>
    private static Dictionary<long, (ResolvedProperty Property, int Mask)[]> PropertiesOf(PlantModel model, string[] words)
    {
        var found = new Dictionary<long, (ResolvedProperty, int)[]>();
        foreach (var template in words.Length < 2 ? [] : model.Templates.Keys)
        {
            var marked = model
                .Index.PropertiesOf(template)
                .Select(p => (p, Mask: words.Select((word, w) => Holds(p.Name, word) || Holds(p.Code, word) ? 1 << w : 0).Sum()))
                .Where(p => p.Mask != 0)
                .ToArray();
            if (marked.Length > 0)
                found[template] = marked;
        }
        return found;
    }

    private static void AddTags(PlantModel model, string[] words, Best best)
    {
        var (tags, texts) = model.Index.TagNames;
        var marks = new int[tags.Length];
        for (var w = 0; w < words.Length; w++)
            texts.Mark(words[w], marks, 1 << w);
        var all = (1 << words.Length) - 1;
        var ofController = model.Controllers.Values.ToDictionary(
            c => c.Id,
            c => words.Select((word, w) => Holds(c.Name, word) ? 1 << w : 0).Sum()
        );
        for (var i = 0; i < tags.Length; i++)
            if ((marks[i] | ofController[tags[i].ControllerId]) == all)
                best.Offer(FoundKind.Tag, tags[i].Id, tags[i].ControllerId, tags[i].Name, tags[i].Name, "");
    }

    private static bool Match(string[] words, string name, string second, string third, ImmutableSortedDictionary<string, string> labels)
    {
        foreach (var word in words)
            if (!Holds(name, word) && !Holds(second, word) && !Holds(third, word) && !HoldsLabel(labels, word))
                return false;
        return true;
    }

    private static bool HoldsLabel(ImmutableSortedDictionary<string, string> labels, string word)
    {
        if (labels.IsEmpty)
            return false;
        foreach (var (key, value) in labels)
            if (Holds($"{key}={value}", word))
                return true;
        return false;
    }

    private static bool Holds(string text, string word) => text.Contains(word, StringComparison.OrdinalIgnoreCase);

    private static int Rank(string name, string code, string text)
    {
        const StringComparison Any = StringComparison.OrdinalIgnoreCase;
        if (name.Equals(text, Any) || code.Equals(text, Any))
            return 0;
        if (name.StartsWith(text, Any) || code.StartsWith(text, Any))
            return 1;
        return name.Contains(text, Any) || code.Contains(text, Any) ? 2 : 3;
    }

    /// <summary>The closest matches so far, the worst of them at hand to be pushed out.</summary>
    private sealed class Best(int most, string text)
    {
        private static readonly Comparer<(int Rank, FoundKind Kind, int Length, string Name)> Closest = Comparer<(
            int Rank,
            FoundKind Kind,
            int Length,
            string Name
        )>.Create(
            (one, other) =>
                one.Rank != other.Rank ? one.Rank - other.Rank
                : one.Kind != other.Kind ? one.Kind - other.Kind
                : one.Length != other.Length ? one.Length - other.Length
                : StringComparer.OrdinalIgnoreCase.Compare(one.Name, other.Name)
        );

        private readonly PriorityQueue<Found, (int Rank, FoundKind Kind, int Length, string Name)> _queue = new(
            Comparer<(int Rank, FoundKind Kind, int Length, string Name)>.Create((a, b) => Closest.Compare(b, a))
        );

        public IReadOnlyList<Found> InOrder => [.. _queue.UnorderedItems.OrderBy(i => i.Priority, Closest).Select(i => i.Element)];

        public void Offer(FoundKind kind, long id, long owner, string name, string code, string where)
        {
            var priority = (Rank(name, code, text), kind, name.Length, name);
            if (_queue.Count < most)
                _queue.Enqueue(new(kind, id, owner, name, where), priority);
            else if (most > 0 && _queue.TryPeek(out _, out var worst) && Closest.Compare(priority, worst) < 0)
                _queue.EnqueueDequeue(new(kind, id, owner, name, where), priority);
        }
    }
}
