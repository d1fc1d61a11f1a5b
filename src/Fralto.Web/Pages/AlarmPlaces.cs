namespace Fralto.Web.Pages;

/// <summary>The head of the alarm pages: which of them, and with which filter one goes from one to the other.</summary>
/// <param name="Here">The page: now, load, log, limits or rules.</param>
/// <param name="Query">The filter.</param>
public sealed record AlarmPlaces(string Here, AlarmQuery Query)
{
    /// <summary>The pages, with their addresses.</summary>
    public IEnumerable<(string Name, string Words, string Address)> Pages =>
        [
            ("now", "Now", Query.AddressOf("/alarms")),
            ("load", "Load", Query.AddressOf("/alarms/load")),
            ("log", "Log", Query.AddressOf("/alarms/log")),
            ("limits", "Limits", "/alarms/limits"),
            ("told", "Who is told", "/alarms/told"),
            ("rules", "Rules", "/alarms/rules"),
            ("responses", "Responses", "/alarms/responses"),
        ];
}
