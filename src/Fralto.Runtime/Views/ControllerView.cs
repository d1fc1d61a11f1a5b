using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Links;

namespace Fralto.Runtime.Views;

/// <summary>One controller: how its link stands, and its tags.</summary>
public sealed class ControllerView
{
    /// <summary>Tags shown at once.</summary>
    public const int PageSize = 200;

    /// <summary>The controller shown; null when there is none, or none is meant.</summary>
    public Controller? Selected { get; private init; }

    /// <summary>How its link stands.</summary>
    public LinkStatus? Status { get; private init; }

    /// <summary>What its link gets through.</summary>
    public LinkRates? Rates { get; private init; }

    /// <summary>The tags of the window.</summary>
    public IReadOnlyList<Tag> Tags { get; private set; } = [];

    /// <summary>How many tags match, in all windows.</summary>
    public int MatchingTags { get; private set; }

    /// <summary>The window shown, from 1.</summary>
    public int Window { get; private set; } = 1;

    /// <summary>How many windows there are.</summary>
    public int Windows => Math.Max(1, (MatchingTags + PageSize - 1) / PageSize);

    /// <summary>Tags that feed nothing.</summary>
    public int Unused { get; private set; }

    /// <summary>Tags that have never changed.</summary>
    public int Still { get; private set; }

    /// <summary>Tags of bad quality.</summary>
    public int BadTags { get; private set; }

    /// <summary>Bindings that can be simulated because the controller is not there; 0 while it is.</summary>
    public int CanSimulate { get; private init; }

    /// <summary>Looks at one controller without its tags.</summary>
    /// <param name="model">The model.</param>
    /// <param name="runtime">Where its link is kept.</param>
    /// <param name="at">The controller asked for; null for the first by name.</param>
    public static ControllerView Of(PlantModel model, PlantRuntime runtime, long? at)
    {
        var selected = at is { } id
            ? model.Controllers.GetValueOrDefault(id)
            : model.Controllers.Values.MinBy(c => c.Name, StringComparer.OrdinalIgnoreCase);
        if (selected is null)
            return new();
        var status = runtime.Links.StatusOf(selected.Id);
        return new()
        {
            Selected = selected,
            Status = status,
            Rates = runtime.Links.RatesOf(selected.Id),
            CanSimulate =
                status?.State == LinkState.Down ? model.Index.TagsOf(selected.Id).Sum(t => model.Index.BindingsOf(t.Id).Count()) : 0,
        };
    }

    /// <summary>No controller: one is being added.</summary>
    public static ControllerView None { get; } = new();

    /// <summary>Looks at a window of its tags too.</summary>
    /// <param name="model">The model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="filter">Part of a tag's name, address or description; empty for all.</param>
    /// <param name="only">Which tags: unused, still (never changed) or bad; else all.</param>
    /// <param name="window">The window, from 1; held within what there is.</param>
    public ControllerView WithTags(PlantModel model, EngineSnapshot snapshot, string? filter, string? only, int window)
    {
        if (Selected is not { } selected)
            return this;
        var all = model.Index.TagsOf(selected.Id);
        bool IsBad(Tag tag) => snapshot.Reading(tag.Id) is { Status.IsBad: true };
        bool IsStill(Tag tag) => snapshot.Reading(tag.Id) is { Changes: <= 1 } && !tag.IsArray;
        (Unused, Still, BadTags) = (all.Count(t => !model.Index.IsUsed(t.Id)), all.Count(IsStill), all.Count(IsBad));
        bool Has(string text) => text.Contains(filter!, StringComparison.OrdinalIgnoreCase);
        var matching = all.Where(t =>
                only switch
                {
                    "unused" => !model.Index.IsUsed(t.Id),
                    "still" => IsStill(t),
                    "bad" => IsBad(t),
                    _ => true,
                }
            )
            .Where(t => string.IsNullOrWhiteSpace(filter) || Has(t.Name) || Has(t.Description) || Has(t.Address.ToString()))
            .ToArray();
        MatchingTags = matching.Length;
        Window = Math.Clamp(window, 1, Windows);
        Tags = [.. matching.Skip((Window - 1) * PageSize).Take(PageSize)];
        return this;
    }
}
