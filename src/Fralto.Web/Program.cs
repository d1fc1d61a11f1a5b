using System.Runtime.InteropServices;
using Fralto.StandIns.Maltings;
using Fralto.Store;
using Fralto.Web;
using Serilog;
using Serilog.Events;

if (args is ["check", var file])
    return ModelCheck.Run(file, Console.Out, Console.Error);

if (args is ["backup" or "restore", ..])
    return BackupCommand.Run(args, Console.Out, Console.Error);

if (args is ["release", ..])
    return ReleaseCommand.Run(args, Console.Out, Console.Error);

var (options, problem) = FraltoOptions.Parse(args);
if (options is null)
{
    Console.Error.WriteLine(problem);
    Console.Error.WriteLine(FraltoOptions.Usage);
    return 2;
}

if (options.Command == "stand-ins")
{
    using var stop = new CancellationTokenSource();
    using var interrupt = PosixSignalRegistration.Create(PosixSignal.SIGINT, context =>
    {
        context.Cancel = true;
        stop.Cancel();
    });
    using var terminate = PosixSignalRegistration.Create(PosixSignal.SIGTERM, context =>
    {
        context.Cancel = true;
        stop.Cancel();
    });
    return await StandInConsole.RunAsync(options, stop.Token);
}

Log.Logger = new LoggerConfiguration()
    .MinimumLevel.Information()
    .MinimumLevel.Override("Microsoft", LogEventLevel.Warning)
    // What stands in the way of a start is said below, in one line.
    .MinimumLevel.Override("Microsoft.Extensions.Hosting.Internal.Host", LogEventLevel.Fatal)
    // The keys lie in the data directory with the plant itself and guard nothing more than its forms and passwords; whether they can be
    // read is tried at the start.
    .MinimumLevel.Override("Microsoft.AspNetCore.DataProtection", LogEventLevel.Fatal)
    .WriteTo.Console(
        outputTemplate: "{Timestamp:HH:mm:ss} {Level:u3} {Message:lj}{NewLine}{Exception}",
        formatProvider: System.Globalization.CultureInfo.InvariantCulture
    )
    .CreateLogger();
try
{
    using var store = PlantStore.Open(
        options.PlantFile,
        $"fralto {options.Command} on port {options.Port}",
        startAnew: options is { IsDemo: true, Fresh: true }
    );
    // Said once when it begins and once when it is over, not at every try.
    store.TroubleChanged += trouble =>
    {
        if (trouble is null)
            Log.Information("The plant can be kept again");
        else
            Log.Error("Nothing can be kept: {Words}", trouble.Words);
    };
    var standIns = options.IsDemo
        ? new StandInPlant(
            options.StandInPort,
            Demo.Seed,
            TimeProvider.System,
            options.WithoutUtilityUa ? null : Path.Combine(options.DataDirectory, "utility-ua")
        )
        : null;
    await using var app = FraltoApp.Build(options, store, standIns);
    // What ships with Fralto is trusted; other servers are somebody's to judge.
    standIns?.OnCertificate(app.Services.GetRequiredService<Fralto.Links.OpcUa.UaIdentity>().Trust);
    if (standIns is not null)
        await standIns.OpenAsync();
    FraltoApp.TryKeys(app.Services, options);
    if (standIns is not null)
        Demo.Load(app.Services.GetRequiredService<ModelWorkspace>(), store, standIns);
    await app.StartAsync();
    Console.WriteLine($"Fralto is at http://127.0.0.1:{options.Port}  (Ctrl-C stops it)");
    await app.WaitForShutdownAsync();
    return app.Services.GetRequiredService<PlantRuntime>().Ended.IsFaulted ? 1 : 0;
}
catch (StoreException e)
{
    Console.Error.WriteLine(e.Message);
    return 1;
}
catch (Exception e) when (e is IOException or System.Net.Sockets.SocketException)
{
    Console.Error.WriteLine(
        e is System.Net.Sockets.SocketException or { InnerException: Microsoft.AspNetCore.Connections.AddressInUseException }
            ? $"Port {options.Port}{(options.IsDemo ? $", or {options.StandInPort} or one of the ports after it," : "")} is in use by "
                + $"another program; choose {(options.IsDemo ? "others with --port and --stand-in-ports" : "another with --port")}."
            : $"Fralto cannot start: {e.Message.ReplaceLineEndings(" ")}"
    );
    return 1;
}
finally
{
    await Log.CloseAndFlushAsync();
}
