using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Pictures;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>One binding from the bytes of the device to the value, stage by stage with the numbers of now; and both ends to try.</summary>
public sealed class ChainModel : FraltoPage
{
    /// <summary>The instance.</summary>
    [BindProperty(SupportsGet = true)]
    public long At { get; set; }

    /// <summary>The property.</summary>
    [BindProperty(SupportsGet = true)]
    public long Property { get; set; }

    /// <summary>A raw number to try.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Raw { get; set; }

    /// <summary>A value to try, in the property's unit.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Value { get; set; }

    public Equipment Instance { get; private set; } = null!;

    public ResolvedProperty Shown { get; private set; } = null!;

    public Tag Tag { get; private set; } = null!;

    public Slice? Slice { get; private set; }

    public Chain Chain { get; private set; } = null!;

    /// <summary>The chain as it is computed now; null before the first reading.</summary>
    public ChainReport? Now { get; private set; }

    /// <summary>Why there is none now.</summary>
    public string? Silence { get; private set; }

    /// <summary>The chain of what was typed; null when nothing was.</summary>
    public ChainReport? Tried { get; private set; }

    /// <summary>The raw number a typed value asks for, before rounding; null when no value was typed.</summary>
    public double? Wanted { get; private set; }

    /// <summary>What is wrong with what was typed.</summary>
    public string? Wrong { get; private set; }

    public override LiveScope Scope => new(LiveScopeKind.Place, At);

    public string Unit => Model.Units.SymbolOf(Shown.Facts.Unit);

    /// <summary>Where the scale comes from, in words.</summary>
    public string ScaleOrigin =>
        Shown.Facts.ScaleId is { } id ? $"the scale {Model.Scales[id].Name} of the library"
        : Shown.Facts.Scale is null ? "no scale"
        : "a scale of its own";

    public IActionResult OnGet() => Find() ? Page() : NotFound();

    /// <summary>The stages of now.</summary>
    public IActionResult OnGetNow() => Find() ? Partial("_ChainStages", Now) : NotFound();

    private bool Find()
    {
        if (
            Model.Equipment.GetValueOrDefault(At) is not { } instance
            || Model.Index.PropertiesOf(instance).FirstOrDefault(p => p.Id == Property) is not { } property
            || !Model.Bindings.TryGetValue((At, Property), out var binding)
            || Model.Tags.GetValueOrDefault(binding.TagId) is not { Type: not RawType.Text } tag
        )
            return false;
        (Instance, Shown, Tag, Slice) = (instance, property, tag, binding.Slice);
        Chain = Model.ChainOf(property.Facts, tag.Unit, binding.Slice);
        if (Runtime.WordsOf(tag) is { } words && words.Length == (tag.IsWireBit ? tag.Count : tag.Places))
            Now = ChainReport.Of(Chain, tag, Slice, words, property, Model.Units);
        if (Snapshot.Find(At, Property) is { Value.Status.IsBad: true } bad)
            Silence = ValueText.Why(bad.Value.Status, bad.Value.Reason);
        Try();
        return true;
    }

    private void Try()
    {
        if (!string.IsNullOrWhiteSpace(Raw))
        {
            if (Number(Raw) is { } raw)
                Tried = ChainReport.Of(Chain, Tag, Slice, raw, Shown, Model.Units);
        }
        else if (!string.IsNullOrWhiteSpace(Value) && Number(Value) is { } value)
        {
            var raw = Chain.Invert(value);
            if (double.IsNaN(raw))
                Wrong = Slice is { FirstBit: not null }
                    ? "Bits of a word have no way back: the other bits of the word are not known."
                    : $"{Value} {Unit} cannot be turned into a raw number: "
                        + $"{Chain.Scale?.WhyNoInverse ?? "the scale does not reach so far"}.";
            else if (RawCodec.WhyNot(raw, Tag.Type) is { } why)
                Wrong = $"{Value} {Unit} would be raw {ValueText.Plain(raw)}: {why}.";
            else
                (Wanted, Tried) = (raw, ChainReport.Of(Chain, Tag, Slice, raw, Shown, Model.Units));
        }
    }

    private double? Number(string text)
    {
        var number = FieldText.Number(text, out var problem);
        Wrong = problem ?? Wrong;
        return number;
    }
}
