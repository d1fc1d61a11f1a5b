using System.Collections.Immutable;
using Fralto.Bench.Naming;
using Fralto.Core.Plant;
using Fralto.Core.Proposals;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>What must not make a difference to what is proposed: on plants drawn by chance, bound and unbound.</summary>
public sealed class ProposalInvariantTests
{
    public static TheoryData<int, int> Plants =>
        [.. from seed in Enumerable.Range(71_000, 12) from examples in new[] { 0, 1 } select (seed, examples)];

    [Theory]
    [MemberData(nameof(Plants))]
    public void The_order_of_tags_templates_and_controllers_says_nothing(int seed, int examples)
    {
        var bound = ProposalScore.Bound(GrammarPlant.Make(seed).Plant, examples);
        var random = new Random(seed);
        Dictionary<long, long> Shuffled(IEnumerable<long> ids)
        {
            long[] from = [.. ids.Order()],
                to = [.. from];
            random.Shuffle(to);
            return from.Zip(to).ToDictionary(p => p.First, p => p.Second);
        }
        var (tags, templates, controllers) = (Shuffled(bound.Tags.Keys), Shuffled(bound.Templates.Keys), Shuffled(bound.Controllers.Keys));
        var properties = Shuffled(bound.Templates.Values.SelectMany(t => t.Properties).Select(p => p.Id));
        var other = bound with
        {
            Tags = bound
                .Tags.Values.Select(t => t with { Id = tags[t.Id], ControllerId = controllers[t.ControllerId] })
                .ToImmutableDictionary(t => t.Id),
            Controllers = bound.Controllers.Values.Select(c => c with { Id = controllers[c.Id] }).ToImmutableDictionary(c => c.Id),
            Templates = bound
                .Templates.Values.Select(t =>
                    t with
                    {
                        Id = templates[t.Id],
                        Properties = [.. t.Properties.Select(p => p with { Id = properties[p.Id] })],
                        Patches = t.Patches.ToImmutableDictionary(p => properties[p.Key], p => p.Value),
                    }
                )
                .ToImmutableDictionary(t => t.Id),
            Equipment = bound
                .Equipment.Values.Select(e => e with { TemplateId = e.TemplateId is { } of ? templates[of] : null })
                .ToImmutableDictionary(e => e.Id),
            Bindings = bound
                .Bindings.Values.Select(b => b with { PropertyId = properties[b.PropertyId], TagId = tags[b.TagId] })
                .ToImmutableDictionary(b => (b.EquipmentId, b.PropertyId)),
        };
        Proposed(other).ShouldBe(Proposed(bound).Select(p => (p.Cell, properties[p.Property], tags[p.Tag])), ignoreOrder: true);
    }

    [Theory]
    [MemberData(nameof(Plants))]
    public void Tags_that_no_cell_could_take_say_nothing(int seed, int examples)
    {
        var bound = ProposalScore.Bound(GrammarPlant.Make(seed).Plant, examples);
        var (random, next) = (new Random(seed), bound.NextId);
        // Texts, called as the tags beside them are; no property here is a text.
        var noise = bound
            .Tags.Values.OrderBy(t => t.Id)
            .Where(_ => random.Next(3) == 0)
            .Select(t =>
                t with
                {
                    Id = next++,
                    Name = $"{t.Name}{(random.Next(2) == 0 ? "_TXT" : ".Note")}",
                    Type = RawType.Text,
                    Unit = null,
                }
            )
            .ToArray();
        noise.ShouldNotBeEmpty();
        var other = bound with { Tags = bound.Tags.AddRange(noise.Select(t => KeyValuePair.Create(t.Id, t))), NextId = next };
        Proposed(other).ShouldBe(Proposed(bound), ignoreOrder: true);
    }

    private static IReadOnlyList<(long Cell, long Property, long Tag)> Proposed(PlantModel model) =>
        [
            .. Proposer
                .Propose(new(model))
                .Proposals.Where(p => p.Kind == ProposalKind.Proposed)
                .Select(p => (p.EquipmentId, p.PropertyId, p.TagId!.Value)),
        ];
}
