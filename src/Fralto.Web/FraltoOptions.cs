using System.Globalization;
using Fralto.StandIns.Maltings;

namespace Fralto.Web;

/// <summary>What the command line says.</summary>
/// <param name="Command">serve, demo or stand-ins.</param>
/// <param name="DataDirectory">Where the plant is kept.</param>
/// <param name="Port">Port of the web application, on the loopback interface.</param>
/// <param name="Fresh">True takes an existing demo plant out first.</param>
/// <param name="StandInPort">Port of the first stand-in.</param>
public sealed record FraltoOptions(string Command, string DataDirectory, int Port, bool Fresh, int StandInPort)
{
    public const int DefaultPort = 5080;

    /// <summary>Days of past the demo is given at its first start.</summary>
    public int PastDays { get; init; } = 14;

    /// <summary>True leaves the stand-in utility-ua out, which costs two seconds of a machine at each start.</summary>
    public bool WithoutUtilityUa { get; init; }

    public const string Usage = """
        fralto serve --data DIR [--port 5080]
        fralto demo [--port 5080] [--data DIR] [--fresh] [--stand-in-ports 15500] [--past-days 14] [--without utility-ua]
        fralto stand-ins [--stand-in-ports 15500] [--without utility-ua]
        fralto check MODEL.json
        fralto backup FILE --data DIR
        fralto restore FILE --data DIR
        fralto release export N FILE --data DIR
        fralto release import FILE --data DIR [--map CONTROLLER=HOST:PORT]
        """;

    public bool IsDemo => Command == "demo";

    /// <summary>The file the plant is in.</summary>
    public string PlantFile => Path.Combine(DataDirectory, "plant.db");

    /// <summary>Reads the command line.</summary>
    /// <returns>The options, or what is wrong with the command line.</returns>
    public static (FraltoOptions? Options, string? Problem) Parse(string[] args)
    {
        if (args.Length == 0 || args[0] is not ("serve" or "demo" or "stand-ins"))
            return (null, "Say serve, demo or stand-ins.");
        var options = new FraltoOptions(args[0], args[0] == "demo" ? ".data/demo" : "", DefaultPort, false, StandInPlant.DefaultPort);
        for (var i = 1; i < args.Length; i++)
        {
            if (args[i] == "--fresh" && options.IsDemo)
            {
                options = options with { Fresh = true };
                continue;
            }
            if (i + 1 >= args.Length)
                return (null, $"{args[i]} needs a value, or is not known.");
            var value = args[++i];
            switch (args[i - 1])
            {
                case "--data" when value.Length > 0:
                    options = options with { DataDirectory = value };
                    break;
                case "--port" when PortOf(value) is { } port:
                    options = options with { Port = port };
                    break;
                case "--stand-in-ports" when PortOf(value) is { } port:
                    options = options with { StandInPort = port };
                    break;
                case "--past-days"
                    when options.IsDemo && int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out var days) && days <= 60:
                    options = options with { PastDays = days };
                    break;
                case "--without" when value == StandInPlant.UtilityUaName:
                    options = options with { WithoutUtilityUa = true };
                    break;
                case "--without":
                    return (null, $"--without leaves out utility-ua, and no other stand-in; '{value}' is none that can be left out.");
                case "--past-days":
                    return (null, $"--past-days is 0 to 60 days of the demo's past, not '{value}'.");
                case "--port" or "--stand-in-ports":
                    return (null, $"{args[i - 1]} is a port from 1 to 65535, not '{value}'.");
                default:
                    return (null, $"{args[i - 1]} is not known.");
            }
        }
        return options.Command == "serve" && options.DataDirectory.Length == 0
            ? (null, "serve needs --data DIR: where the plant is kept.")
            : (options, null);
    }

    private static int? PortOf(string text) =>
        int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var port) && port is >= 1 and <= 65535 ? port : null;
}
