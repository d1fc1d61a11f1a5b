using Fralto.Core.Controllers;

namespace Fralto.Links;

/// <summary>What a link is made of.</summary>
/// <param name="Controller">The controller it leads to.</param>
/// <param name="Tags">The tags it follows.</param>
/// <param name="Mailbox">Where its samples go.</param>
/// <param name="Clock">Our clock.</param>
public sealed record LinkSetup(Controller Controller, IReadOnlyList<Tag> Tags, SampleMailbox Mailbox, TimeProvider Clock)
{
    /// <summary>The password to send; null for none.</summary>
    public string? Password { get; init; }

    /// <summary>Takes what a helper of the link has to say beside its protocol, for whoever reads the log.</summary>
    public Action<string> Log { get; init; } = _ => { };

    /// <summary>What was kept of a tag of memory; null for nothing.</summary>
    public Func<long, string?> LoadMemory { get; init; } = _ => null;

    /// <summary>Keeps what a tag of memory holds; why it could not be kept, or null.</summary>
    public Func<long, string, string?> KeepMemory { get; init; } = (_, _) => null;
}
