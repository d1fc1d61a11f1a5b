using System.Collections.Concurrent;
using Fralto.Core.History;
using Fralto.Core.Planning;
using Fralto.Core.Scaling;
using Fralto.Store;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime.Recording;

/// <summary>What the numbers of chunks are read with: the scales that were in force when they came.</summary>
internal sealed class RecordedScalings(HistoryStore store, ILogger logger)
{
    private readonly Dictionary<string, int> _ids = [];
    private readonly ConcurrentDictionary<int, Chain> _chains = [];

    /// <summary>Takes up what is kept.</summary>
    public void Load()
    {
        foreach (var (id, text) in store.Scalings())
            try
            {
                (_ids[text], _chains[id]) = (id, KeptScaling.Read(text));
            }
            catch (System.Text.Json.JsonException e)
            {
                logger.LogError(e, "A scaling of history cannot be read; its values stay as they were told");
            }
    }

    /// <summary>The id of what a point is read with now; 0 where its values are kept as they are.</summary>
    /// <exception cref="StoreException">It is new, and could not be kept.</exception>
    public int IdOf(PlanPoint point)
    {
        // What states are told by a text, and what is worked out or entered, is a value already.
        if (point.Source != PointSource.Tag || KeptScaling.TextOf(point.Chain) is not { } text)
            return 0;
        if (_ids.TryGetValue(text, out var id))
            return id;
        id = store.ScalingOf(text);
        (_ids[text], _chains[id]) = (id, KeptScaling.Read(text));
        return id;
    }

    /// <summary>What numbers are read with; null where they are values already.</summary>
    public Chain? ChainOf(int scaling) => scaling == 0 ? null : _chains.GetValueOrDefault(scaling);

    /// <summary>A value in the property's unit.</summary>
    /// <param name="sample">What is kept.</param>
    /// <param name="scaling">What it is read with.</param>
    /// <param name="asNow">What it is to be read with instead; null for what was in force.</param>
    public HistorySample Scaled(in HistorySample sample, int scaling, Chain? asNow = null) =>
        scaling != 0 && (asNow ?? ChainOf(scaling)) is { } chain ? Scaled(in sample, chain) : sample;

    /// <summary>Reads a chunk into values of the property's unit.</summary>
    /// <returns>What is wrong with it; null when it is whole.</returns>
    public string? Read(byte[] data, int scaling, List<HistorySample> into, Chain? asNow = null)
    {
        var from = into.Count;
        if (ChunkReader.Read(data, into) is { } problem)
            return problem;
        if (scaling == 0 || (asNow ?? ChainOf(scaling)) is not { } chain)
            return null;
        for (var i = from; i < into.Count; i++)
            into[i] = Scaled(into[i], chain);
        return null;
    }

    private static HistorySample Scaled(in HistorySample sample, Chain chain) =>
        sample.Text is null && double.IsFinite(sample.Number) ? sample with { Number = chain.Compute(sample.Number).Value } : sample;
}
