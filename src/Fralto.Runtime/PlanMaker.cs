using Fralto.Core.Planning;
using Fralto.Core.Plant;

namespace Fralto.Runtime;

/// <summary>Compiles the newest model beside a running engine, so that values keep flowing meanwhile.</summary>
internal sealed class PlanMaker(TimeProvider clock)
{
    /// <summary>Edits that come faster than they compile put the next compile off by this many times the last one, and no longer.</summary>
    private const int MostPutOff = 2;

    private static readonly TimeSpan LongestWait = TimeSpan.FromSeconds(2);

    private PlantModel? _waitingFor;
    private long _waitsSince;
    private long _putOffSince;
    private TimeSpan _lastTook;
    private Task<(MadePlan Made, TimeSpan Took)>? _compiling;

    /// <summary>Follows a model: begins to compile it when it is time to.</summary>
    /// <param name="wanted">The model to be run.</param>
    /// <param name="has">The model that runs.</param>
    /// <param name="running">The plan that runs.</param>
    /// <param name="known">The plan of the wanted model, where it has been compiled already.</param>
    /// <returns>A plan that is ready; null while there is none.</returns>
    public MadePlan? Look(PlantModel wanted, PlantModel? has, Plan running, (Plan Plan, FindingList Findings)? known = null)
    {
        if (_compiling is null)
        {
            if (ReferenceEquals(wanted, has))
                return null;
            // Whoever edits wants to see the page first: compiling waits as long as it took the last time, counted from the last edit, and
            // not for ever.
            if (!ReferenceEquals(wanted, _waitingFor))
            {
                if (_waitingFor is null)
                    _putOffSince = clock.GetTimestamp();
                (_waitingFor, _waitsSince) = (wanted, clock.GetTimestamp());
            }
            if (
                known is null
                && clock.GetElapsedTime(_waitsSince) < _lastTook
                && clock.GetElapsedTime(_putOffSince) < _lastTook * MostPutOff
            )
                return null;
            _waitingFor = null;
            _compiling = Task.Factory.StartNew(
                () => Timed(wanted, running, known),
                CancellationToken.None,
                TaskCreationOptions.LongRunning,
                TaskScheduler.Default
            );
            return null;
        }
        if (!_compiling.IsCompleted)
            return null;
        var (made, took) = _compiling.GetAwaiter().GetResult();
        _compiling = null;
        if (known is null)
            _lastTook = took < LongestWait ? took : LongestWait;
        // Meanwhile another plan was put in: what was made fits no more.
        return ReferenceEquals(made.Map.From, running) ? made : null;
    }

    private (MadePlan, TimeSpan) Timed(PlantModel model, Plan running, (Plan Plan, FindingList Findings)? known)
    {
        var begin = clock.GetTimestamp();
        if (known is not var (plan, findings))
            (plan, findings) = Planner.Compile(model);
        return (new(model, PlanMap.Between(running, plan), findings), clock.GetElapsedTime(begin));
    }
}
