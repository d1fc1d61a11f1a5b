using Fralto.Core.Notices;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Says which server takes the mails of alarms.</summary>
/// <param name="Mail">The server; null for none.</param>
public sealed record SaveMailServer(MailServer? Mail) : AlarmSetupEdit
{
    private protected override string Summary => Mail is null ? "Send no mails of alarms" : "Change the mail server";

    private protected override AlarmSetup Changed(AlarmSetup setup) => setup with { Mail = Mail };
}
