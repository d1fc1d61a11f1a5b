using Fralto.Core.Basics;
using Fralto.Core.Notices;
using Fralto.Core.Plant;

namespace Fralto.Core.Rules;

/// <summary>What makes the lists of who is told, the mail server and the languages of messages wrong.</summary>
public static class NoticeRules
{
    private const int MostLists = 200;
    private const int MostAddresses = 50;
    private const int LongestAddress = 254;
    private const int MostLanguages = 10;
    private const int MostRepeats = 100;
    private const int MostLogDays = 3660;
    private static readonly TimeSpan ShortestWait = TimeSpan.FromMinutes(1),
        LongestWait = TimeSpan.FromDays(7);

    /// <summary>What is wrong, by field.</summary>
    public static IEnumerable<Problem> Problems(AlarmSetup setup)
    {
        if (setup.LogDays is < 1 or > MostLogDays)
            yield return new("LogDays", $"The log is kept 1 to {MostLogDays} days, not {setup.LogDays}.");
        if (setup.Languages.Length > MostLanguages)
            yield return new("Languages", $"There are at most {MostLanguages} languages.");
        foreach (var language in setup.Languages.Where(l => !IsLanguage(l)))
            yield return new("Languages", $"'{language}' is no language; write its code, such as en, de or pt-BR (BCP 47).");
        if (setup.Languages.GroupBy(l => l, StringComparer.OrdinalIgnoreCase).FirstOrDefault(g => g.Skip(1).Any()) is { } same)
            yield return new("Languages", $"{same.Key} stands there twice.");
        if (setup.Lists.Length > MostLists)
            yield return new("Lists", $"There are at most {MostLists} lists.");
        if (setup.Lists.GroupBy(l => l.Name, StringComparer.OrdinalIgnoreCase).FirstOrDefault(g => g.Skip(1).Any()) is { } twice)
            yield return new("Name", $"Two lists are called {twice.Key}.");
        foreach (var problem in setup.Lists.SelectMany(l => Problems(setup, l)))
            yield return problem;
        if (setup.Mail is { } mail)
            foreach (var problem in Problems(mail))
                yield return problem;
    }

    private static IEnumerable<Problem> Problems(AlarmSetup setup, NoticeList list)
    {
        if (Naming.NameProblem(list.Name) is { } wrong)
            yield return new("Name", wrong);
        if (list.Addresses.IsEmpty || list.Addresses.Length > MostAddresses)
            yield return new("Addresses", $"{list.Name}: give 1 to {MostAddresses} addresses.");
        foreach (var address in list.Addresses.Where(a => !IsAddress(a)))
            yield return new("Addresses", $"{list.Name}: '{address}' is no mail address.");
        if (list.Priorities.Any(p => p is < 1 or > 4))
            yield return new("Priorities", $"{list.Name}: priorities are 1 to 4.");
        if (list.Label is { } label && label.Split('=') is not [{ Length: > 0 }, { Length: > 0 }])
            yield return new("Label", $"{list.Name}: a label is written key=value.");
        if (list.From is null != list.Until is null)
            yield return new("From", $"{list.Name}: say when its hours begin and when they end, or neither.");
        if (list.RepeatAfter is { } repeat && (repeat < ShortestWait || repeat > LongestWait))
            yield return new("RepeatAfter", $"{list.Name}: it is told again after 1 min to 7 d.");
        if (list.Repeats is < 1 or > MostRepeats)
            yield return new("Repeats", $"{list.Name}: it is told again 1 to {MostRepeats} times.");
        if (list.EscalateAfter is { } escalate && (escalate < ShortestWait || escalate > LongestWait))
            yield return new("EscalateAfter", $"{list.Name}: another list is told after 1 min to 7 d.");
        if (list.EscalateAfter is null != list.EscalateTo is null)
            yield return new("EscalateTo", $"{list.Name}: say which list is told then, and after what time.");
        else if (list.EscalateTo is { } to && (to == list.Name || setup.Lists.All(l => l.Name != to)))
            yield return new("EscalateTo", $"{list.Name}: there is no other list {to}.");
        if (list.Language is { } language && !IsLanguage(language))
            yield return new("Language", $"{list.Name}: '{language}' is no language; write its code, such as de.");
    }

    private static IEnumerable<Problem> Problems(MailServer mail)
    {
        if (Uri.CheckHostName(mail.Host) == UriHostNameType.Unknown)
            yield return new("Host", $"'{mail.Host}' is no name or address of a server.");
        if (mail.Port is < 1 or > 65535)
            yield return new("Port", "A port is 1 to 65535.");
        if (!IsAddress(mail.From))
            yield return new("MailFrom", $"'{mail.From}' is no mail address.");
        if (mail.User is { } user && (user.Length is 0 or > LongestAddress || user.Any(char.IsControl)))
            yield return new("User", $"A user has 1 to {LongestAddress} characters.");
    }

    /// <summary>True for what RFC 5321 calls a mailbox, without quoted names and addresses in brackets.</summary>
    private static bool IsAddress(string text) =>
        text.Length <= LongestAddress
        && text.Split('@') is [{ Length: > 0 and <= 64 } name, { Length: > 0 } host]
        && name.All(c => char.IsAsciiLetterOrDigit(c) || "!#$%&'*+-/=?^_`{|}~.".Contains(c, StringComparison.Ordinal))
        && host.Split('.').All(l => l.Length is > 0 and <= 63 && l.All(c => char.IsLetterOrDigit(c) || c == '-'));

    private static bool IsLanguage(string text) =>
        text.Split('-') is [{ Length: 2 or 3 }, ..] parts && parts.All(p => p.Length is >= 1 and <= 8 && p.All(char.IsAsciiLetterOrDigit));
}
