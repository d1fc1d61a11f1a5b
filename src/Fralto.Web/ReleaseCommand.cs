using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Store;

namespace Fralto.Web;

/// <summary>Takes releases from one plant to another: fralto release export N FILE --data DIR, also beside a running plant; fralto release
/// import FILE --data DIR [--map CONTROLLER=HOST:PORT].</summary>
internal static class ReleaseCommand
{
    public const string Usage = """
        fralto release export N FILE --data DIR
        fralto release import FILE --data DIR [--map CONTROLLER=HOST:PORT]...
        """;

    /// <returns>0 when it was done, 1 when it could not be, 2 when the command line is wrong.</returns>
    public static int Run(string[] args, TextWriter output, TextWriter errors)
    {
        var (rest, map, directory) = (new List<string>(), new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase), "");
        for (var i = 1; i < args.Length; i++)
            if (args[i] == "--data" && i + 1 < args.Length)
                directory = args[++i];
            else if (args[i] == "--map" && i + 1 < args.Length && args[i + 1].Split('=', 2) is [var name, var place])
            {
                map[name] = place;
                i++;
            }
            else
                rest.Add(args[i]);
        try
        {
            return (rest, directory.Length) switch
            {
                (["export", var number, var file], > 0) when int.TryParse(number, out var n) => Export(n, file, directory, output, errors),
                (["import", var file], > 0) => Import(file, directory, map, output, errors),
                _ => Wrong(errors),
            };
        }
        catch (Exception e) when (e is StoreException or IOException or UnauthorizedAccessException)
        {
            errors.WriteLine(e.Message);
            return 1;
        }
    }

    private static int Wrong(TextWriter errors)
    {
        errors.WriteLine(Usage);
        return 2;
    }

    private static int Export(int number, string file, string directory, TextWriter output, TextWriter errors)
    {
        if (ReleaseStore.Look(directory, number) is not var (release, content))
        {
            errors.WriteLine($"The plant in {directory} has no release {number}.");
            return 1;
        }
        if (File.Exists(file))
        {
            errors.WriteLine($"{file} is there already; choose another name.");
            return 1;
        }
        var bytes = new ReleaseFile(
            ReleaseFile.FormatName,
            ReleaseFile.Newest,
            release.Number,
            release.At,
            release.Who,
            release.Note,
            ModelFormat.DocumentOf(content.Thaw())
        ).Write();
        File.WriteAllBytes($"{file}.part", bytes);
        File.Move($"{file}.part", file);
        output.WriteLine($"{file}: release {release.Number}, {release.Note}");
        return 0;
    }

    private static int Import(string file, string directory, Dictionary<string, string> map, TextWriter output, TextWriter errors)
    {
        if (ReleaseFile.Read(File.ReadAllBytes(file), out var problem) is not { } release)
        {
            errors.WriteLine($"{file}: {problem!.Field} {problem.Message}".Replace(":  ", ": ", StringComparison.Ordinal));
            return 1;
        }
        if (release.Mapped(map, out var wrong) is not { } model)
        {
            errors.WriteLine(wrong);
            return 1;
        }
        using var store = PlantStore.Open(Path.Combine(directory, "plant.db"), "fralto release import");
        var workspace = new ModelWorkspace(store, TimeProvider.System);
        var outcome = workspace.Do(TakenIn(release, model), new Actor("command line", ActorRights.All));
        foreach (var one in outcome.Problems.Take(10))
            errors.WriteLine($"{one.Field}: {one.Message}");
        if (outcome.IsRefused)
            return 1;
        output.WriteLine($"{directory}: release {release.Number}, {release.Note}, is the working model now; review and release it there.");
        return 0;
    }

    /// <summary>The edit that takes a release in.</summary>
    internal static Edit TakenIn(ReleaseFile release, ModelDocument model) =>
        new Several([new ReplaceModel(model)], $"Take in release {release.Number} of another plant: {release.Note}");
}
