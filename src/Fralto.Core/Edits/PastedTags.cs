using System.Collections.Immutable;
using Fralto.Core.Bindings;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Reads tags as they are pasted from a spreadsheet: a line an instance, a tab a property.</summary>
public static class PastedTags
{
    private const int MostProblems = 10;

    /// <summary>The bindings a pasted text asks for, or what is wrong with it.</summary>
    /// <param name="model">The working model.</param>
    /// <param name="text">Lines of tags, parted by tabs; an empty cell is passed over.</param>
    /// <param name="rows">Instances from the first line on.</param>
    /// <param name="columns">Properties from the first column on.</param>
    /// <returns>The bindings, and what is wrong, by line; with something wrong nothing is to be bound.</returns>
    public static (ImmutableArray<BindingLine> Lines, IReadOnlyList<string> Problems) Read(
        PlantModel model,
        string text,
        IReadOnlyList<long> rows,
        IReadOnlyList<long> columns
    )
    {
        var finder = new TagFinder(model);
        var (problems, lines) = (new List<string>(), ImmutableArray.CreateBuilder<BindingLine>());
        var typed = text.ReplaceLineEndings("\n").TrimEnd('\n').Split('\n');
        for (var row = 0; row < typed.Length && problems.Count < MostProblems; row++)
        {
            var names = typed[row].Split('\t');
            for (var column = 0; column < names.Length; column++)
            {
                var name = names[column].Trim();
                if (name.Length == 0)
                    continue;
                if (row >= rows.Count || column >= columns.Count)
                    problems.Add(
                        $"Line {row + 1}: '{name}' lies beyond the {(row >= rows.Count ? "last instance" : "last property")} shown."
                    );
                else if (finder.FindPart(name, out var part, out var problem) is { } tag)
                    lines.Add(new(rows[row], columns[column], tag.Id, part));
                else
                    problems.Add($"Line {row + 1}: {problem}");
            }
        }
        return (lines.ToImmutable(), problems);
    }
}
