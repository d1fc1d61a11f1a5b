using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Text.RegularExpressions;
using Fralto.Bench.Naming;
using Fralto.Core.Bindings;
using Fralto.Core.NamingRules;
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
        Proposed(other).ShouldBe(Plainly(seed, examples).Select(p => (p.Cell, properties[p.Property], tags[p.Tag])), ignoreOrder: true);
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
        Proposed(other).ShouldBe(Plainly(seed, examples), ignoreOrder: true);
    }

    public static TheoryData<int> Seeds => [.. Enumerable.Range(81_000, 16)];

    [Theory]
    [MemberData(nameof(Seeds))]
    public void Words_renamed_one_for_one_say_the_same_where_no_dictionary_knows_them(int seed)
    {
        var bound = ProposalScore.Bound(GrammarPlant.Make(seed).Plant, 1);
        // What equipment is called stays: by that tags and places belong together.
        var called = bound
            .Equipment.Values.SelectMany(e => new[] { e.Code, e.Name })
            .SelectMany(NameToken.Of)
            .Select(t => t.Text.ToLowerInvariant())
            .ToHashSet();
        PlantModel Renamed(string letters)
        {
            var words = new Dictionary<string, string>(StringComparer.Ordinal);
            string Text(string text) => Regex.Replace(text, @"\p{L}+", m =>
                {
                    var word = m.Value.ToLowerInvariant();
                    if (called.Contains(word))
                        return word;
                    if (words.TryGetValue(word, out var known))
                        return known;
                    var (number, made) = (words.Count, "");
                    for (var i = 0; i < 5; i++, number /= letters.Length)
                        made += letters[number % letters.Length];
                    return words[word] = made;
                });
            return bound with
            {
                Tags = bound
                    .Tags.Values.OrderBy(t => t.Id)
                    .Select(t => t with { Name = Text(t.Name), Description = Text(t.Description) })
                    .ToImmutableDictionary(t => t.Id),
            };
        }
        Proposed(Renamed("жшщю")).ShouldBe(Proposed(Renamed("цфыэ")), ignoreOrder: true);
    }

    // The aim is that no plant loses anything (docs/performance.md says how many do); of these sixteen one loses eight cells.
    [Fact]
    public void A_right_example_more_adds_nothing_wrong_and_hardly_any_plant_loses_by_it()
    {
        var losing = new List<string>();
        foreach (var seed in Enumerable.Range(81_000, 16))
        {
            var plant = GrammarPlant.Make(seed).Plant;
            var two = ProposalScore.Bound(plant, 2);
            var (before, after) = (Plainly(seed, 1), Proposed(two));
            bool IsRight((long Cell, long Property, long Tag) p) => plant.Truth.GetValueOrDefault((p.Cell, p.Property)) == p.Tag;
            var lost = before.Where(IsRight).Except(after).Count(p => !two.Bindings.ContainsKey((p.Cell, p.Property)));
            if (lost > Math.Max(1, before.Count / 100))
                losing.Add($"{seed}: {lost} of {before.Count}");
            after.Where(p => !IsRight(p)).Except(before).ShouldBeEmpty($"seed {seed}");
        }
        losing.Count.ShouldBeLessThanOrEqualTo(1, string.Join("; ", losing));
    }

    [Theory]
    [MemberData(nameof(Seeds))]
    public void Whichever_instance_is_the_example_what_is_proposed_is_right(int seed)
    {
        var plant = GrammarPlant.Make(seed).Plant;
        var random = new Random(seed);
        for (var turn = 0; turn < 3; turn++)
        {
            var bound = plant.Model with
            {
                Bindings = plant.Model.Bindings.AddRange(
                    plant
                        .Model.Templates.Keys.Select(t => plant.Model.Index.InstancesOf(t).ToArray())
                        .Select(i => i[random.Next(i.Length)])
                        .SelectMany(e => plant.Truth.Where(t => t.Key.EquipmentId == e.Id))
                        .Select(t => KeyValuePair.Create(t.Key, new PropertyBinding(t.Key.EquipmentId, t.Key.PropertyId, t.Value)))
                ),
            };
            var proposed = Proposed(bound);
            var wrong = proposed.Count(p => plant.Truth.GetValueOrDefault((p.Cell, p.Property)) != p.Tag);
            wrong.ShouldBeLessThanOrEqualTo(proposed.Count / 100);
        }
    }

    /// <summary>What is proposed for a plant as it is, worked out once for all tests.</summary>
    private static IReadOnlyList<(long Cell, long Property, long Tag)> Plainly(int seed, int examples) =>
        Known.GetOrAdd((seed, examples), _ => new(() => Proposed(ProposalScore.Bound(GrammarPlant.Make(seed).Plant, examples)))).Value;

    private static readonly ConcurrentDictionary<(int, int), Lazy<IReadOnlyList<(long, long, long)>>> Known = new();

    private static IReadOnlyList<(long Cell, long Property, long Tag)> Proposed(PlantModel model) =>
        [
            .. Proposer
                .Propose(new(model))
                .Proposals.Where(p => p.Kind == ProposalKind.Proposed)
                .Select(p => (p.EquipmentId, p.PropertyId, p.TagId!.Value)),
        ];
}
