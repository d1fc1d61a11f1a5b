using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Scaling;

namespace Fralto.Web.Forms;

/// <summary>Reads the fields of a posted form and collects what is wrong with their text, so that nothing typed is lost.</summary>
public sealed class FormReader(IFormCollection form)
{
    private const int LongestText = 4000;
    private readonly List<Problem> _problems = [];

    /// <summary>True when some field could not be read.</summary>
    public bool HasProblems => _problems.Count > 0;

    /// <summary>True when the form has a field, empty or not.</summary>
    public bool Has(string field) => form.ContainsKey(field);

    /// <summary>Text of a field without spaces around it; empty when it is missing.</summary>
    public string Text(string field, int longest = LongestText)
    {
        var text = form[field].ToString().Trim();
        if (text.Length <= longest)
            return text;
        _problems.Add(new(field, $"The text has {text.Length} characters; {longest} is the most."));
        return text[..longest];
    }

    /// <summary>A whole number; 0 and a problem when the field holds none.</summary>
    public int Whole(string field, string what)
    {
        if (int.TryParse(Text(field), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number))
            return number;
        _problems.Add(new(field, Text(field).Length == 0 ? $"Give {what}: a whole number." : $"'{Text(field)}' is no whole number."));
        return 0;
    }

    /// <summary>A number with a decimal point; null when the field is empty, null and a problem when it holds no number.</summary>
    public double? Number(string field)
    {
        var text = Text(field);
        if (text.Length == 0)
            return null;
        if (FieldText.Number(text, out var problem) is { } number)
            return number;
        _problems.Add(new(field, problem!));
        return null;
    }

    /// <summary>A span by its two ends; null when both fields are empty, null and a problem when something is wrong.</summary>
    /// <param name="low">Field of the lower end.</param>
    /// <param name="high">Field of the upper end.</param>
    /// <param name="what">What the span is of: the range.</param>
    public Span? Ends(string low, string high, string what) =>
        FieldText.Ends(Text(low), Text(high), what, (isHigh, problem) => Refuse(isHigh ? high : low, problem));

    /// <summary>An id; null when the field is empty, null and a problem when it holds none.</summary>
    public long? Id(string field, string problem = "Choose one.")
    {
        var text = Text(field);
        if (text.Length == 0)
            return null;
        if (long.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var id))
            return id;
        _problems.Add(new(field, problem));
        return null;
    }

    /// <summary>The ids of a field sent several times; what is none is a problem.</summary>
    public IEnumerable<long> Ids(string field)
    {
        var ids = new List<long>();
        foreach (var text in form[field])
            if (long.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var id))
                ids.Add(id);
            else
                _problems.Add(new(field, $"'{text}' is none of those that were shown."));
        return ids;
    }

    /// <summary>One of the names of an enumeration; its first and a problem when the field holds none.</summary>
    public T Choice<T>(string field)
        where T : struct, Enum
    {
        var text = Text(field);
        if (Enum.TryParse<T>(text, out var choice) && Enum.IsDefined(choice) && !char.IsAsciiDigit(text[0]))
            return choice;
        _problems.Add(new(field, $"Choose one of {string.Join(", ", Enum.GetNames<T>())}."));
        return default;
    }

    /// <summary>Names of an enumeration that were ticked; what is none of them is a problem.</summary>
    public IEnumerable<T> Choices<T>(string field)
        where T : struct, Enum
    {
        var chosen = new List<T>();
        foreach (var text in form[field])
            if (text is { Length: > 0 } && !char.IsAsciiDigit(text[0]) && Enum.TryParse<T>(text, out var choice) && Enum.IsDefined(choice))
                chosen.Add(choice);
            else
                _problems.Add(new(field, $"Choose among {string.Join(", ", Enum.GetNames<T>())}."));
        return chosen;
    }

    /// <summary>The newest edit when the form was shown; null when the form does not say.</summary>
    public long? Seen =>
        long.TryParse(form[SeenTagHelper.Field], NumberStyles.None, CultureInfo.InvariantCulture, out var seen) ? seen : null;

    /// <summary>Notes something wrong with a field.</summary>
    public void Refuse(string field, string message) => _problems.Add(new(field, message));

    /// <summary>The form as it was sent, with what could not be read and what else is wrong.</summary>
    public FormState State(params IEnumerable<Problem> more) =>
        new(
            form.Where(f => !f.Key.StartsWith("__", StringComparison.Ordinal)).ToImmutableDictionary(f => f.Key, f => f.Value.ToString()),
            [.. _problems, .. more]
        );
}
