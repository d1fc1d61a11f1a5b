using System.Collections.Immutable;
using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Core.Proposals;

namespace Fralto.Runtime;

/// <summary>Asks for proposals with the values of now, and keeps an answer as long as the model stays the same.</summary>
public sealed class ProposalCache(PlantRuntime runtime, TimeProvider clock, ProposalMemory memory)
{
    /// <summary>An answer this old is asked for again: values move.</summary>
    private static readonly TimeSpan Fresh = TimeSpan.FromSeconds(20);

    /// <summary>What took long to answer is kept longer: so many times as long as it took.</summary>
    private const double Worth = 30;

    private const int MostKept = 8;
    private readonly Lock _lock = new();
    private readonly List<(PlantModel Model, string Key, DateTimeOffset Until, ProposalMatrix Matrix)> _kept = [];
    private readonly Dictionary<(PlantModel Model, string Key), Task<ProposalMatrix>> _working = [];

    /// <summary>The proposals for some templates, a place, or both.</summary>
    /// <param name="model">The working model.</param>
    /// <param name="templates">The templates with what inherits from them; null for all.</param>
    /// <param name="below">Only instances below this place; null for all.</param>
    /// <param name="threshold">Certainty from which a tag is proposed.</param>
    /// <param name="instances">Only these instances; null for all.</param>
    public ProposalMatrix Ask(
        PlantModel model,
        IReadOnlyCollection<long>? templates,
        long? below,
        double threshold = ProposalQuestion.DefaultThreshold,
        IReadOnlyCollection<long>? instances = null
    ) => Begin(model, templates, below, threshold, instances).GetAwaiter().GetResult();

    /// <summary>The same for whoever waits only so long; null when the answer takes longer: it is worked out meanwhile, and there for
    /// whoever asks again.</summary>
    public ProposalMatrix? Ask(
        PlantModel model,
        IReadOnlyCollection<long>? templates,
        long? below,
        double threshold,
        IReadOnlyCollection<long>? instances,
        TimeSpan patience
    ) => Begin(model, templates, below, threshold, instances) is var asked && asked.Wait(patience) ? asked.Result : null;

    private Task<ProposalMatrix> Begin(
        PlantModel model,
        IReadOnlyCollection<long>? templates,
        long? below,
        double threshold,
        IReadOnlyCollection<long>? instances
    )
    {
        var key =
            $"{(templates is null ? "all" : string.Join(',', templates.Order()))}/{below}/{threshold:R}/"
            + $"{(instances is null ? "" : string.Join(',', instances))}";
        lock (_lock)
        {
            var now = clock.GetUtcNow();
            _kept.RemoveAll(k => !ReferenceEquals(k.Model, model) || now > k.Until);
            if (_kept.FirstOrDefault(k => k.Key == key) is { Matrix: { } known })
                return Task.FromResult(known);
            // Several who ask the same at once wait for one answer.
            // A thread of its own: those that wait for it must not be those that it would have to wait for.
            if (!_working.TryGetValue((model, key), out var working))
                _working[(model, key)] = working = Task.Factory.StartNew(
                    () => Work(model, key, templates, below, threshold, instances),
                    CancellationToken.None,
                    TaskCreationOptions.LongRunning,
                    TaskScheduler.Default
                );
            return working;
        }
    }

    private ProposalMatrix Work(
        PlantModel model,
        string key,
        IReadOnlyCollection<long>? templates,
        long? below,
        double threshold,
        IReadOnlyCollection<long>? instances
    )
    {
        var (begin, snapshot) = (clock.GetTimestamp(), runtime.WorkingSnapshot);
        double? Raw(Tag tag) =>
            snapshot.Reading(tag.Id) is { } reading && !reading.Status.IsBad && double.IsFinite(reading.Raw) ? reading.Raw : null;
        try
        {
            var matrix = Proposer.Propose(
                new(model)
                {
                    Memory = memory,
                    Templates = templates?.ToImmutableHashSet(),
                    Below = below,
                    Threshold = threshold,
                    Raw = Raw,
                    Magnitudes = tag => snapshot.Reading(tag.Id)?.Magnitudes,
                    Instances = instances?.ToImmutableHashSet(),
                }
            );
            var took = clock.GetElapsedTime(begin);
            lock (_lock)
            {
                _kept.Add((model, key, clock.GetUtcNow() + Fresh + took * Worth, matrix));
                if (_kept.Count > MostKept)
                    _kept.RemoveAt(0);
            }
            return matrix;
        }
        finally
        {
            lock (_lock)
                _working.Remove((model, key));
        }
    }
}
