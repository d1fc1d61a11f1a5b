namespace Fralto.Store;

/// <summary>Nothing can be kept at present.</summary>
/// <param name="Words">Why, in words: the disk is full, the file is read-only.</param>
/// <param name="Since">Since when.</param>
public sealed record StorageTrouble(string Words, DateTimeOffset Since);
