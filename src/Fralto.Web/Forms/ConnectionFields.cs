using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Protocols;

namespace Fralto.Web.Forms;

/// <summary>The fields of a controller and its connection, in and out of a form.</summary>
public static class ConnectionFields
{
    /// <summary>Stands in the password field for a password that is kept and not shown.</summary>
    public const string HiddenPassword = "••••••••";

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
        var classes = UpdateClassText.Read(reader.Text("UpdateClasses"), out var wrong);
        if (wrong is not null)
            reader.Refuse("UpdateClasses", wrong);
        return new(id, reader.Text("Name"), rules.Read(entry), interval, classes);
    }

    /// <summary>The fields of a controller as a form shows them.</summary>
    public static FormState Of(Controller controller, bool hasPassword) =>
        FormState.Of([
            ("Id", controller.Id),
            ("Name", controller.Name),
            ("UpdateIntervalMs", controller.UpdateInterval.TotalMilliseconds),
            ("UpdateClasses", UpdateClassText.Of(controller.UpdateClasses)),
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
}
