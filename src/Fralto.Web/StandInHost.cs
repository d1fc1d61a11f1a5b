using Fralto.StandIns.Maltings;

namespace Fralto.Web;

/// <summary>Runs the stand-ins inside the demo.</summary>
public sealed class StandInHost(StandInPlant plant) : BackgroundService
{
    public override async Task StopAsync(CancellationToken cancellationToken)
    {
        await base.StopAsync(cancellationToken);
        await plant.DisposeAsync();
    }

    protected override Task ExecuteAsync(CancellationToken stoppingToken) => plant.RunAsync(stoppingToken);
}
