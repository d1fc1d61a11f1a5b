using System.Globalization;
using Fralto.Core.Basics;

namespace Fralto.Core.Controllers;

/// <summary>One field of a connection as a person fills it in: how it is asked for, read and shown.</summary>
/// <param name="Name">Name of the field; problems name it.</param>
/// <param name="Label">What it is called.</param>
/// <param name="Kind">What it holds.</param>
/// <param name="Show">Its text in an entry; null for none.</param>
/// <param name="Take">The entry with what was written; null in place of the text for what is usual.</param>
public sealed record ConnectionField(
    string Name,
    string Label,
    ConnectionFieldKind Kind,
    Func<ConnectionEntry, string?> Show,
    Func<ConnectionEntry, string?, ConnectionEntry> Take
)
{
    /// <summary>The longest text of a field that is not said otherwise, in characters.</summary>
    public const int UsualLength = 200;

    /// <summary>What helps to fill it in; empty for nothing.</summary>
    public string Hint { get; init; } = "";

    /// <summary>What holds when it is left empty; null where it must be filled in.</summary>
    public string? Otherwise { get; init; }

    /// <summary>What can be chosen, where it is a choice.</summary>
    public IReadOnlyList<(string Value, string Text)> Options { get; init; } = [];

    /// <summary>Longest text, in characters.</summary>
    public int Longest { get; init; } = UsualLength;

    /// <summary>True when it is asked for after the update interval, among what few ever change.</summary>
    public bool IsFurther { get; init; }

    /// <summary>A field for a line of text.</summary>
    public static ConnectionField Text(
        string name,
        string label,
        Func<ConnectionEntry, string?> show,
        Func<ConnectionEntry, string?, ConnectionEntry> take
    ) => new(name, label, ConnectionFieldKind.Text, show, take);

    /// <summary>A field for a whole number.</summary>
    public static ConnectionField Whole(
        string name,
        string label,
        Func<ConnectionEntry, int?> show,
        Func<ConnectionEntry, int?, ConnectionEntry> take
    ) =>
        new(
            name,
            label,
            ConnectionFieldKind.Whole,
            e => show(e)?.ToString(CultureInfo.InvariantCulture),
            (e, text) => take(e, text is null ? null : int.Parse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture))
        );

    private string InSentence => Label.Length > 1 && char.IsUpper(Label[1]) ? Label : char.ToLowerInvariant(Label[0]) + Label[1..];

    /// <summary>The entry with what a person has written in the field.</summary>
    /// <param name="entry">The entry.</param>
    /// <param name="text">What was written.</param>
    /// <param name="problems">Takes what is wrong with it; the entry is given back as it is then.</param>
    public ConnectionEntry Read(ConnectionEntry entry, string text, ICollection<Problem> problems)
    {
        if (text.Length > Longest)
            problems.Add(new(Name, $"The text has {text.Length} characters; {Longest} is the most."));
        else if (text.Length == 0 && (Kind != ConnectionFieldKind.Whole || Otherwise is not null))
            return Take(entry, null);
        else if (
            Kind == ConnectionFieldKind.Whole
            && !int.TryParse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out _)
        )
            problems.Add(new(Name, text.Length == 0 ? $"Give the {InSentence}: a whole number." : $"'{text}' is no whole number."));
        else if (Kind == ConnectionFieldKind.Choice && Options.All(o => o.Value != text))
            problems.Add(new(Name, $"Choose one of {string.Join(", ", Options.Select(o => o.Text))}."));
        else
            return Take(entry, text);
        return entry;
    }
}
