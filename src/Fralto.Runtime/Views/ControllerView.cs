using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Links;

namespace Fralto.Runtime.Views;

/// <summary>One controller: how its link stands, and its tags.</summary>
public sealed class ControllerView
{
    /// <summary>The controller shown; null when there is none, or none is meant.</summary>
    public Controller? Selected { get; private init; }

    /// <summary>How its link stands.</summary>
    public LinkStatus? Status { get; private init; }

    /// <summary>What its link gets through.</summary>
    public LinkRates? Rates { get; private init; }

    /// <summary>Bindings that can be simulated because the controller is not there; 0 while it is.</summary>
    public int CanSimulate { get; private init; }

    /// <summary>Looks at one controller.</summary>
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
}
