using Fralto.Core.Edits;
using Fralto.Core.Notices;
using Fralto.Runtime.Notices;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>Who is told of alarms, and through which server.</summary>
public sealed class AlarmsToldModel(AlarmNotifier notifier, LinkKeeping keeping) : FraltoPage
{
    /// <summary>True while a new one is written.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Add { get; set; }

    /// <summary>The list that is open; null for none.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Open { get; set; }

    /// <summary>The list that is open as it is kept; null for a new one.</summary>
    public NoticeList? Known => Model.AlarmSetup.Lists.FirstOrDefault(l => l.Name == Open);

    /// <summary>Places a list can be of, and the one it is of.</summary>
    public IEnumerable<(string Value, string Text)> Places =>
        AllPlaces
            .Concat(Known?.PlaceId is { } kept && Model.Equipment[kept] is { TemplateId: not null } node ? [node] : [])
            .Select(p => (ValueText.Plain(p.Id), PlaceName(p)))
            .Prepend(("", "the whole plant"));

    /// <summary>The lists an alarm can be handed on to.</summary>
    public IEnumerable<(string Value, string Text)> OtherLists =>
        Model.AlarmSetup.Lists.Where(l => l.Name != Open).Select(l => (l.Name, l.Name)).Prepend(("", "none"));

    /// <summary>The languages a list can be told in.</summary>
    public IEnumerable<(string Value, string Text)> Languages =>
        Model.AlarmSetup.Languages.Select((l, i) => (i == 0 ? "" : l, i == 0 ? $"{l}, as written" : l));

    /// <summary>True where a password is kept for the server.</summary>
    public bool HasPassword => Model.AlarmSetup.Mail is { } mail && keeping.MailPassword(Model.AlarmSetup.Id, mail) is not null;

    public void OnGet() =>
        Form = FormState.Of([.. MailFields(), .. Known is { } known ? NoticeFields.Of(known) : NoticeFields.Of(new("", []))]);

    public IActionResult OnPostSave()
    {
        var reader = new FormReader(Request.Form);
        var (lists, list) = (Model.AlarmSetup.Lists, NoticeFields.Read(reader));
        // A list that is called otherwise is still the one that others hand on to.
        var all = (Known is { } known ? lists.Replace(known, list) : lists.Add(list)).Select(l =>
            Known is { } before && l.EscalateTo == before.Name ? l with { EscalateTo = list.Name } : l
        );
        return Do(new SaveNoticeLists([.. all]), reader, _ => RedirectToPage(new { open = (string?)null, add = (bool?)null }), Again);
    }

    public IActionResult OnPostRemove() =>
        Do(
            new SaveNoticeLists(Known is { } known ? Model.AlarmSetup.Lists.Remove(known) : Model.AlarmSetup.Lists),
            new FormReader(Request.Form),
            _ => RedirectToPage(new { open = (string?)null, add = (bool?)null }),
            () =>
            {
                Refusal = Form.Problems.FirstOrDefault()?.Message;
                OnGet();
                return Page();
            }
        );

    public async Task<IActionResult> OnPostTryAsync()
    {
        if (Known is not { } known)
            return RedirectToPage(new { open = (string?)null });
        if (await notifier.TryAsync(known) is { } problem)
        {
            OnGet();
            Refusal = $"No mail was sent: {problem}.";
            return Page();
        }
        Done = $"The mail server took a trial mail for {string.Join(", ", known.Addresses)}";
        return RedirectToPage(new { open = known.Name });
    }

    public IActionResult OnPostMail()
    {
        var reader = new FormReader(Request.Form);
        if (reader.Text("Host").Length == 0)
            return Do(new SaveMailServer(null), reader, _ => Forget(), Again);
        var mail = new MailServer(
            reader.Text("Host"),
            reader.Whole("Port", "the port"),
            reader.Choice<MailSecurity>("Security"),
            reader.Text("MailFrom")
        )
        {
            User = reader.Text("User") is { Length: > 0 } user ? user : null,
        };
        var password = Request.Form["Password"].ToString();
        return Do(
            new SaveMailServer(mail),
            reader,
            _ =>
            {
                if (password.Length > 0 && keeping.SetMailPassword(Model.AlarmSetup.Id, mail, password) is { } problem)
                    Done = $"The mail server is kept, its password is not: {problem}";
                return RedirectToPage(new { open = (string?)null, add = (bool?)null });
            },
            Again
        );
    }

    private RedirectToPageResult Forget()
    {
        keeping.SetMailPassword(Model.AlarmSetup.Id, null, "");
        return RedirectToPage(new { open = (string?)null, add = (bool?)null });
    }

    private IEnumerable<(string, object?)> MailFields() =>
        Model.AlarmSetup.Mail is { } mail
            ? [("Host", mail.Host), ("Port", mail.Port), ("Security", mail.Security), ("MailFrom", mail.From), ("User", mail.User)]
            : [("Port", 587), ("Security", MailSecurity.StartTls)];

    private IActionResult Again()
    {
        Refusal = string.Join(" ", Form.Problems.Where(p => p.Field is "" or "Lists").Select(p => p.Message)) is { Length: > 0 } text
            ? text
            : null;
        return Page();
    }
}
