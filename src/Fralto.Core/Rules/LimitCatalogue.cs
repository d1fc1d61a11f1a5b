using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Core.Rules;

/// <summary>Every limit of the plant, once for each layer that says something of it.</summary>
public static class LimitCatalogue
{
    /// <summary>What a limit lacks that says nothing an operator can do.</summary>
    public const string NoAction = "no operator action";

    /// <summary>How what a limit lacks in a language begins.</summary>
    public const string NoMessageIn = "no message in ";

    /// <summary>Lists all limits: those of templates, then what instances say themselves.</summary>
    public static IReadOnlyList<CatalogueLimit> Of(PlantModel model)
    {
        var all = new List<CatalogueLimit>();
        foreach (var template in model.Templates.Values.Where(t => SaysOf(t.Patches.Values)).OrderBy(t => t.Name, StringComparer.Ordinal))
        {
            var reach = model.Index.ReachOf(template.Id);
            foreach (var property in model.Index.PropertiesOf(template.Id).Where(p => SaysOf([p.Own])))
                all.AddRange(RowsOf(model, template, false, template.Name, property, reach));
        }
        foreach (var node in model.Index.EquipmentInOrder.Where(e => !e.Patches.IsEmpty && SaysOf(e.Patches.Values)))
        foreach (var property in model.Index.PropertiesOf(node).Where(p => SaysOf([p.Own])))
            all.AddRange(RowsOf(model, node, true, model.Index.PathOf(node.Id), property, 1));
        var said = all.Where(l => l.Own.Message is { } m && !AlarmText.PlaceholdersOf(m).Any(p => p is "property" or "path"))
            .GroupBy(l => l.Own.Message!, StringComparer.OrdinalIgnoreCase)
            .Where(g => g.Skip(1).Any());
        var again = said.SelectMany(g => g).Select(l => l.Key).ToHashSet();
        return again.Count == 0
            ? all
            : [.. all.Select(l => again.Contains(l.Key) ? l with { Missing = l.Missing.Add("same message twice") } : l)];
    }

    /// <summary>How many alarms of each priority are configured, 1 to 4: each limit once for each instance it holds for.</summary>
    public static int[] Spread(IEnumerable<CatalogueLimit> limits)
    {
        var spread = new int[4];
        foreach (var limit in limits.Where(l => l.Says.Off != true))
            spread[Math.Clamp(limit.Priority, 1, 4) - 1] += limit.Reach;
        return spread;
    }

    private static bool SaysOf(IEnumerable<PropertyPatch> patches) => patches.Any(p => !p.Limits.IsEmpty || !p.Others.IsEmpty);

    private static IEnumerable<CatalogueLimit> RowsOf(
        PlantModel model,
        Entity layer,
        bool isInstance,
        string where,
        ResolvedProperty property,
        int reach
    )
    {
        var unit = model.Units.SymbolOf(property.Facts.Unit);
        var formulas = LimitFormula.Of(property).Where(f => !f.IsGate).ToDictionary(f => f.Code, StringComparer.OrdinalIgnoreCase);
        foreach (
            var (code, own) in property
                .Own.Limits.Select(l => (l.Key.Letters(), l.Value))
                .Concat(property.Own.Others.Select(o => (o.Key, o.Value)))
        )
        {
            var level = LimitConditions.Find(code);
            var says = level is { } condition ? property.Facts.Limits[condition] : property.Facts.Others[code];
            var words =
                says.Off == true ? "taken away here"
                : formulas.TryGetValue(code, out var formula) ? formula.Words(unit)
                : $"{code} {says.Setpoint?.ToString("0.######", CultureInfo.InvariantCulture) ?? "?"} {unit}".TrimEnd();
            yield return new(
                layer.Id,
                isInstance,
                where,
                property.Id,
                property.Name,
                code,
                says,
                own,
                words,
                reach,
                [
                    .. says.Off == true ? [] : MissingIn(property.Facts, code, level, says),
                    .. says.Off == true ? [] : Untranslated(model, says),
                ]
            );
        }
    }

    /// <summary>The languages of the plant in which a message is not written.</summary>
    private static IEnumerable<string> Untranslated(PlantModel model, LimitPatch says) =>
        string.IsNullOrWhiteSpace(says.Message)
            ? []
            : model
                .AlarmSetup.Languages.Skip(1)
                .Where(l =>
                    !MessageText.TranslationsOf(says.Translations ?? "").Any(t => t.Language.Equals(l, StringComparison.OrdinalIgnoreCase))
                )
                .Select(l => $"{NoMessageIn}{l}");

    private static IEnumerable<string> MissingIn(PropertyPatch facts, string code, LimitCondition? level, LimitPatch says)
    {
        if (string.IsNullOrWhiteSpace(says.Action))
            yield return NoAction;
        if (string.IsNullOrWhiteSpace(says.Consequence))
            yield return "no consequence";
        if (says.RespondSeconds is null)
            yield return "no time to respond";
        else if ((says.OnDelay ?? 0) > says.RespondSeconds / 2)
            yield return "delay eats the time to respond";
        var isNumber = level is not null || says.Kind is LimitKind.Deviation or LimitKind.Rate;
        if (isNumber && facts.DeadbandOf(says) == 0)
            yield return "no deadband";
        if (isNumber && (says.OnDelay ?? 0) == 0)
            yield return "no on-delay";
        if (
            level is { } its
            && says.Setpoint is { } setpoint
            && facts.Limits.Any(l => l.Key != its && l.Key.IsHigh() == its.IsHigh() && l.Value.Off != true && l.Value.Setpoint == setpoint)
        )
            yield return "setpoint twice";
        if (
            says.Kind is not null
            && facts.Others.Any(o =>
                o.Key != code
                && (o.Value.Kind, o.Value.From, o.Value.Setpoint, o.Value.WindowSeconds)
                    == (says.Kind, says.From, says.Setpoint, says.WindowSeconds)
            )
        )
            yield return "condition twice";
    }
}
