namespace Fralto.Web.Pages;

/// <summary>What the address of the review asks for.</summary>
public sealed class ReviewQuery
{
    /// <summary>The place findings and changes are chosen by: the id of an area, "templates", "controllers" or "shared"; null for
    /// everywhere.</summary>
    public string? At { get; set; }

    /// <summary>The release changes are shown since; null for the one that runs.</summary>
    public int? Since { get; set; }

    /// <summary>The release up to which changes are shown; null for the working model.</summary>
    public int? Until { get; set; }

    /// <summary>The change that is selected.</summary>
    public string? Change { get; set; }

    /// <summary>The person changes are chosen by; null for everybody.</summary>
    public string? Who { get; set; }

    /// <summary>True to show all findings and changes and not only the first.</summary>
    public bool All { get; set; }

    /// <summary>The address with another place.</summary>
    public string To(string? at) => Address(at, Since, Until, null, Who, All);

    /// <summary>The address with another change selected.</summary>
    public string With(string change) => Address(At, Since, Until, change, Who, All);

    /// <summary>The address with the changes of one person.</summary>
    public string By(string? who) => Address(At, Since, Until, null, who, All);

    /// <summary>The address with everything shown.</summary>
    public string Whole => Address(At, Since, Until, Change, Who, true);

    private static string Address(string? at, int? since, int? until, string? change, string? who, bool all)
    {
        var parts = new[]
        {
            at is null ? null : $"at={Uri.EscapeDataString(at)}",
            since is null ? null : $"since={since}",
            until is null ? null : $"until={until}",
            change is null ? null : $"change={Uri.EscapeDataString(change)}",
            who is null ? null : $"who={Uri.EscapeDataString(who)}",
            all ? "all=true" : null,
        };
        return string.Join('&', parts.Where(p => p is not null)) is { Length: > 0 } query ? $"/review?{query}" : "/review";
    }
}
