using System.Text.Json;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Store;

/// <summary>One change as the journal keeps it: the kind of entity, and the entity before and after.</summary>
internal sealed record ChangeRow(string Kind, JsonElement? Before, JsonElement? After)
{
    private static readonly Dictionary<string, Type> Kinds = new Type[]
    {
        typeof(StateSet), typeof(OwnUnit), typeof(LibraryScale), typeof(Template), typeof(Equipment), typeof(Controller), typeof(Tag), typeof(DeviceLayout), typeof(Device), typeof(PropertyBinding),
    }.ToDictionary(t => t.Name);

    public static ChangeRow Of(ModelChange change) => new(
        (change.After ?? change.Before)!.GetType().Name,
        change.Before is null ? null : Json.Element(change.Before),
        change.After is null ? null : Json.Element(change.After));

    public ModelChange ToChange() => new(Json.Read(Before, Kinds[Kind]), Json.Read(After, Kinds[Kind]));
}
