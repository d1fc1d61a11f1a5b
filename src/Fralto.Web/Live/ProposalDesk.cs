using System.Collections.Immutable;
using Fralto.Core.Binding;
using Fralto.Core.Controllers;
using Fralto.Core.Plant;

namespace Fralto.Web.Live;

/// <summary>Asks for proposals with the values of now, and keeps an answer as long as the model stays the same.</summary>
public sealed class ProposalDesk(PlantRuntime runtime, TimeProvider clock)
{
    /// <summary>An answer this old is asked for again: values move.</summary>
    private static readonly TimeSpan Fresh = TimeSpan.FromSeconds(20);

    /// <summary>What took long to answer is kept longer: so many times as long as it took.</summary>
    private const double Worth = 30;

    private const int MostKept = 8;
    private readonly Lock _lock = new();
    private readonly List<(PlantModel Model, string Key, DateTimeOffset Until, ProposalBoard Board)> _kept = [];

    /// <summary>The proposals for some templates, a place, or both.</summary>
    /// <param name="model">The working model.</param>
    /// <param name="templates">The templates with what inherits from them; null for all.</param>
    /// <param name="below">Only instances below this place; null for all.</param>
    /// <param name="threshold">Certainty from which a tag is proposed.</param>
    /// <param name="instances">Only these instances; null for all.</param>
    public ProposalBoard Ask(PlantModel model, IReadOnlyCollection<long>? templates, long? below, double threshold = ProposalQuestion.DefaultThreshold, IReadOnlyCollection<long>? instances = null)
    {
        var key = $"{(templates is null ? "all" : string.Join(',', templates.Order()))}/{below}/{threshold:R}/{(instances is null ? "" : string.Join(',', instances))}";
        var now = clock.GetUtcNow();
        lock (_lock)
        {
            _kept.RemoveAll(k => !ReferenceEquals(k.Model, model) || now > k.Until);
            if (_kept.FirstOrDefault(k => k.Key == key) is { Board: { } known }) return known;
        }
        var snapshot = runtime.Snapshot;
        double? Raw(Tag tag) => snapshot.Reading(tag.Id) is { } reading && !reading.Status.IsBad && double.IsFinite(reading.Raw) ? reading.Raw : null;
        var board = Proposer.Propose(new(model) { Templates = templates?.ToImmutableHashSet(), Below = below, Threshold = threshold, Raw = Raw, Instances = instances?.ToImmutableHashSet() });
        var took = clock.GetUtcNow() - now;
        lock (_lock)
        {
            _kept.Add((model, key, now + Fresh + took * Worth, board));
            if (_kept.Count > MostKept) _kept.RemoveAt(0);
        }
        return board;
    }
}
