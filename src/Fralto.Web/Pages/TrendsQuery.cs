using System.Globalization;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Runtime.Views;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>What the address of the trends asks for.</summary>
public sealed class TrendsQuery
{
    /// <summary>The template whose properties and instances are offered.</summary>
    [FromQuery(Name = "template")]
    public long? Template { get; set; }

    /// <summary>Properties of it.</summary>
    [FromQuery(Name = "p")]
    public long[] P { get; set; } = [];

    /// <summary>Instances of it.</summary>
    [FromQuery(Name = "e")]
    public long[] E { get; set; } = [];

    /// <summary>Others: instance.property.</summary>
    [FromQuery(Name = "s")]
    public string?[] S { get; set; } = [];

    /// <summary>The path of a property that is shown as well.</summary>
    [FromQuery(Name = "add")]
    public string? Add { get; set; }

    /// <summary>How long the window is, in seconds.</summary>
    [FromQuery(Name = "for")]
    public double? For { get; set; }

    /// <summary>Where it ends, in milliseconds since 1970; now when it is not said.</summary>
    [FromQuery(Name = "to")]
    public long? To { get; set; }

    /// <summary>The same so many seconds earlier beside it.</summary>
    [FromQuery(Name = "earlier")]
    public double? Earlier { get; set; }

    /// <summary>Runs begin with a state of this property.</summary>
    [FromQuery(Name = "runs")]
    public long? Runs { get; set; }

    /// <summary>This state.</summary>
    [FromQuery(Name = "becomes")]
    public double? Becomes { get; set; }

    /// <summary>So many runs of each instance.</summary>
    [FromQuery(Name = "n")]
    public int? N { get; set; }

    /// <summary>Seconds before the run.</summary>
    [FromQuery(Name = "before")]
    public double? Before { get; set; }

    /// <summary>Where the marked span begins, in milliseconds since 1970.</summary>
    [FromQuery(Name = "mf")]
    public long? MarkFrom { get; set; }

    /// <summary>Where it ends.</summary>
    [FromQuery(Name = "mt")]
    public long? MarkTo { get; set; }

    /// <summary>Width of the drawing.</summary>
    [FromQuery(Name = "w")]
    public double? W { get; set; }

    /// <summary>What is wanted, with what is not said filled in.</summary>
    /// <param name="model">The model that runs.</param>
    public TrendQuestion Question(PlantModel model) =>
        new()
        {
            Lines = [.. Chosen(model)],
            Seconds = For is > 0 and < TrendQuestion.LongestSeconds ? For.Value : 3600,
            To = To is { } to ? Ticks(to) : null,
            Earlier = Earlier is > 0 and < TrendQuestion.LongestSeconds ? Earlier.Value : 0,
            RunsOf = Runs,
            Becomes = Becomes ?? 0,
            Runs = N ?? 1,
            Before = Before is >= 0 and < TrendQuestion.LongestSeconds ? Before.Value : 0,
            Mark = MarkFrom is { } from && MarkTo is { } until && from != until ? (Ticks(from), Ticks(until)) : null,
            Width = W is >= 100 and <= 4000 ? W.Value : 900,
        };

    /// <summary>Milliseconds since 1970 as ticks, kept within what a time can be.</summary>
    private static long Ticks(long milliseconds) =>
        DateTimeOffset.FromUnixTimeMilliseconds(Math.Clamp(milliseconds, -62_000_000_000_000, 250_000_000_000_000)).UtcTicks;

    private IEnumerable<(long, long)> Chosen(PlantModel model)
    {
        foreach (var equipment in E)
        foreach (var property in P)
            yield return (equipment, property);
        foreach (var line in Singles())
            yield return line;
    }

    /// <summary>The lines that were added one by one; what is none is passed over.</summary>
    public IEnumerable<(long EquipmentId, long PropertyId)> Singles()
    {
        // What is empty in an address arrives as null.
        foreach (var line in S)
            if (
                line?.Split('.') is [var equipment, var property]
                && long.TryParse(equipment, NumberStyles.None, CultureInfo.InvariantCulture, out var e)
                && long.TryParse(property, NumberStyles.None, CultureInfo.InvariantCulture, out var p)
            )
                yield return (e, p);
    }

    /// <summary>What is shown of a template when nobody has said: its first state and its first number.</summary>
    public void Begin(PlantModel model)
    {
        if (Template is not { } id || !model.Templates.ContainsKey(id))
            return;
        var properties = model.Index.PropertiesOf(id).Where(p => p.Declaration.Kind != PropertyKind.Fixed).ToArray();
        if (P.Length == 0)
            P =
            [
                .. new[]
                {
                    properties.FirstOrDefault(p => p.Declaration.Type == PropertyType.State),
                    properties.FirstOrDefault(p => p.Declaration.Type == PropertyType.Number),
                }
                    .OfType<Core.Properties.ResolvedProperty>()
                    .Select(p => p.Id),
            ];
        if (E.Length == 0)
            E = [.. model.Index.InstancesOf(id).Take(4).Select(e => e.Id)];
    }
}
