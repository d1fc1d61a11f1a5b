using Fralto.Core.Diagnosis;
using Fralto.Core.Edits;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Web.Forms;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The fragments beneath a template's property: its ruler, drawn from the form as it stands, and what its live values look
/// like.</summary>
public sealed class RulerModel(RawWatches watches, Fralto.Runtime.Recording.Trends trends) : FraltoPage
{
    private static readonly TimeSpan Enough = TimeSpan.FromSeconds(6);

    /// <summary>The template.</summary>
    [BindProperty(SupportsGet = true)]
    public long At { get; set; }

    /// <summary>The property.</summary>
    [BindProperty(SupportsGet = true)]
    public long Property { get; set; }

    /// <summary>The ruler of what the posted form says; of what is saved when the form cannot be drawn.</summary>
    public IActionResult OnPost()
    {
        if (Find() is not { } property)
            return NotFound();
        var reader = new FormReader(Request.Form);
        var inherited = Model.Index.InheritedOf(At, property);
        var facts = inherited.With(FactFields.Read(Model, reader, property.Declaration.Kind, property.Declaration.Type, inherited));
        var drawable = !reader.HasProblems && !FactRules.Problems(Model, property.Declaration, facts).Any();
        return Partial(
            "_Ruler",
            RulerView.Of(
                Model,
                Snapshot,
                Model.Templates[At],
                property,
                drawable ? facts : property.Facts,
                trends,
                drawable ? null : "what is typed cannot be drawn yet; this is as saved"
            )
        );
    }

    public IActionResult OnGetFit() => Find() is { } property ? Partial("_Fit", Judge(property)) : NotFound();

    /// <summary>Takes a proposal: the signal into the scale that is used, or the word order into the tags it was shown
    /// for.</summary>
    public IActionResult OnPostTake()
    {
        if (Find() is not { } property)
            return NotFound();
        var reader = new FormReader(Request.Form);
        Edit edit = reader.Has("Order")
            ? new ChangeTags([.. reader.Ids("Tag")], new() { WordOrder = reader.Choice<WordOrder>("Order") })
            : TakeSignal(property, reader.Choice<SignalKind>("Signal"));
        watches.Forget(Property);
        return Do(
            edit,
            reader,
            _ => Redirect($"/templates?at={At}&property={Property}"),
            () =>
            {
                Done = $"Not taken: {string.Join(" ", Form.Problems.Select(p => p.Message))}";
                return Redirect($"/templates?at={At}&property={Property}");
            }
        );
    }

    private Edit TakeSignal(ResolvedProperty property, SignalKind kind)
    {
        var signal = kind == SignalKind.Free ? Signal.Free(new(0, 1)) : Signal.Of(kind);
        if (property.Facts.ScaleId is { } id && Model.Scales.TryGetValue(id, out var named))
            return new SaveScale(id, named.Code, named.Name, named.Description, SignalFit.With(named.Scale, signal));
        var scale = property.Facts.Scale is { } own
            ? SignalFit.With(own, signal)
            : new LinearScale(signal, Model.RangeOf(property.Facts) ?? new(0, 100));
        var facts = property.Own with { Scale = scale, ScaleId = null };
        return ManyEdits.Exactly(At, property, facts);
    }

    private FitView Judge(ResolvedProperty property)
    {
        var (since, watched) = watches.Look(At, Property);
        var verdicts =
            since < Enough && watched.All(w => w.Raw.Length < SignalFit.FewestReadings) ? [] : SignalFit.Judge(Model, property, watched);
        return new(
            At,
            property,
            verdicts,
            since,
            watched.Count,
            property.Facts.ScaleId is { } id ? Model.Scales.GetValueOrDefault(id) : null,
            property.Facts.ScaleId is { } named ? SaveScale.CountsOf(Model).GetValueOrDefault(named) : 0
        );
    }

    private ResolvedProperty? Find() =>
        Model.Templates.ContainsKey(At) ? Model.Index.PropertiesOf(At).FirstOrDefault(p => p.Id == Property) : null;
}
