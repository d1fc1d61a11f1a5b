using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;

namespace Fralto.Web.Forms;

/// <summary>The fields of a controller and its connection, in and out of a form.</summary>
public static class ConnectionFields
{
    /// <summary>Stands in the password field for a password that is kept and not shown.</summary>
    public const string HiddenPassword = "••••••••";

    private static readonly (string Unit, double Milliseconds)[] Spans = [("ms", 1), ("s", 1000), ("min", 60_000), ("h", 3_600_000)];

    /// <summary>Reads the edit a form asks for.</summary>
    public static SaveController Read(FormReader reader, long? id)
    {
        var (rules, problems) = (reader.Choice<Protocol>("Protocol").Rules(), new List<Problem>());
        var entry = new ConnectionEntry();
        foreach (var field in rules.Fields)
            entry = field.Read(entry, reader.Text(field.Name, field.Longest), problems);
        foreach (var problem in problems)
            reader.Refuse(problem.Field, problem.Message);
        var interval =
            rules.Interval is null || rules.IsPushed && reader.Text("UpdateIntervalMs").Length == 0
                ? 0
                : reader.Whole("UpdateIntervalMs", "the update interval in ms");
        return new(id, reader.Text("Name"), rules.Read(entry), interval, ReadClasses(reader));
    }

    /// <summary>The fields of a controller as a form shows them.</summary>
    public static FormState Of(Controller controller, bool hasPassword) =>
        FormState.Of([
            ("Id", controller.Id),
            ("Name", controller.Name),
            ("UpdateIntervalMs", controller.UpdateInterval.TotalMilliseconds),
            ("UpdateClasses", Write(controller.UpdateClasses)),
            .. Of(controller.Connection, hasPassword),
        ]);

    /// <summary>What a form for a new controller begins with.</summary>
    public static FormState New(ProtocolRules rules) =>
        FormState.Of([.. Of(rules.New, hasPassword: false), ("UpdateIntervalMs", rules.IsPushed || rules.Interval is null ? null : 1000)]);

    private static IEnumerable<(string, object?)> Of(Connection connection, bool hasPassword)
    {
        var entry = connection.Written(new ConnectionEntry());
        return connection
            .Protocol.Rules()
            .Fields.Select(field =>
                (
                    field.Name,
                    (object?)(
                        field.Kind == ConnectionFieldKind.Password
                            ? hasPassword
                                ? HiddenPassword
                                : ""
                            : field.Show(entry)
                    )
                )
            )
            .Append(("Protocol", connection.Protocol));
    }

    /// <summary>Update classes in words: a line each, name and interval.</summary>
    public static string Write(ImmutableArray<UpdateClass> classes) =>
        string.Join(
            '\n',
            classes.Select(c =>
            {
                var span = Spans.Last(s =>
                    c.Interval.TotalMilliseconds % s.Milliseconds == 0 && c.Interval.TotalMilliseconds >= s.Milliseconds
                    || s.Milliseconds == 1
                );
                return string.Create(
                    CultureInfo.InvariantCulture,
                    $"{c.Name} {c.Interval.TotalMilliseconds / span.Milliseconds} {span.Unit}"
                );
            })
        );

    private static ImmutableArray<UpdateClass> ReadClasses(FormReader reader)
    {
        var classes = ImmutableArray.CreateBuilder<UpdateClass>();
        foreach (
            var line in reader
                .Text("UpdateClasses")
                .ReplaceLineEndings("\n")
                .Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
        )
        {
            var words = line.Split(' ', StringSplitOptions.RemoveEmptyEntries);
            var span = Spans.FirstOrDefault(s => words is [_, _, var unit] && s.Unit.Equals(unit, StringComparison.OrdinalIgnoreCase));
            if (
                words is [var name, var number, _]
                && span.Unit is not null
                && FieldText.Number(number, out _) is { } many
                && many > 0
                && many < 1e6
            )
                classes.Add(new(name, TimeSpan.FromMilliseconds(many * span.Milliseconds)));
            else
                reader.Refuse("UpdateClasses", $"'{line}' is no update class; write a name, a number and ms, s, min or h, as in: slow 5 s");
        }
        return classes.ToImmutable();
    }
}
