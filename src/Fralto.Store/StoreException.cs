namespace Fralto.Store;

/// <summary>The data directory cannot be used; the message says why and what to do.</summary>
public sealed class StoreException(string message, Exception? inner = null) : Exception(message, inner);
