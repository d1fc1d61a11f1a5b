using System.Collections.Concurrent;
using System.Globalization;
using Fralto.Core.Commands;
using Fralto.Core.Engine;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Links;
using Fralto.Store;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime;

/// <summary>Gives commands by itself where the model says so: one that follows a formula is given what the formula gives, one that says
/// what
/// it is at a start is given that once, when its controller first answers. Everything given is noted like any command.</summary>
/// <remarks>A Bad value writes nothing. What is refused is tried again after a while, and not with each value.</remarks>
public sealed class CommandFollower : SnapshotSink
{
    /// <summary>Who stands in the journal for what follows a formula.</summary>
    public static readonly Actor Following = new("formula", ActorRights.Command);

    /// <summary>Who stands in the journal for what is given at a start.</summary>
    public static readonly Actor Starting = new("at start", ActorRights.Command);

    private const double Same = 1e-9;
    private static readonly TimeSpan AfterRefusal = TimeSpan.FromSeconds(30);
    private readonly ConcurrentDictionary<(long, long), Given> _given = new();
    private readonly HashSet<(long, long)> _started = [];
    private readonly PlantRuntime _runtime;
    private readonly CommandWriter _commands;
    private readonly RunStore _store;
    private readonly TimeProvider _clock;
    private readonly ILogger<CommandFollower> _logger;
    private Plan? _plan;
    private PlantModel? _model;
    private List<(int Point, ResolvedProperty Property, int Place)> _follows = [];
    private List<(int Point, ResolvedProperty Property)> _starts = [];

    public CommandFollower(
        PlantRuntime runtime,
        CommandWriter commands,
        RunStore store,
        TimeProvider clock,
        ILogger<CommandFollower> logger
    )
        : base(logger)
    {
        (_runtime, _commands, _store, _clock, _logger) = (runtime, commands, store, clock, logger);
        runtime.Attach(this);
    }

    /// <summary>What a command was given last, and when it may be given again.</summary>
    private sealed record Given(double Value, long NotBefore, bool IsOnItsWay);

    /// <inheritdoc/>
    protected override void Look(EngineSnapshot snapshot, EngineSnapshot working)
    {
        if (!ReferenceEquals(snapshot.Plan, _plan))
            Find(snapshot.Plan);
        if (_model is not { } model)
            return;
        foreach (var (point, property, place) in _follows)
            Follow(model, snapshot, point, property, snapshot.ReadingOf(place));
        for (var i = _starts.Count - 1; i >= 0; i--)
            if (!snapshot.ValueOf(_starts[i].Point).Status.IsBad)
            {
                Start(model, snapshot, _starts[i].Point, _starts[i].Property);
                _starts.RemoveAt(i);
            }
    }

    private void Find(Plan plan)
    {
        (_plan, _model) = (plan, _runtime.RunningModel);
        _follows = [];
        _starts = [];
        if (_model is not { } model)
            return;
        foreach (var formula in plan.Followed.Select(f => plan.Formulas[f]))
            if (PropertyOf(model, plan.Points[formula.Follower]) is { } property)
                _follows.Add((formula.Follower, property, formula.Place));
        // Only templates and instances that say so are looked through.
        if (
            !model.Templates.Values.Any(t => t.Patches.Values.Any(p => p.AtStart is not null))
            && !model.Equipment.Values.Any(e => !e.Patches.IsEmpty && e.Patches.Values.Any(p => p.AtStart is not null))
        )
            return;
        for (var i = 0; i < plan.Points.Length; i++)
            if (
                plan.Points[i] is { Source: PointSource.Tag } point
                && !_started.Contains((point.EquipmentId, point.PropertyId))
                && PropertyOf(model, point) is { Facts.AtStart: not null, Declaration.Kind: PropertyKind.Command } property
            )
                _starts.Add((i, property));
    }

    private static ResolvedProperty? PropertyOf(PlantModel model, PlanPoint point) =>
        model.Equipment.TryGetValue(point.EquipmentId, out var instance)
            ? model.Index.PropertiesOf(instance).FirstOrDefault(p => p.Id == point.PropertyId)
            : null;

    private void Follow(PlantModel model, EngineSnapshot snapshot, int index, ResolvedProperty property, TagReading wanted)
    {
        if (wanted.Status.IsBad || !double.IsFinite(wanted.Raw))
            return;
        var point = snapshot.Plan.Points[index];
        var key = (point.EquipmentId, point.PropertyId);
        var (now, deadband) = (_clock.GetTimestamp(), property.Facts.FollowDeadband ?? 0);
        var held = snapshot.ValueOf(index);
        // A controller that does not answer is not written to.
        if (held.Status.IsBad)
            return;
        if (_given.TryGetValue(key, out var given))
        {
            if (given.IsOnItsWay || now < given.NotBefore || IsSame(given.Value, wanted.Raw, deadband))
                return;
        }
        else if (IsSame(held.Value, wanted.Raw, deadband))
            return;
        Give(model, point, property, wanted.Raw, held, Following);
    }

    private void Start(PlantModel model, EngineSnapshot snapshot, int index, ResolvedProperty property)
    {
        var point = snapshot.Plan.Points[index];
        if (!_started.Add((point.EquipmentId, point.PropertyId)))
            return;
        var text = property.Facts.AtStart!;
        if (text == PropertyPatch.LastGiven)
        {
            if (_store.LastGiven(point.Path) is not { } last)
                return;
            // It was noted with its unit.
            text = property.Declaration.Type.IsNumeric() ? last.Split(' ')[0] : last;
        }
        if (CommandOrder.Read(model, point.EquipmentId, point.PropertyId, text, out var problem) is not { } order)
        {
            _logger.LogWarning("{Path} was not given {Value} at the start: {Problem}", point.Path, text, problem);
            return;
        }
        var held = snapshot.ValueOf(index);
        if (!IsSame(held.Value, order.Wanted, 0))
            _ = GiveAsync(order, point, held, order.Wanted, TimeSpan.Zero, Starting);
    }

    private void Give(PlantModel model, PlanPoint point, ResolvedProperty property, double value, PointValue held, Actor actor)
    {
        var text = point.Type == PropertyType.Boolean ? (value != 0 ? "true" : "false") : value.ToString("R", CultureInfo.InvariantCulture);
        var every = TimeSpan.FromSeconds(property.Facts.FollowSeconds ?? 1);
        var key = (point.EquipmentId, point.PropertyId);
        if (CommandOrder.Read(model, point.EquipmentId, point.PropertyId, text, out var problem) is not { } order)
        {
            _given[key] = new(double.NaN, After(AfterRefusal), false);
            _logger.LogWarning("{Path} cannot follow its formula: {Problem}", point.Path, problem);
            return;
        }
        _given[key] = new(value, After(every), true);
        _ = GiveAsync(order, point, held, value, every, actor);
    }

    private async Task GiveAsync(CommandOrder order, PlanPoint point, PointValue held, double value, TimeSpan every, Actor actor)
    {
        var key = (point.EquipmentId, point.PropertyId);
        try
        {
            var before = double.IsFinite(held.Value) ? held.Value.ToString("R", CultureInfo.InvariantCulture) : "";
            var result = await _commands.GiveAsync(order, before, actor);
            _given[key] =
                result.Outcome == WriteOutcome.Confirmed
                    ? new(value, After(every), false)
                    : new(double.NaN, After(every > AfterRefusal ? every : AfterRefusal), false);
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            _given[key] = new(double.NaN, After(AfterRefusal), false);
            _logger.LogError(e, "{Path} could not be given {Value}", point.Path, value);
        }
    }

    private long After(TimeSpan wait) => _clock.GetTimestamp() + (long)(wait.TotalSeconds * _clock.TimestampFrequency);

    private static bool IsSame(double one, double other, double deadband) =>
        Math.Abs(one - other) <= Math.Max(deadband * (1 - Same), Same * Math.Max(1, Math.Abs(other)));
}
