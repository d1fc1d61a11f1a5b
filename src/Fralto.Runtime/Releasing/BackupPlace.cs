namespace Fralto.Runtime.Releasing;

/// <summary>Where the plant is kept, and where copies of it go before each release.</summary>
/// <param name="DataDirectory">The directory of the plant.</param>
public sealed record BackupPlace(string DataDirectory)
{
    /// <summary>How many copies made before releases are kept.</summary>
    public const int Kept = 10;

    /// <summary>The directory of the copies.</summary>
    public string Directory => Path.Combine(DataDirectory, "backups");
}
