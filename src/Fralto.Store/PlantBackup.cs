using System.Globalization;
using System.IO.Compression;
using System.Security.Cryptography;
using System.Text.Json;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Fralto.Store;

/// <summary>Copies of a data directory in one file: made beside a running plant, verified when they are made and before they are put
/// back.</summary>
/// <remarks>A backup is a ZIP archive of the files of the plant, each as SQLite's online backup copies it, with the keys that guard its
/// passwords and a manifest of their SHA-256. Whoever has it has the passwords: it is readable by its owner only.</remarks>
public static class PlantBackup
{
    private const string Manifest = "manifest.json";
    private const string Model = "plant.db";
    private const string Run = "run.db";
    private const string History = "history.db";
    private const string Keys = "keys";

    /// <summary>Stands in a directory while a backup is put back into it, and says where what was there before is.</summary>
    private const string Marker = "being-restored";

    private const long MostBytes = 1L << 40;
    private const UnixFileMode OwnersOnly = UnixFileMode.UserRead | UnixFileMode.UserWrite;

    /// <summary>Makes a backup. The plant may run meanwhile.</summary>
    /// <param name="directory">The data directory.</param>
    /// <param name="file">The backup; it must not be there yet.</param>
    /// <param name="clock">The clock.</param>
    /// <param name="withHistory">True with what was recorded, which may be many times as large as all else.</param>
    /// <returns>What is in it.</returns>
    /// <exception cref="StoreException">It was not made; nothing is left of it.</exception>
    public static BackupManifest Make(string directory, string file, TimeProvider clock, bool withHistory)
    {
        if (!File.Exists(Path.Combine(directory, Model)))
            throw new StoreException($"{directory} holds no plant; give its data directory with --data.");
        if (File.Exists(file) || Directory.Exists(file))
            throw new StoreException($"{file} is there already; choose another name.");
        var part = $"{file}.part";
        var copies = Directory.CreateTempSubdirectory("fralto-backup-").FullName;
        try
        {
            // The model last: what the running plant keeps may speak of what has gone, and not of what is not there yet.
            foreach (var name in withHistory ? new[] { History, Run, Model } : [Run, Model])
                if (File.Exists(Path.Combine(directory, name)))
                    Copy(Path.Combine(directory, name), Path.Combine(copies, name));
            var plant = PlantOf(Path.Combine(copies, Model));
            var keys = Path.Combine(directory, Keys);
            var files = Directory
                .EnumerateFiles(copies)
                .Select(f => (Name: Path.GetFileName(f), Path: f))
                .Concat(
                    Directory.Exists(keys)
                        ? Directory.EnumerateFiles(keys, "*.xml").Select(f => (Name: $"{Keys}/{Path.GetFileName(f)}", Path: f))
                        : []
                );
            BackupManifest manifest;
            using (var stream = new FileStream(part, Private(FileMode.Create)))
            {
                using (var archive = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true))
                {
                    manifest = new(
                        BackupManifest.Newest,
                        clock.GetUtcNow(),
                        plant,
                        [.. files.OrderBy(f => f.Name, StringComparer.Ordinal).Select(f => Add(archive, f.Name, f.Path))]
                    );
                    using var entry = archive.CreateEntry(Manifest).Open();
                    JsonSerializer.Serialize(entry, manifest);
                }
                stream.Flush(flushToDisk: true);
            }
            Verify(part);
            File.Move(part, file);
            return manifest;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or SqliteException or InvalidDataException)
        {
            throw new StoreException($"No backup was made: {WordsOf(e)}", e);
        }
        finally
        {
            if (File.Exists(part))
                File.Delete(part);
            Directory.Delete(copies, recursive: true);
        }
    }

    /// <summary>Reads a backup from end to end.</summary>
    /// <param name="file">The backup.</param>
    /// <returns>What is in it.</returns>
    /// <exception cref="StoreException">It is none, or damaged; the message says where.</exception>
    public static BackupManifest Verify(string file)
    {
        try
        {
            using var archive = ZipFile.OpenRead(file);
            var manifest = ManifestOf(archive, file);
            foreach (var part in manifest.Parts)
            {
                var entry = archive.GetEntry(part.Name) ?? throw new StoreException($"{file} is damaged: {part.Name} is missing in it.");
                using var content = entry.Open();
                if (entry.Length != part.Bytes || Convert.ToHexStringLower(SHA256.HashData(content)) != part.Sha256)
                    throw new StoreException($"{file} is damaged: {part.Name} in it is not what it was when the backup was made.");
            }
            return manifest;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or InvalidDataException)
        {
            throw new StoreException($"{file} cannot be read as a backup: {WordsOf(e)}", e);
        }
    }

    /// <summary>Puts a backup back. What was in the directory is moved aside, not lost; history that is not in the backup stays where it
    /// is.</summary>
    /// <param name="file">The backup.</param>
    /// <param name="directory">The data directory; no Fralto may run on it.</param>
    /// <param name="clock">The clock.</param>
    /// <returns>What was in the backup, and where what was there before is; null when there was nothing.</returns>
    /// <exception cref="StoreException">It was not put back; what was there is there still, or the next restore goes on.</exception>
    public static (BackupManifest Manifest, string? Aside) Restore(string file, string directory, TimeProvider clock)
    {
        var manifest = Verify(file);
        var fresh = Path.Combine(directory, ".restored");
        try
        {
            Directory.CreateDirectory(directory);
            using var held = DirectoryLock.Take(directory, "fralto restore");
            if (Directory.Exists(fresh))
                Directory.Delete(fresh, recursive: true);
            Unpack(file, manifest, fresh);
            foreach (var name in new[] { History, Run, Model }.Where(n => File.Exists(Path.Combine(fresh, n))))
                Check(Path.Combine(fresh, name));

            var marker = Path.Combine(directory, Marker);
            var aside = File.Exists(marker)
                ? File.ReadAllText(marker)
                : $"before-restore-{clock.GetUtcNow().ToString("yyyyMMddHHmmss", CultureInfo.InvariantCulture)}";
            WriteWhole(marker, aside);
            var away = Path.Combine(directory, aside);
            Directory.CreateDirectory(away);
            string[] databases = File.Exists(Path.Combine(fresh, History)) ? [Model, Run, History] : [Model, Run];
            foreach (var name in databases.SelectMany(n => new[] { n, $"{n}-wal", $"{n}-shm" }).Append(Keys))
                PutAside(Path.Combine(directory, name), Path.Combine(away, name));
            foreach (var its in Directory.EnumerateFileSystemEntries(fresh))
                Directory.Move(its, Path.Combine(directory, Path.GetFileName(its)));
            var isAside = Directory.EnumerateFileSystemEntries(away).Any();
            if (!isAside)
                Directory.Delete(away);
            File.Delete(marker);
            return (manifest, isAside ? away : null);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or SqliteException or InvalidDataException)
        {
            throw new StoreException($"{file} was not put back into {directory}: {WordsOf(e)}", e);
        }
        finally
        {
            if (Directory.Exists(fresh))
                Directory.Delete(fresh, recursive: true);
        }
    }

    /// <summary>Moves what is there away; what was put there by a restore that was broken off is taken out, for what was there first is
    /// aside already.</summary>
    private static void PutAside(string path, string away)
    {
        if (Path.Exists(path) && !Path.Exists(away))
            Directory.Move(path, away);
        else if (Directory.Exists(path))
            Directory.Delete(path, recursive: true);
        else
            File.Delete(path);
    }

    /// <summary>Refuses a directory into which a backup was put back only in part.</summary>
    /// <exception cref="StoreException">It is one; the message says what to do.</exception>
    internal static void RefuseHalf(string directory)
    {
        if (File.Exists(Path.Combine(directory, Marker)))
            throw new StoreException(
                $"A backup was put back into {directory} only in part. Run the restore again: fralto restore FILE --data {directory}"
            );
    }

    private static void Copy(string from, string to)
    {
        using (var source = Opened(from, SqliteOpenMode.ReadWrite))
        {
            source.Execute("PRAGMA busy_timeout = 10000");
            using var copy = Opened(to, SqliteOpenMode.ReadWriteCreate);
            source.BackupDatabase(copy);
            // A copy is one file.
            copy.Execute("PRAGMA journal_mode = DELETE");
        }
        Check(to);
    }

    /// <summary>Has SQLite look through a file from end to end.</summary>
    private static void Check(string path)
    {
        using var connection = Opened(path, SqliteOpenMode.ReadOnly);
        var said = connection.Query<string>("PRAGMA integrity_check(3)").ToArray();
        if (said is not ["ok"])
            throw new StoreException($"{Path.GetFileName(path)} is damaged: {string.Join("; ", said)}");
    }

    private static string PlantOf(string path)
    {
        using var connection = Opened(path, SqliteOpenMode.ReadOnly);
        return connection.QuerySingleOrDefault<string>("SELECT value FROM meta WHERE key = 'plant'") ?? "";
    }

    private static SqliteConnection Opened(string path, SqliteOpenMode mode)
    {
        var connection = new SqliteConnection(
            new SqliteConnectionStringBuilder
            {
                DataSource = path,
                Mode = mode,
                Pooling = false,
            }.ToString()
        );
        connection.Open();
        return connection;
    }

    private static BackupPart Add(ZipArchive archive, string name, string path)
    {
        using var content = File.OpenRead(path);
        using (var entry = archive.CreateEntry(name, CompressionLevel.Fastest).Open())
            content.CopyTo(entry);
        content.Position = 0;
        return new(name, content.Length, Convert.ToHexStringLower(SHA256.HashData(content)));
    }

    private static BackupManifest ManifestOf(ZipArchive archive, string file)
    {
        BackupManifest? manifest;
        try
        {
            using var stream = archive.GetEntry(Manifest)?.Open()
                ?? throw new StoreException($"{file} is no backup of Fralto: it has no manifest.");
            manifest = JsonSerializer.Deserialize<BackupManifest>(stream);
        }
        catch (JsonException e)
        {
            throw new StoreException($"{file} is damaged: its manifest cannot be read.", e);
        }
        if (manifest?.Parts is null || manifest.Parts.All(p => p.Name != Model))
            throw new StoreException($"{file} is no backup of Fralto: there is no plant in it.");
        if (manifest.Format > BackupManifest.Newest)
            throw new StoreException($"{file} was made by a newer Fralto (form {manifest.Format}); use that one.");
        // Nothing else is unpacked, so that no name leads out of the directory.
        if (manifest.Parts.FirstOrDefault(p => !IsKnown(p.Name)) is { } strange)
            throw new StoreException($"{file} is no backup of Fralto: {strange.Name} does not belong in one.");
        if (manifest.Bytes > MostBytes)
            throw new StoreException($"{file} says it holds {manifest.Bytes} bytes; that is no backup of Fralto.");
        return manifest;
    }

    private static bool IsKnown(string name) =>
        name is Model or Run or History
        || name.StartsWith($"{Keys}/", StringComparison.Ordinal)
            && name.EndsWith(".xml", StringComparison.Ordinal)
            && name[(Keys.Length + 1)..].All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '.')
            && !name.Contains("..", StringComparison.Ordinal);

    private static void Unpack(string file, BackupManifest manifest, string directory)
    {
        Directory.CreateDirectory(Path.Combine(directory, Keys));
        using var archive = ZipFile.OpenRead(file);
        foreach (var part in manifest.Parts)
        {
            using var content = archive.GetEntry(part.Name)!.Open();
            using var stream = new FileStream(Path.Combine(directory, part.Name), Private(FileMode.CreateNew));
            content.CopyTo(stream);
            stream.Flush(flushToDisk: true);
        }
    }

    private static void WriteWhole(string path, string text)
    {
        using var stream = new FileStream(path, Private(FileMode.Create));
        stream.Write(System.Text.Encoding.UTF8.GetBytes(text));
        stream.Flush(flushToDisk: true);
    }

    private static FileStreamOptions Private(FileMode mode)
    {
        var options = new FileStreamOptions { Mode = mode, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows())
            options.UnixCreateMode = OwnersOnly;
        return options;
    }

    private static string WordsOf(Exception e) => e is SqliteException s ? SqliteFile.Words(s) : e.Message;
}
