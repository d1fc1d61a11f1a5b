using Fralto.Core.Alarms;
using Fralto.Core.Limits;
using Fralto.Core.Plant;

namespace Fralto.Web.Pages;

/// <summary>The language in which somebody reads the messages of alarms: his own choice of those the plant writes, kept in a
/// cookie.</summary>
internal static class MessageLanguage
{
    /// <summary>The cookie that keeps the choice.</summary>
    public const string Cookie = "fralto-language";

    /// <summary>The language somebody has chosen; null for that of the plant.</summary>
    public static string? Of(HttpRequest request, PlantModel model) =>
        request.Cookies[Cookie] is { } chosen && model.AlarmSetup.Languages.Skip(1).Contains(chosen, StringComparer.OrdinalIgnoreCase)
            ? chosen
            : null;

    /// <summary>What an alarm says, in the language its reader has chosen.</summary>
    public static string TextOf(HttpRequest request, PlantModel model, Alarm alarm) =>
        MessageText.In(alarm.Message, alarm.Translations, Of(request, model));
}
