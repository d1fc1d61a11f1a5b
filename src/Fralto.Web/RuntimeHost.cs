using Fralto.Runtime.Notices;
using Fralto.Runtime.Recording;
using Fralto.Runtime.Releasing;

namespace Fralto.Web;

/// <summary>Runs the plant for as long as the application runs; when the engine fails, the application ends.</summary>
internal sealed class RuntimeHost(
    PlantRuntime runtime,
    CommandFollower follower,
    AlarmResponder responder,
    AlarmNotifier notifier,
    TrialDesk trial,
    ValueWatch values,
    ReleaseDesk releases,
    HistoryRecorder recorder,
    DemoPast past,
    IHostApplicationLifetime lifetime
) : IHostedService
{
    public Task StartAsync(CancellationToken cancellationToken)
    {
        // What follows the plant is there before the plant runs.
        _ = (follower, responder, notifier, trial, values, releases);
        recorder.Start(past.Begin());
        runtime.Records = true;
        runtime.Attach(recorder);
        runtime.Start();
        _ = runtime.Ended.ContinueWith(
            _ => lifetime.StopApplication(),
            CancellationToken.None,
            TaskContinuationOptions.OnlyOnFaulted | TaskContinuationOptions.ExecuteSynchronously,
            TaskScheduler.Default
        );
        return Task.CompletedTask;
    }

    public async Task StopAsync(CancellationToken cancellationToken)
    {
        await runtime.StopAsync();
        await recorder.DisposeAsync();
    }
}
