using System.Globalization;
using Fralto.Store;

namespace Fralto.Web;

/// <summary>Copies a plant to one file and back: fralto backup FILE --data DIR, fralto restore FILE --data DIR.</summary>
internal static class BackupCommand
{
    private const double Megabyte = 1024 * 1024;

    /// <returns>0 when it was done, 1 when it could not be, 2 when the command line is wrong.</returns>
    public static int Run(string[] args, TextWriter output, TextWriter errors)
    {
        var (isBackup, rest) = (args[0] == "backup", args.Skip(1).ToList());
        var at = rest.IndexOf("--data");
        var directory = at >= 0 && at + 1 < rest.Count ? rest[at + 1] : "";
        if (directory.Length > 0)
            rest.RemoveRange(at, 2);
        var withHistory = !(isBackup && rest.Remove("--without-history"));
        if (directory.Length == 0 || rest is not [{ Length: > 0 } file] || file.StartsWith("--", StringComparison.Ordinal))
        {
            errors.WriteLine(
                $"Say the file and the data directory: fralto {args[0]} FILE --data DIR{(isBackup ? " [--without-history]" : "")}"
            );
            return 2;
        }
        try
        {
            if (isBackup)
                output.WriteLine($"{file}: {Words(PlantBackup.Make(directory, file, TimeProvider.System, withHistory))}, verified");
            else
            {
                var (manifest, aside) = PlantBackup.Restore(file, directory, TimeProvider.System);
                output.WriteLine($"{directory}: {Words(manifest)}, put back");
                if (aside is not null)
                    output.WriteLine($"What was there before is in {aside}.");
            }
            return 0;
        }
        catch (StoreException e)
        {
            errors.WriteLine(e.Message);
            return 1;
        }
    }

    private static string Words(BackupManifest manifest) =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"the plant of {manifest.At:yyyy-MM-dd HH:mm:ss} UTC, {manifest.Parts.Count} files, {manifest.Bytes / Megabyte:0.0} MB"
        );
}
