using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The library of named scales: each with its curve, where it is used, and what a change would do to the values of now.</summary>
public sealed class ScalesModel : FraltoPage
{
    /// <summary>Width of the curve's picture.</summary>
    public const double CurveWidth = 420;

    /// <summary>Height of the curve's picture.</summary>
    public const double CurveHeight = 250;

    /// <summary>Most instances listed at once.</summary>
    public const int MostInstances = 100;

    private IReadOnlyDictionary<long, int>? _counts;

    /// <summary>The scale shown.</summary>
    [BindProperty(SupportsGet = true)]
    public long? At { get; set; }

    /// <summary>What is open: "new" for a scale to be added.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Open { get; set; }

    public LibraryScale? Selected { get; private set; }

    /// <summary>The scale whose curve is shown: that of the form when it is whole, else the one saved.</summary>
    public Scale? Drawn { get; private set; }

    public IEnumerable<LibraryScale> All => Model.Scales.Values.OrderBy(s => s.Name, StringComparer.OrdinalIgnoreCase);

    /// <summary>Who says a property has the selected scale: the layer, the property's name, and a link to it.</summary>
    public IEnumerable<(string Layer, string Property, string Link)> Users =>
        Selected is null
            ? []
            : SaveScale
                .UsersOf(Model, Selected.Id)
                .Select(u =>
                    u.Layer is Template t
                        ? (t.Name, NameOf(Model.Index.PropertiesOf(t.Id), u.PropertyId), $"/templates?at={t.Id}&property={u.PropertyId}")
                        : (
                            Model.Index.PathOf(u.Layer.Id),
                            NameOf(Model.Index.PropertiesOf((Equipment)u.Layer), u.PropertyId),
                            $"/plant?at={u.Layer.Id}&property={u.PropertyId}"
                        )
                );

    /// <summary>How many instances use a scale.</summary>
    public int ReachOf(long id) => (_counts ??= SaveScale.CountsOf(Model)).GetValueOrDefault(id);

    public void OnGet() => Show();

    public IActionResult OnPostSave()
    {
        var reader = new FormReader(Request.Form);
        var edit = Read(reader, out var id);
        return Do(
            edit,
            reader,
            outcome => RedirectToPage(new { at = IdOf(outcome) }),
            () =>
            {
                At = id;
                if (id is null)
                    Open = "new";
                Show(keepForm: true);
                return Page();
            }
        );
    }

    public IActionResult OnPostRemove(long id) =>
        Do(
            new RemoveScale(id),
            new FormReader(Request.Form),
            _ => RedirectToPage(new { }),
            () =>
            {
                At = id;
                Show();
                return Page();
            }
        );

    /// <summary>The curve of the form as it stands, and what saving it would do to the values of now.</summary>
    public IActionResult OnPostTrial()
    {
        var reader = new FormReader(Request.Form);
        var edit = Read(reader, out var id);
        At = id;
        Selected = id is { } known ? Model.Scales.GetValueOrDefault(known) : null;
        var problems = reader.HasProblems ? reader.State().Problems : edit.On(Model).Problems;
        return Partial(
            "_ScaleTrial",
            new ScaleTrial(
                problems.IsEmpty ? edit.Scale : null,
                string.Join(" ", problems.Where(p => p.Field is not ("Name" or "Code")).Select(p => p.Message).Distinct().Take(3)),
                Effects(edit.Scale),
                Selected is null
            )
        );
    }

    /// <summary>The values of now through the saved scale and through another.</summary>
    private List<ScaleTrial.Effect> Effects(Scale after)
    {
        if (Selected is null || after.Problems().Any())
            return [];
        var effects = new List<ScaleTrial.Effect>();
        foreach (var (instance, property) in SaveScale.ReachOf(Model, Selected.Id))
        {
            if (!Model.Bindings.TryGetValue((instance.Id, property.Id), out var binding))
                continue;
            var tag = Model.Tags[binding.TagId];
            var reading = Snapshot.Find(instance.Id, property.Id) is { } found ? Snapshot.ReadingOf(found.Point.Tag) : default;
            if (reading.Time == default || reading.Status.IsBad || !double.IsFinite(reading.Raw))
                continue;
            var chain = Model.ChainOf(property.Facts, tag.Unit, binding.Slice);
            var next = chain with
            {
                Scale = after,
                Conversion = Model.Units.Between(after.YieldedUnit, property.Facts.Unit) ?? chain.Conversion,
            };
            var decimals = Resolution.DecimalsOf(chain.Range) + 1;
            effects.Add(
                new(
                    $"{instance.Name} {property.Name}",
                    ValueText.Raw(reading.Raw),
                    Word(chain, reading.Raw, decimals),
                    Word(next, reading.Raw, decimals),
                    Model.Units.SymbolOf(property.Facts.Unit)
                )
            );
        }
        return effects;
    }

    private static string Word(Chain chain, double raw, int decimals)
    {
        var result = chain.Compute(raw);
        return result.Status.IsBad ? "no value" : ValueText.Number(result.Value, decimals) + (result.Status.IsGood ? "" : " ~");
    }

    private SaveScale Read(FormReader reader, out long? id)
    {
        id = reader.Id("Id");
        var name = reader.Text("Name");
        var code = reader.Text("Code") is { Length: > 0 } given ? given : Naming.Suggest(name);
        var scale = ScaleFields.Read(reader, Model, null) ?? new LinearScale(new Span(0, 1), new(0, 1));
        return new SaveScale(id, code, name, reader.Text("Description"), scale);
    }

    private void Show(bool keepForm = false)
    {
        if (Model.Scales.IsEmpty)
            Open = "new";
        Selected =
            Open == "new" ? null
            : At is { } at ? Model.Scales.GetValueOrDefault(at)
            : All.FirstOrDefault();
        At = Selected?.Id;
        Drawn = Selected?.Scale;
        if (keepForm)
            return;
        Form = Selected is { } s
            ? FormState.Of([
                ("Id", s.Id),
                ("Name", s.Name),
                ("Code", s.Code),
                ("Description", s.Description),
                .. ScaleFields.Of(s.Scale, Model),
            ])
            : FormState.Of([.. ScaleFields.Of(null, Model).Select(f => f.Item1 == "Signal" ? ("Signal", SignalKind.Counts15) : f)]);
    }

    private static string NameOf(IEnumerable<ResolvedProperty> properties, long id) =>
        properties.FirstOrDefault(p => p.Id == id)?.Name ?? "";
}
