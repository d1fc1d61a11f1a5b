using Fralto.StandIns.Maltings;

namespace Fralto.Web;

/// <summary>The stand-ins alone, for trying any Modbus client on them: faults are switched by lines on standard input.</summary>
internal static class StandInConsole
{
    public static async Task<int> RunAsync(FraltoOptions options, CancellationToken stop)
    {
        await using var plant = new StandInPlant(
            options.StandInPort,
            Demo.Seed,
            TimeProvider.System,
            options.WithoutUtilityUa ? null : Path.Combine(Path.GetTempPath(), "fralto-utility-ua")
        );
        await plant.OpenAsync();
        foreach (var (name, at) in plant.Controllers)
            Console.WriteLine($"{name} listens on 127.0.0.1:{at}");
        Console.WriteLine($"Type a fault and on or off: {string.Join(", ", plant.Faults.Select(f => f.Key))}");
        var running = plant.RunAsync(stop);
        _ = Task.Run(() => CommandsAsync(plant, stop), CancellationToken.None);
        await running;
        return 0;
    }

    private static async Task CommandsAsync(StandInPlant plant, CancellationToken stop)
    {
        while (!stop.IsCancellationRequested && await Console.In.ReadLineAsync(stop) is { } line)
        {
            var words = line.Split(' ', StringSplitOptions.RemoveEmptyEntries);
            var done = words is [var key, "on" or "off"] && await plant.SetFaultAsync(key, words[1] == "on");
            Console.WriteLine(done ? $"{words[0]} is {words[1]}" : "Say a fault and on or off, for example: kiln-plc-gone on");
        }
    }
}
