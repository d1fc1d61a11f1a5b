namespace Fralto.Runtime;

/// <summary>Who edits or acts.</summary>
/// <param name="Name">The name that stands in the journal.</param>
/// <param name="Rights">What he may do.</param>
public sealed record Actor(string Name, ActorRights Rights)
{
    /// <summary>Who sits at the pages, as long as Fralto knows no users.</summary>
    public static readonly Actor Local = new("local user", ActorRights.All);

    /// <summary>Programs that speak over the interface.</summary>
    public static readonly Actor Interface = new("API", ActorRights.All);

    /// <summary>True when he has a right.</summary>
    public bool May(ActorRights right) => Rights.HasFlag(right);

    /// <summary>Why he may not do something, in words.</summary>
    public string Lacks(ActorRights right) =>
        $"{Name} may not "
        + right switch
        {
            ActorRights.Edit => "edit the model.",
            ActorRights.Command => "give commands.",
            ActorRights.Release => "release a model.",
            _ => "acknowledge alarms.",
        };
}
