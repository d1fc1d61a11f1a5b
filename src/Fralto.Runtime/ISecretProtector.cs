namespace Fralto.Runtime;

/// <summary>Keeps secrets unreadable on disk.</summary>
public interface ISecretProtector
{
    /// <summary>What is kept of a secret.</summary>
    string Protect(string secret);

    /// <summary>The secret of what was kept; null when it was kept with other keys.</summary>
    string? Unprotect(string kept);
}
