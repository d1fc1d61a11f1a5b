using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Web.Live;

namespace Fralto.Web.Forms;

/// <summary>The fields of a limit: of its form, and of one field that is set for many.</summary>
public static class LimitFields
{
    /// <summary>What a limit may look at, for a property of a type.</summary>
    public static IEnumerable<(string Value, string Text)> Kinds(PropertyType type) =>
        type.IsNumeric()
            ?
            [
                (nameof(LimitKind.Deviation), "deviation from another property"),
                (nameof(LimitKind.Rate), "rate of change"),
                (nameof(LimitKind.NoChange), "no change"),
                (nameof(LimitKind.BadQuality), "Bad quality"),
                (nameof(LimitKind.Formula), "a formula is true"),
            ]
            :
            [
                (nameof(LimitKind.StateIs), "the state is"),
                (nameof(LimitKind.StateIsNot), "the state is not"),
                (nameof(LimitKind.NoChange), "no change"),
                (nameof(LimitKind.BadQuality), "Bad quality"),
                (nameof(LimitKind.Formula), "a formula is true"),
            ];

    /// <summary>How an alarm behaves.</summary>
    public static IEnumerable<(string Value, string Text)> Behaviours { get; } =
    [
        ("", "as inherited"),
        ("lasting", "lasting: until the condition clears"),
        ("momentary", "momentary: an event to acknowledge"),
        ("latched", "latched: until it is reset"),
    ];

    /// <summary>Yes, no, or what is inherited.</summary>
    public static IEnumerable<(string Value, string Text)> YesNo { get; } = [("", "as inherited"), ("yes", "yes"), ("no", "no")];

    /// <summary>The priorities; an empty one is what is inherited.</summary>
    public static IEnumerable<(string Value, string Text)> Priorities(LimitPatch inherited) =>
        [("", $"({inherited.Priority ?? Limit.DefaultPriority})"), ("1", "1 highest"), ("2", "2"), ("3", "3"), ("4", "4 lowest")];

    /// <summary>The rules of shelving to choose from; an empty one is what is inherited.</summary>
    public static IEnumerable<(string Value, string Text)> Rules(PlantModel model, LimitPatch inherited) =>
        model.ShelvingRules.Select(r => (r.Name, r.Name)).Prepend(("", $"({model.ShelvingRuleOf(inherited).Name})"));

    /// <summary>The form filled from what a layer says.</summary>
    public static IEnumerable<(string, object?)> Of(string code, LimitPatch says) =>
        [
            ("Code", code),
            ("Kind", says.Kind?.ToString()),
            ("Off", says.Off == true ? "yes" : ""),
            ("Setpoint", ValueText.Plain(says.Setpoint)),
            ("From", says.From),
            ("WindowSeconds", ValueText.Plain(says.WindowSeconds)),
            ("Deadband", ValueText.Plain(says.Deadband)),
            ("DeadbandPercent", ValueText.Plain(says.DeadbandPercent)),
            ("Priority", says.Priority),
            ("OnDelay", ValueText.Plain(says.OnDelay)),
            ("OffDelay", ValueText.Plain(says.OffDelay)),
            ("Class", says.Class),
            ("Message", says.Message),
            ("Cause", says.Cause),
            ("Consequence", says.Consequence),
            ("Action", says.Action),
            ("RespondSeconds", ValueText.Plain(says.RespondSeconds)),
            ("Document", says.Document),
            (
                "Behaviour",
                says.Momentary == true ? "momentary"
                : says.Latched == true ? "latched"
                : says.Latched == false ? "lasting"
                : ""
            ),
            (
                "Acknowledged",
                says.NoAcknowledgement is { } no
                    ? no
                        ? "no"
                        : "yes"
                    : ""
            ),
            ("ClearsAfter", ValueText.Plain(says.ClearsAfter)),
            ("CountsWhile", says.CountsWhile),
            ("CountsAfter", ValueText.Plain(says.CountsAfter)),
            (
                "AlwaysNews",
                says.AlwaysNews is { } news
                    ? news
                        ? "yes"
                        : "no"
                    : ""
            ),
            ("Shelving", says.Shelving),
            ("Responses", says.Responses),
            ("Capture", says.Capture),
            ("Translations", says.Translations),
        ];

    /// <summary>What the form says; an empty field says nothing.</summary>
    /// <param name="reader">The posted form.</param>
    /// <param name="isLevel">True for one of the four levels, which has no kind of its own.</param>
    public static LimitPatch Read(FormReader reader, bool isLevel)
    {
        if (reader.Text("Off") == "yes")
            return new(Off: true);
        return new(
            reader.Number("Setpoint"),
            reader.Number("Deadband"),
            PriorityOf(reader, "Priority"),
            null,
            reader.Number("OnDelay"),
            reader.Number("OffDelay")
        )
        {
            Kind = isLevel || reader.Text("Kind").Length == 0 ? null : reader.Choice<LimitKind>("Kind"),
            From = TextOf(reader, "From"),
            WindowSeconds = reader.Number("WindowSeconds"),
            DeadbandPercent = reader.Number("DeadbandPercent"),
            Class = TextOf(reader, "Class"),
            Message = TextOf(reader, "Message"),
            Cause = TextOf(reader, "Cause"),
            Consequence = TextOf(reader, "Consequence"),
            Action = TextOf(reader, "Action"),
            RespondSeconds = reader.Number("RespondSeconds"),
            Document = TextOf(reader, "Document"),
            Momentary = reader.Text("Behaviour") switch
            {
                "momentary" => true,
                "lasting" or "latched" => false,
                _ => null,
            },
            Latched = reader.Text("Behaviour") switch
            {
                "latched" => true,
                "lasting" or "momentary" => false,
                _ => null,
            },
            NoAcknowledgement = reader.Text("Acknowledged") switch
            {
                "no" => true,
                "yes" => false,
                _ => null,
            },
            ClearsAfter = reader.Number("ClearsAfter"),
            CountsWhile = TextOf(reader, "CountsWhile"),
            CountsAfter = reader.Number("CountsAfter"),
            AlwaysNews = reader.Text("AlwaysNews") switch
            {
                "yes" => true,
                "no" => false,
                _ => null,
            },
            Shelving = TextOf(reader, "Shelving"),
            Responses = TextOf(reader, "Responses"),
            Capture = TextOf(reader, "Capture"),
            Translations = TextOf(reader, "Translations"),
        };
    }

    /// <summary>A limit with one field as a form says it; an empty one takes it away.</summary>
    /// <param name="own">What its layer says.</param>
    /// <param name="field">The field.</param>
    /// <param name="reader">The posted form.</param>
    /// <param name="name">Where in the form it stands.</param>
    public static LimitPatch With(LimitPatch own, string field, FormReader reader, string name) =>
        field switch
        {
            nameof(LimitPatch.Priority) => own with { Priority = PriorityOf(reader, name) },
            nameof(LimitPatch.Class) => own with { Class = TextOf(reader, name) },
            nameof(LimitPatch.DeadbandPercent) => own with { DeadbandPercent = reader.Number(name), Deadband = null },
            nameof(LimitPatch.OnDelay) => own with { OnDelay = reader.Number(name) },
            nameof(LimitPatch.OffDelay) => own with { OffDelay = reader.Number(name) },
            nameof(LimitPatch.RespondSeconds) => own with { RespondSeconds = reader.Number(name) },
            nameof(LimitPatch.Action) => own with { Action = TextOf(reader, name) },
            nameof(LimitPatch.Consequence) => own with { Consequence = TextOf(reader, name) },
            nameof(LimitPatch.Cause) => own with { Cause = TextOf(reader, name) },
            nameof(LimitPatch.Message) => own with { Message = TextOf(reader, name) },
            nameof(LimitPatch.Responses) => own with { Responses = TextOf(reader, name) },
            nameof(LimitPatch.CountsWhile) => own with { CountsWhile = TextOf(reader, name) },
            _ => own with { Shelving = TextOf(reader, name) },
        };

    private static int? PriorityOf(FormReader reader, string name)
    {
        var priority = reader.Number(name);
        if (priority is { } p && p is not (1 or 2 or 3 or 4))
            reader.Refuse(name, "A priority is 1, 2, 3 or 4.");
        return priority is 1 or 2 or 3 or 4 ? (int)priority : null;
    }

    private static string? TextOf(FormReader reader, string name) =>
        reader.Text(name).ReplaceLineEndings("\n") is { Length: > 0 } text ? text : null;
}
