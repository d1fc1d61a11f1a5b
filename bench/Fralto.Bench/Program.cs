using System.Globalization;
using Fralto.Bench;

if (args is [] or ["engine"])
{
    EngineThroughput.Run(60);
    return 0;
}
if (args is ["model"])
{
    ModelBench.Run();
    return 0;
}
if (args is ["model", "--write", var file])
{
    ModelBench.Write(file);
    return 0;
}
if (args is ["formulas"])
{
    FormulaBench.Run();
    return 0;
}
if (args is ["alarms", ..])
{
    AlarmBench.Run(args.ElementAtOrDefault(1) is { } rows ? int.Parse(rows, CultureInfo.InvariantCulture) : 1_000_000);
    return 0;
}
if (args is ["grammars", ..])
{
    // How many plants, the first seed, and any third word to list what is wrong.
    GrammarBench.Run(
        args.ElementAtOrDefault(1) is { } plants ? int.Parse(plants, CultureInfo.InvariantCulture) : 500,
        args.ElementAtOrDefault(2) is { } seed ? int.Parse(seed, CultureInfo.InvariantCulture) : null,
        args.Length > 3
    );
    return 0;
}
if (args is ["quarries", ..])
{
    // The first seed, how many of each style, and part of the name of a style to list what is wrong.
    QuarryBench.Run(
        args.ElementAtOrDefault(1) is { } start ? int.Parse(start, CultureInfo.InvariantCulture) : 1,
        args.ElementAtOrDefault(2) is { } many ? int.Parse(many, CultureInfo.InvariantCulture) : 3,
        args.ElementAtOrDefault(3)
    );
    return 0;
}
if (args is ["releases"])
{
    ReleaseBench.Run();
    return 0;
}
if (args is ["history"])
{
    HistoryBench.Run();
    return 0;
}
if (args is ["lists"])
{
    ListsBench.Run();
    return 0;
}
if (args is ["bindings", ..])
{
    BindingsBench.Run(args.ElementAtOrDefault(1));
    return 0;
}
if (args is ["runtime", ..])
{
    await RuntimeBench.RunAsync(args.ElementAtOrDefault(1));
    return 0;
}
if (args is ["links"])
{
    await LinksBench.RunAsync();
    return 0;
}
if (args is ["opcua"])
{
    await UaBench.RunAsync(seconds: 15);
    return 0;
}
if (args is ["links-ua", var nodes, var changes])
{
    await UaBench.ServeAsync(int.Parse(nodes, CultureInfo.InvariantCulture), int.Parse(changes, CultureInfo.InvariantCulture));
    return 0;
}
if (args is ["links-devices"])
{
    await LinksBench.ServeDevicesAsync();
    return 0;
}
if (args is ["links-flood", var rate])
{
    await FloodBroker.RunAsync(int.Parse(rate, CultureInfo.InvariantCulture));
    return 0;
}
if (args is ["planner"])
{
    BenchmarkDotNet.Running.BenchmarkRunner.Run<PlannerBench>();
    return 0;
}
Console.Error.WriteLine(
    string.Create(
        CultureInfo.InvariantCulture,
        $"bench knows: engine (also without a word), model [--write FILE], links, planner, runtime [edits|large], bindings, lists, "
            + $"formulas, alarms [ROWS]; not "
            + $"{string.Join(' ', args)}"
    )
);
return 2;
