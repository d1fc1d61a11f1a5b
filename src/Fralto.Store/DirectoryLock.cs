using System.Globalization;

namespace Fralto.Store;

/// <summary>Keeps a data directory to one process: two that write over each other lose what was acknowledged. Ends with the process,
/// however that ends.</summary>
internal sealed class DirectoryLock : IDisposable
{
    private const string LockName = "in-use",
        HolderName = "in-use.by";
    private readonly FileStream _held;

    private DirectoryLock(FileStream held) => _held = held;

    /// <summary>Takes a directory.</summary>
    /// <param name="directory">The directory; it exists.</param>
    /// <param name="holder">What takes it, for whoever comes second.</param>
    /// <exception cref="StoreException">Another process has it; the message says which.</exception>
    public static DirectoryLock Take(string directory, string holder)
    {
        var note = Path.Combine(directory, HolderName);
        FileStream held;
        try
        {
            held = new FileStream(Path.Combine(directory, LockName), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
        }
        catch (IOException e) when (e is not (DirectoryNotFoundException or FileNotFoundException or PathTooLongException) && IsHeld(e))
        {
            throw new StoreException(
                $"{directory} is in use{HolderOf(note)}. Stop that one first, or give another directory with --data.",
                e
            );
        }
        try
        {
            File.WriteAllText(
                note,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{holder}, process {Environment.ProcessId}, since {DateTimeOffset.Now:yyyy-MM-dd HH:mm:ss}"
                )
            );
        }
        catch (IOException)
        {
            // A full disk: the lock is held all the same, only the second comer will not read by whom.
        }
        return new(held);
    }

    public void Dispose() => _held.Dispose();

    // A lock that another holds is EWOULDBLOCK (11 on Linux); anything else is a fault of the directory.
    private static bool IsHeld(IOException e) => (e.HResult & 0xFFFF) is 11 or 32 or 33;

    private static string HolderOf(string note)
    {
        try
        {
            return $" by {File.ReadAllText(note).Trim()}";
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return " by another Fralto";
        }
    }
}
