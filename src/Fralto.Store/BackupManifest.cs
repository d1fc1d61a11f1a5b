namespace Fralto.Store;

/// <summary>What stands in a backup.</summary>
/// <param name="Format">Version of the form of backups.</param>
/// <param name="At">When it was made.</param>
/// <param name="Plant">What tells the plant from others.</param>
/// <param name="Parts">The files in it.</param>
public sealed record BackupManifest(int Format, DateTimeOffset At, string Plant, IReadOnlyList<BackupPart> Parts)
{
    /// <summary>The form that is written.</summary>
    public const int Newest = 1;

    /// <summary>Size of all files, in bytes.</summary>
    public long Bytes => Parts.Sum(p => p.Bytes);
}
