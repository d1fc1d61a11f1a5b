using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Scaling;
using Fralto.Web.Forms;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The rules by which alarms are shelved, a line each.</summary>
public sealed class AlarmsRulesModel : FraltoPage
{
    /// <summary>How many limits go by a rule.</summary>
    public int UsesOf(ShelvingRule rule) =>
        Model
            .Templates.Values.SelectMany(t => t.Patches.Values)
            .Concat(Model.Equipment.Values.Where(e => !e.Patches.IsEmpty).SelectMany(e => e.Patches.Values))
            .Sum(p => p.Limits.Values.Concat(p.Others.Values).Count(l => rule.Name.Equals(l.Shelving, StringComparison.OrdinalIgnoreCase)));

    public void OnGet() =>
        Form = FormState.Of(
            ("Rules", string.Join('\n', Model.ShelvingRules.Select(Line))),
            ("Languages", string.Join(", ", Model.AlarmSetup.Languages)),
            ("LogDays", Model.AlarmSetup.LogDays)
        );

    /// <summary>True where the form of languages and log is answered.</summary>
    public bool IsOfSetup { get; private set; }

    public IActionResult OnPostSetup()
    {
        var reader = new FormReader(Request.Form);
        var languages = reader.Text("Languages").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        var days = reader.Whole("LogDays", "how many days the log is kept");
        IsOfSetup = true;
        return Do(new SaveAlarmSetup([.. languages], days), reader, _ => RedirectToPage(), Page);
    }

    /// <summary>Keeps the language somebody reads messages in.</summary>
    /// <param name="language">The language.</param>
    /// <param name="back">The page to go back to.</param>
    public IActionResult OnPostLanguage(string? language, string? back)
    {
        if (language is null || !Model.AlarmSetup.Languages.Contains(language, StringComparer.OrdinalIgnoreCase))
        {
            Refusal = $"No message is written in '{language}'.";
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            OnGet();
            return Page();
        }
        Response.Cookies.Append(
            MessageLanguage.Cookie,
            language,
            new()
            {
                MaxAge = TimeSpan.FromDays(365),
                SameSite = SameSiteMode.Strict,
                HttpOnly = true,
            }
        );
        return Url.IsLocalUrl(back) ? LocalRedirect(back) : RedirectToPage("/Alarms");
    }

    public IActionResult OnPostSave()
    {
        var reader = new FormReader(Request.Form);
        var rules = new List<ShelvingRule>();
        foreach (var line in reader.Text("Rules").Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
            if (Read(line) is { } rule)
                rules.Add(rule);
            else
                reader.Refuse(
                    "Rules",
                    $"'{line}' is no rule; write its name, the longest time and those that are offered: One shift: 8 h; 15 min, 1 h."
                );
        return Do(new SaveShelvingRules([.. rules]), reader, _ => RedirectToPage(), Page);
    }

    private static string Line(ShelvingRule rule) => $"{rule.Name}: {Text(rule.Longest)}; {string.Join(", ", rule.Presets.Select(Text))}";

    private static string Text(TimeSpan time) =>
        time.TotalHours >= 1 && time.TotalHours % 1 == 0
            ? string.Create(CultureInfo.InvariantCulture, $"{time.TotalHours} h")
            : string.Create(CultureInfo.InvariantCulture, $"{time.TotalMinutes} min");

    private static ShelvingRule? Read(string line)
    {
        if (line.LastIndexOf(':') is not (> 0 and var colon))
            return null;
        var parts = line[(colon + 1)..].Split(';', StringSplitOptions.TrimEntries);
        if (parts.Length is < 1 or > 2 || Time(parts[0]) is not { } longest)
            return null;
        var presets = (parts.Length == 2 ? parts[1].Split(',', StringSplitOptions.TrimEntries) : [parts[0]]).Select(Time).ToArray();
        return presets.Any(p => p is null) ? null : new(line[..colon].Trim(), longest, [.. presets.Select(p => p!.Value)]);
    }

    private static TimeSpan? Time(string text)
    {
        var (number, unit) = text.Split(' ', StringSplitOptions.RemoveEmptyEntries) is [var n, var u] ? (n, u) : (text, "min");
        var minutes =
            FieldText.Number(number, out _)
            * unit switch
            {
                "min" => 1.0,
                "h" => 60,
                "d" => 1440,
                _ => double.NaN,
            };
        return minutes is > 0 and < 1e6 ? TimeSpan.FromMinutes(minutes.Value) : null;
    }
}
