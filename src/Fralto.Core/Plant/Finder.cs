using System.Collections.Immutable;

namespace Fralto.Core.Plant;

/// <summary>Finds equipment, templates, properties and tags by any part of name, code, path, label or description.</summary>
public static class Finder
{
    /// <summary>Longest text looked for, in characters.</summary>
    public const int LongestText = 100;

    /// <summary>What matches every word of a text, the closest first: the whole name or code, then its beginning, then any part.</summary>
    /// <param name="model">Where to look.</param>
    /// <param name="text">Words in any order and case; nothing is found for none. A word matches a node when it matches any code on its path.</param>
    /// <param name="most">How many at most.</param>
    public static IReadOnlyList<Found> Find(PlantModel model, string text, int most)
    {
        var words = (text.Length > LongestText ? text[..LongestText] : text).Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (words.Length == 0) return [];
        var best = new Best(most, string.Join(' ', words));
        AddEquipment(model, words, best);
        foreach (var t in model.Templates.Values)
        {
            if (Match(words, t.Name, t.Code, t.Description, t.Labels)) best.Offer(FoundKind.Template, t.Name, t.Code, () => new(FoundKind.Template, t.Id, 0, t.Name, t.Description));
            foreach (var p in t.Properties)
                if (Match(words, p.Name, p.Code, t.Name, Labels.None)) best.Offer(FoundKind.Property, p.Name, p.Code, () => new(FoundKind.Property, p.Id, t.Id, p.Name, t.Name));
        }
        foreach (var controller in model.Controllers.Values)
            foreach (var t in model.Index.TagsOf(controller.Id))
                if (Match(words, t.Name, controller.Name, t.Description, Labels.None)) best.Offer(FoundKind.Tag, t.Name, t.Name, () => new(FoundKind.Tag, t.Id, t.ControllerId, t.Name, $"{controller.Name} {t.Address}"));
        return best.InOrder;
    }

    /// <summary>One pass in plant order: what a word has matched above counts for everything below, so no path is ever put together.</summary>
    private static void AddEquipment(PlantModel model, string[] words, Best best)
    {
        var layout = model.Index.Layout;
        var all = (1 << Math.Min(words.Length, 31)) - 1;
        var matched = new int[layout.Nodes.Length];
        var labelled = model.Templates.Values.Select(t => (t.Id, Labels: model.Index.LabelsOf(t.Id))).Where(t => !t.Labels.IsEmpty).ToDictionary(t => t.Id, t => t.Labels);
        for (var i = 0; i < layout.Nodes.Length; i++)
        {
            var node = layout.Nodes[i];
            var above = layout.Parent[i] < 0 ? 0 : matched[layout.Parent[i]];
            var (below, here) = (above, above);
            for (var w = 0; w < words.Length && w < 31; w++)
            {
                if ((above & (1 << w)) != 0) continue;
                if (Holds(node.Code, words[w]) || HoldsLabel(node.Labels, words[w])) below |= 1 << w;
                else if (Holds(node.Name, words[w]) || (labelled.Count > 0 && node.TemplateId is { } t && labelled.TryGetValue(t, out var given) && HoldsLabel(given, words[w]))
                    || (words[w].Contains('/', StringComparison.Ordinal) && Holds(model.Index.PathOf(node.Id), words[w]))) here |= 1 << w;
            }
            matched[i] = below;
            if ((here | below) == all) best.Offer(FoundKind.Equipment, node.Name, node.Code, () => new(FoundKind.Equipment, node.Id, 0, node.Name, model.Index.PathOf(node.Id)));
        }
    }

    private static bool Match(string[] words, string name, string second, string third, ImmutableSortedDictionary<string, string> labels)
    {
        foreach (var word in words)
            if (!Holds(name, word) && !Holds(second, word) && !Holds(third, word) && !HoldsLabel(labels, word)) return false;
        return true;
    }

    private static bool HoldsLabel(ImmutableSortedDictionary<string, string> labels, string word)
    {
        if (labels.IsEmpty) return false;
        foreach (var (key, value) in labels)
            if (Holds($"{key}={value}", word)) return true;
        return false;
    }

    private static bool Holds(string text, string word) => text.Contains(word, StringComparison.OrdinalIgnoreCase);

    private static int Rank(string name, string code, string text)
    {
        const StringComparison Any = StringComparison.OrdinalIgnoreCase;
        if (name.Equals(text, Any) || code.Equals(text, Any)) return 0;
        if (name.StartsWith(text, Any) || code.StartsWith(text, Any)) return 1;
        return name.Contains(text, Any) || code.Contains(text, Any) ? 2 : 3;
    }

    /// <summary>The closest matches so far, the worst of them at hand to be pushed out.</summary>
    private sealed class Best(int most, string text)
    {
        private static readonly Comparer<(int Rank, FoundKind Kind, int Length, string Name)> Closest = Comparer<(int Rank, FoundKind Kind, int Length, string Name)>.Create((one, other) =>
            one.Rank != other.Rank ? one.Rank - other.Rank : one.Kind != other.Kind ? one.Kind - other.Kind
            : one.Length != other.Length ? one.Length - other.Length : StringComparer.OrdinalIgnoreCase.Compare(one.Name, other.Name));

        private readonly PriorityQueue<Found, (int Rank, FoundKind Kind, int Length, string Name)> _queue = new(Comparer<(int Rank, FoundKind Kind, int Length, string Name)>.Create((a, b) => Closest.Compare(b, a)));

        public IReadOnlyList<Found> InOrder => [.. _queue.UnorderedItems.OrderBy(i => i.Priority, Closest).Select(i => i.Element)];

        public void Offer(FoundKind kind, string name, string code, Func<Found> found)
        {
            var priority = (Rank(name, code, text), kind, name.Length, name);
            if (_queue.Count < most) _queue.Enqueue(found(), priority);
            else if (most > 0 && _queue.TryPeek(out _, out var worst) && Closest.Compare(priority, worst) < 0) _queue.EnqueueDequeue(found(), priority);
        }
    }
}
