namespace Fralto.Store;

/// <summary>What a journal entry is.</summary>
public enum JournalKind
{
    Edit,

    /// <summary>Takes an edit back.</summary>
    Undo,

    /// <summary>Makes an edit again that was taken back.</summary>
    Redo,
}
