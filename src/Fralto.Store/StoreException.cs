namespace Fralto.Store;

/// <summary>A plant's file cannot be opened, read or written; the message says so in one line.</summary>
public sealed class StoreException(string message, Exception? inner = null) : Exception(message, inner);
