namespace Fralto.Store;

/// <summary>A file in a backup.</summary>
/// <param name="Name">Its name in the data directory.</param>
/// <param name="Bytes">Its size.</param>
/// <param name="Sha256">SHA-256 of what is in it, in hexadecimal digits.</param>
public sealed record BackupPart(string Name, long Bytes, string Sha256);
