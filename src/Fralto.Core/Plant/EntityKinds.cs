using System.Collections.Frozen;
using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Modbus;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Plant;

/// <summary>The kinds of entities there are: the one list of them. Model, undo, journal, store and integrity go by it.</summary>
public static class EntityKinds
{
    /// <summary>State lists.</summary>
    public static EntityKind StateList { get; } =
        Kept("state-list", "state list", m => m.StateLists, (m, all) => m with { StateLists = all }, it => it.Name);

    /// <summary>The customer's own units.</summary>
    public static EntityKind Unit { get; } = Kept("unit", "unit", m => m.OwnUnits, (m, all) => m with { OwnUnits = all }, it => it.Symbol);

    /// <summary>Scales of the library.</summary>
    public static EntityKind Scale { get; } = Kept("scale", "scale", m => m.Scales, (m, all) => m with { Scales = all }, it => it.Name);

    /// <summary>Templates.</summary>
    public static EntityKind Template { get; } =
        Kept(
            "template",
            "template",
            m => m.Templates,
            (m, all) => m with { Templates = all },
            it => it.Name,
            it => it.Properties.Select(p => p.Id).Concat(it.Parts.Select(p => p.Id))
        );

    /// <summary>Nodes of the plant.</summary>
    public static EntityKind Equipment { get; } =
        Kept("equipment", "equipment", m => m.Equipment, (m, all) => m with { Equipment = all }, it => it.Name);

    /// <summary>Controllers.</summary>
    public static EntityKind Controller { get; } =
        Kept("controller", "controller", m => m.Controllers, (m, all) => m with { Controllers = all }, it => it.Name);

    /// <summary>Layouts of devices.</summary>
    public static EntityKind Layout { get; } =
        Kept("layout", "layout", m => m.Layouts, (m, all) => m with { Layouts = all }, it => it.Name, it => it.Points.Select(p => p.Id));

    /// <summary>Devices whose tags are generated.</summary>
    public static EntityKind Device { get; } =
        Kept("device", "device", m => m.Devices, (m, all) => m with { Devices = all }, it => it.Name);

    /// <summary>Tags.</summary>
    public static EntityKind Tag { get; } = Kept("tag", "tag", m => m.Tags, (m, all) => m with { Tags = all }, it => it.Name);

    /// <summary>Bindings.</summary>
    public static EntityKind Binding { get; } =
        new EntityKindOf<(long EquipmentId, long PropertyId), PropertyBinding>(
            "binding",
            "binding",
            m => m.Bindings,
            (m, all) => m with { Bindings = all },
            it => (it.EquipmentId, it.PropertyId),
            (it, model) => model.Equipment.GetValueOrDefault(it.EquipmentId)?.Name ?? $"equipment {it.EquipmentId}",
            it => it.Simulation?.TagId ?? 0
        );

    /// <summary>The calendar.</summary>
    public static EntityKind Calendar { get; } =
        Kept("calendar", "calendar", m => m.Calendars, (m, all) => m with { Calendars = all }, _ => "the calendar");

    /// <summary>What alarms share.</summary>
    public static EntityKind Alarms { get; } =
        Kept("alarms", "alarm setup", m => m.AlarmSetups, (m, all) => m with { AlarmSetups = all }, _ => "what alarms share");

    /// <summary>How codes are written.</summary>
    public static EntityKind NamingConvention { get; } =
        Kept(
            "naming-convention",
            "naming convention",
            m => m.NamingConventions,
            (m, all) => m with { NamingConventions = all },
            it => it.Text
        );

    /// <summary>All of them: what refers to another kind stands after it.</summary>
    public static ImmutableArray<EntityKind> All { get; } =
    [StateList, Unit, Scale, Template, Equipment, Controller, Layout, Device, Tag, Binding, Calendar, Alarms, NamingConvention];

    private static readonly FrozenDictionary<Type, EntityKind> ByType = All.ToFrozenDictionary(k => k.Type);

    private static readonly FrozenDictionary<string, EntityKind> ById = All.ToFrozenDictionary(k => k.Id);

    /// <summary>The kind of an entity.</summary>
    /// <exception cref="InvalidOperationException">It is none.</exception>
    public static EntityKind Of(object entity) =>
        ByType.GetValueOrDefault(entity.GetType())
        ?? throw new InvalidOperationException($"{entity.GetType().Name} is not part of a model.");

    /// <summary>What people call an entity.</summary>
    public static string NameOf(object entity, PlantModel model) => Of(entity).NameOf(entity, model);

    /// <summary>The kind that files call so; null when there is none.</summary>
    public static EntityKind? Called(string id) => ById.GetValueOrDefault(id);

    /// <summary>Does with an entity what a visitor does with its kind.</summary>
    /// <exception cref="InvalidOperationException">It is none.</exception>
    public static T Visit<T>(object entity, IEntityVisitor<T> visitor) =>
        entity switch
        {
            StateList it => visitor.Of(it),
            OwnUnit it => visitor.Of(it),
            LibraryScale it => visitor.Of(it),
            Template it => visitor.Of(it),
            Equipment it => visitor.Of(it),
            Controller it => visitor.Of(it),
            DeviceLayout it => visitor.Of(it),
            Device it => visitor.Of(it),
            Tag it => visitor.Of(it),
            PropertyBinding it => visitor.Of(it),
            SiteCalendar it => visitor.Of(it),
            AlarmSetup it => visitor.Of(it),
            NamingConvention it => visitor.Of(it),
            _ => throw new InvalidOperationException($"{entity.GetType().Name} is not part of a model."),
        };

    private static EntityKindOf<long, T> Kept<T>(
        string id,
        string word,
        Func<PlantModel, ImmutableDictionary<long, T>> entries,
        Func<PlantModel, ImmutableDictionary<long, T>, PlantModel> with,
        Func<T, string> nameOf,
        Func<T, IEnumerable<long>>? parts = null
    )
        where T : Entity =>
        new(id, word, entries, with, it => it.Id, (it, _) => nameOf(it), it => parts is null ? it.Id : parts(it).Append(it.Id).Max());
}
