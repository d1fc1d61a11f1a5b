namespace Fralto.Runtime.Tests;

/// <summary>Keeps a secret written backwards behind a mark; what has no mark was kept by somebody else.</summary>
internal sealed class MirrorProtector : ISecretProtector
{
    private const string Mark = "mirrored:";

    public string Protect(string secret) => Mark + new string([.. secret.Reverse()]);

    public string? Unprotect(string kept) =>
        kept.StartsWith(Mark, StringComparison.Ordinal) ? new([.. kept[Mark.Length..].Reverse()]) : null;
}
