using System.Globalization;
using Fralto.Core.Alarms;
using Fralto.Core.Limits;
using Fralto.Runtime.Views;

namespace Fralto.Web.Pages;

/// <summary>What the address of the alarm pages says: which alarms, and the one that is open.</summary>
public sealed class AlarmQuery
{
    /// <summary>The cookie that keeps what somebody calls his own area.</summary>
    public const string AreaCookie = "fralto-area";

    /// <summary>The places, by id.</summary>
    public long[] Place { get; set; } = [];

    /// <summary>The labels, key=value.</summary>
    public string[] Label { get; set; } = [];

    /// <summary>The priorities.</summary>
    public int[] Priority { get; set; } = [];

    /// <summary>Only what nobody has acknowledged.</summary>
    public bool New { get; set; }

    /// <summary>How they stand.</summary>
    public AlarmOrder Order { get; set; }

    /// <summary>The alarm that is open.</summary>
    public string? At { get; set; }

    /// <summary>The labels one by one; several may be typed with commas between them.</summary>
    public IReadOnlyList<string> Labels =>
        [.. Label.SelectMany(l => (l ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))];

    /// <summary>Which alarms.</summary>
    public AlarmFilter Filter =>
        new()
        {
            Places = Place,
            Labels = Labels,
            Priorities = Priority,
            OnlyUnacknowledged = New,
        };

    /// <summary>True while all alarms are asked for.</summary>
    public bool IsAll => Place.Length == 0 && Labels.Count == 0 && Priority.Length == 0 && !New && Order == AlarmOrder.Process;

    /// <summary>The filter as the query of an address, with nothing in front.</summary>
    public string Text =>
        string.Join(
            '&',
            Place
                .Select(p => string.Create(CultureInfo.InvariantCulture, $"place={p}"))
                .Concat(Labels.Select(l => $"label={Uri.EscapeDataString(l)}"))
                .Concat(Priority.Select(p => string.Create(CultureInfo.InvariantCulture, $"priority={p}")))
                .Concat(New ? ["new=true"] : [])
                .Concat(Order == AlarmOrder.Process ? [] : [$"order={Order.ToString().ToLowerInvariant()}"])
        );

    /// <summary>An address with the filter.</summary>
    /// <param name="path">The page.</param>
    /// <param name="at">The alarm that is open there; null for none.</param>
    public string AddressOf(string path, string? at = null) => Address(path, Text, at);

    /// <summary>An address with one more or one fewer of a label.</summary>
    public string WithLabel(string label) =>
        Other(q => q.Label = Label.Contains(label) ? [.. Label.Where(l => l != label)] : [.. Label, label]);

    /// <summary>An address with one more or one fewer of a priority.</summary>
    public string WithPriority(int priority) =>
        Other(q => q.Priority = Priority.Contains(priority) ? [.. Priority.Where(p => p != priority)] : [.. Priority, priority]);

    /// <summary>An address with only what nobody has acknowledged, or with all.</summary>
    public string WithNew => Other(q => q.New = !New);

    /// <summary>An address with the same alarms in another order.</summary>
    public string WithOrder(AlarmOrder order) => Other(q => q.Order = order);

    /// <summary>An address without one of the places.</summary>
    public string WithoutPlace(long place) => Other(q => q.Place = [.. Place.Where(p => p != place)]);

    private string Other(Action<AlarmQuery> change)
    {
        var other = new AlarmQuery
        {
            Place = Place,
            Label = Label,
            Priority = Priority,
            New = New,
            Order = Order,
        };
        change(other);
        return other.AddressOf("/alarms");
    }

    private static string Address(string path, string text, string? at)
    {
        var query = string.Join('&', new[] { text, at is null ? "" : $"at={Uri.EscapeDataString(at)}" }.Where(t => t.Length > 0));
        return query.Length == 0 ? path : $"{path}?{query}";
    }

    /// <summary>The key of an alarm as addresses say it; null when it is none.</summary>
    public static AlarmKey? KeyOf(string? text) =>
        text?.Split('.') is [var e, var p, var c]
        && long.TryParse(e, NumberStyles.None, CultureInfo.InvariantCulture, out var equipment)
        && long.TryParse(p, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var property)
        && Enum.TryParse<LimitCondition>(c, out var condition)
        && Enum.IsDefined(condition)
        && !char.IsAsciiDigit(c[0])
            ? new(equipment, property, condition)
            : null;
}
