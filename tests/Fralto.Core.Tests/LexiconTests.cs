using System.Collections.Immutable;
using CsCheck;
using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.NamingRules;
using Fralto.Core.Proposals;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>What tags are called, looked up part by part.</summary>
public sealed class LexiconTests
{
    /// <summary>Few words and numbers, some of which begin like others, so that much begins alike.</summary>
    private static readonly string[] Parts = ["a", "ab", "b", "tank", "1", "10", "101", "2", "12"];
    private static readonly Gen<string> Part = Gen.Int[0, 8].Select(i => Parts[i]);
    private static readonly Gen<string> Name = Part.List[1, 5].Select(parts => string.Join('_', parts));

    [Fact]
    public void What_is_narrowed_part_by_part_are_the_names_that_begin_so() =>
        Gen.Select(Name.List[1, 40], Part.List[1, 4])
            .Sample(
                (names, parts) =>
                {
                    var lexicon = new TagLexicon(
                        names.Distinct().Select((name, i) => TagOf(i + 1, name)).ToImmutableDictionary(t => t.Id),
                        takesText: false
                    );
                    var keys = names.Select(n => NameToken.KeyOf(n)).Distinct(StringComparer.Ordinal).ToArray();
                    var stretch = lexicon.AllOf(TagFace.Name);
                    var written = new KeyWriter(new char[256]);
                    foreach (var part in parts)
                    {
                        var key = NameToken.KeyOf(part);
                        written.Add(key);
                        if (!stretch.IsEmpty)
                            stretch = lexicon.Narrow(TagFace.Name, stretch, key);
                        var start = written.ToString();
                        (stretch.To - stretch.From).ShouldBe(
                            keys.Count(k => k.StartsWith(start, StringComparison.Ordinal)),
                            $"{start} of {string.Join(", ", keys)}"
                        );
                    }
                },
                iter: 2000
            );

    private static Tag TagOf(long id, string name) =>
        new(id, 1, name, new ModbusAddress(RegisterArea.HoldingRegister, 0), RawType.Int16, WordOrder.HighFirst, "");
}
