using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Exchange;

/// <summary>The points of a layout as lines of text, as they are typed or pasted from a spreadsheet.</summary>
/// <remarks>A line: name; place; type; order; unit; update class; description. What is left out at the end is empty. Tabs part as well as
/// semicolons.</remarks>
public static class LayoutText
{
    /// <summary>What stands in a line.</summary>
    public const string Columns = "name; place from the base; type; order; unit; update class; description";

    /// <summary>The points some lines say.</summary>
    public static ImmutableArray<LayoutPoint> Parse(string text, UnitSet units, out ImmutableArray<Problem> problems)
    {
        var (points, wrong) = (ImmutableArray.CreateBuilder<LayoutPoint>(), ImmutableArray.CreateBuilder<Problem>());
        var lines = text.ReplaceLineEndings("\n").Split('\n');
        for (var i = 0; i < lines.Length; i++)
        {
            if (string.IsNullOrWhiteSpace(lines[i]))
                continue;
            var cells = lines[i].Split(lines[i].Contains('\t', StringComparison.Ordinal) ? '\t' : ';').Select(c => c.Trim()).ToArray();
            string Cell(int at) => at < cells.Length ? cells[at] : "";
            void Refuse(string message) => wrong.Add(new("Points", $"Line {i + 1}: {message}"));
            if (cells.Length > 7)
                Refuse($"{cells.Length} columns; a line has at most 7: {Columns}.");
            var at = ModbusAddress.Parse(Cell(1), out var problem);
            if (at is null)
                Refuse(problem!);
            else if (at.UnitId is not null)
                Refuse("The unit id is the device's, not the point's.");
            var type = RawTypes.Parse(Cell(2));
            if (type is null)
                Refuse($"'{Cell(2)}' is no type; write one such as int16, float32, bool or int16[8].");
            WordOrder? order = Cell(3).Length == 0 ? WordOrder.HighFirst : null;
            foreach (var known in Enum.GetValues<WordOrder>())
                if (Cell(3).Equals(known.Letters(), StringComparison.OrdinalIgnoreCase))
                    order = known;
            if (order is null)
                Refuse($"'{Cell(3)}' is no order of words and bytes; write ABCD, CDAB, BADC or DCBA.");
            var unit = Cell(4).Length == 0 ? null : units.Match(Cell(4));
            if (Cell(4).Length > 0 && unit is null)
                Refuse(units.Unknown(Cell(4)));
            if (at is not null && type is { } its && order is { } words)
                points.Add(
                    new(
                        0,
                        Cell(0),
                        at.Area,
                        at.Offset,
                        at.Bit,
                        its.Type,
                        words,
                        its.Count,
                        unit?.Code,
                        Cell(5).Length > 0 ? Cell(5) : null,
                        Cell(6)
                    )
                );
        }
        problems = wrong.ToImmutable();
        return points.ToImmutable();
    }

    /// <summary>The lines of some points.</summary>
    public static string Write(IEnumerable<LayoutPoint> points, UnitSet units) =>
        string.Join(
            '\n',
            points.Select(p =>
                string.Join(
                        "; ",
                        new[]
                        {
                            p.Name,
                            new ModbusAddress(p.Area, p.Offset, p.Bit).ToString(),
                            p.Count > 1 ? $"{p.Type.Word()}[{p.Count}]" : p.Type.Word(),
                            p.Type.Words() > 1 || p.WordOrder != WordOrder.HighFirst ? p.WordOrder.Letters() : "",
                            units.SymbolOf(p.Unit),
                            p.UpdateClass ?? "",
                            p.Description,
                        }
                    )
                    .TrimEnd(' ', ';')
            )
        );
}
