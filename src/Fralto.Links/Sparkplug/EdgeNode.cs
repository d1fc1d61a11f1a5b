using Fralto.Core.Controllers;
using Fralto.Core.Scaling;
using Fralto.Core.Sparkplug;
using Fralto.Sparkplug.Wire;

namespace Fralto.Links.Sparkplug;

/// <summary>What is known of an edge node since its birth: its metrics and those of its devices, aliases, and where its sequence
/// stands.</summary>
internal sealed class EdgeNode
{
    private readonly Dictionary<ulong, BornMetric> _aliases = [];
    private readonly Dictionary<(string Source, string Name), BornMetric> _names = [];
    private ulong? _seq;

    /// <summary>True between birth and death.</summary>
    public bool IsBorn { get; private set; }

    /// <summary>Number of the session, which birth and death of it share; null when the birth gave none.</summary>
    public ulong? BdSeq { get; private set; }

    /// <summary>Its clock, as its messages tell it.</summary>
    public SourceClock Clock { get; } = new();

    /// <summary>When a rebirth was last asked for, in ticks of time that nobody can set.</summary>
    public long AskedAt { get; set; }

    /// <summary>How often it was asked and gave no birth.</summary>
    public int AskedInVain { get; set; }

    /// <summary>Sources, each group/node or group/node/device, that live.</summary>
    public HashSet<string> Living { get; } = new(StringComparer.Ordinal);

    public IEnumerable<BornMetric> Metrics => _names.Values;

    /// <summary>Begins anew with the birth of the node.</summary>
    public void Bear(Payload birth, string source)
    {
        _aliases.Clear();
        _names.Clear();
        Living.Clear();
        IsBorn = true;
        BdSeq = birth.Metrics.FirstOrDefault(m => m.Name == "bdSeq") is { } metric
            ? metric.ValueCase == Metric.ValueOneofCase.LongValue
                ? metric.LongValue
                : metric.IntValue
            : null;
        _seq = birth.HasSeq ? birth.Seq : null;
        Take(birth, source);
    }

    /// <summary>Takes in the birth of a device.</summary>
    public void BearDevice(Payload birth, string source)
    {
        foreach (var old in _names.Keys.Where(k => k.Source == source).ToArray())
            _names.Remove(old);
        foreach (var old in _aliases.Where(a => a.Value.Source == source).Select(a => a.Key).ToArray())
            _aliases.Remove(old);
        Take(birth, source);
    }

    public void Die()
    {
        IsBorn = false;
        Living.Clear();
    }

    /// <summary>True when a message is the next in its sequence; either way the sequence goes on from it.</summary>
    public bool Follows(Payload message)
    {
        if (!message.HasSeq)
            return true;
        var follows = _seq is not { } last || message.Seq == (last + 1) % 256;
        _seq = message.Seq;
        return follows;
    }

    /// <summary>The metric a message speaks of, by name or alias; null when the birth did not announce it.</summary>
    public BornMetric? Find(string source, Metric metric) =>
        metric.HasName && metric.Name.Length > 0 ? _names.GetValueOrDefault((source, metric.Name))
        : metric.HasAlias ? _aliases.GetValueOrDefault(metric.Alias)
        : null;

    /// <summary>The metric of an address; null when the birth did not announce it.</summary>
    public BornMetric? Find(MetricAddress address) => _names.GetValueOrDefault((address.Source, address.Metric));

    /// <summary>The values of a metric: itself, or the members of a template, each under its path.</summary>
    public static IEnumerable<(string Path, Metric Metric)> Leaves(string name, Metric metric, int depth = 0)
    {
        const int Deepest = 8;
        if (metric.ValueCase != Metric.ValueOneofCase.TemplateValue)
            return [(name, metric)];
        return metric.TemplateValue.IsDefinition || depth >= Deepest
            ? []
            : metric.TemplateValue.Metrics.SelectMany(m => Leaves($"{name}/{m.Name}", m, depth + 1));
    }

    private void Take(Payload birth, string source)
    {
        Living.Add(source);
        foreach (var metric in birth.Metrics)
        {
            foreach (var (path, leaf) in Leaves(metric.Name, metric))
            {
                var born = new BornMetric(source, path, leaf.Datatype, leaf.HasAlias ? leaf.Alias : null);
                born.Describe(leaf);
                _names[(source, path)] = born;
                if (leaf.HasAlias)
                    _aliases[leaf.Alias] = born;
            }
            // A template is updated as a whole, under its own name or alias.
            if (metric.ValueCase != Metric.ValueOneofCase.TemplateValue)
                continue;
            var whole = new BornMetric(source, metric.Name, metric.Datatype, metric.HasAlias ? metric.Alias : null);
            _names[(source, metric.Name)] = whole;
            if (metric.HasAlias)
                _aliases[metric.Alias] = whole;
        }
    }

    /// <summary>A metric as its birth announced it.</summary>
    public sealed class BornMetric(string source, string name, uint datatype, ulong? alias)
    {
        public string Source => source;

        public string Name => name;

        public uint Datatype => datatype;

        public ulong? Alias => alias;

        /// <summary>What it would become as a tag; null for what is no value.</summary>
        public SourceItem? Item { get; private set; }

        public void Describe(Metric metric)
        {
            if (
                SparkplugValues.TypeOf(metric, datatype) is not { } type
                || name.Length == 0
                || source.Split('/') is not [var group, var node, .. var device]
            )
                return;
            var address = new MetricAddress(group, node, device.Length > 0 ? device[0] : null, name);
            var (low, high) = (Number(metric, "engLow"), Number(metric, "engHigh"));
            Item = new(
                address,
                [.. source.Split('/'), .. name.Split('/')],
                type.Type,
                type.Count,
                SparkplugValues.Words(metric, datatype),
                SparkplugValues.Property(metric, "engUnit"),
                low is { } from && high is { } to ? new Span(from, to) : null,
                SparkplugValues.Property(metric, "documentation")
                    ?? SparkplugValues.Property(metric, "description")
                    ?? metric.Metadata?.Description
                    ?? ""
            );
        }

        /// <summary>The newest message about it, and when it was; null before the first.</summary>
        public (Metric Metric, long At)? Newest { get; private set; }

        /// <summary>Keeps the newest value, for those who browse and for tags that come later.</summary>
        public void Update(Metric metric, long at)
        {
            Newest = (metric, at);
            if (Item is { } item)
                Item = item with { Value = SparkplugValues.Words(metric, datatype) };
        }

        private static double? Number(Metric metric, string key) =>
            double.TryParse(
                SparkplugValues.Property(metric, key),
                System.Globalization.NumberStyles.Float,
                System.Globalization.CultureInfo.InvariantCulture,
                out var number
            )
                ? number
                : null;
    }
}
