using System.Collections.Immutable;

namespace Fralto.Core.OpcUa;

/// <summary>How an OPC UA connection is secured: a policy and a mode (OPC UA Part 7, clause 6.6; Part 4, clause 7.20).</summary>
/// <param name="Policy">Name of the policy, as its address ends: Basic256Sha256; None for none.</param>
/// <param name="Mode">None, Sign, or SignAndEncrypt.</param>
public sealed record UaSecurity(string Policy, string Mode)
{
    /// <summary>Nothing is signed and nothing encrypted.</summary>
    public static readonly UaSecurity None = new("None", "None");

    /// <summary>What is asked for when nothing else is said.</summary>
    public static readonly UaSecurity Usual = new("Basic256Sha256", "SignAndEncrypt");

    private static readonly ImmutableArray<(string Policy, bool IsOld)> Policies =
    [
        ("Aes256_Sha256_RsaPss", false),
        ("Aes128_Sha256_RsaOaep", false),
        ("Basic256Sha256", false),
        ("Basic256", true),
    ];

    /// <summary>All that can be chosen, the strongest first.</summary>
    /// <remarks>Basic128Rsa15 is not among them: its padding can be attacked (CVE-2023-46809), and Node.js no longer decrypts it.</remarks>
    public static ImmutableArray<UaSecurity> All { get; } =
    [.. Policies.SelectMany(p => new[] { new UaSecurity(p.Policy, "SignAndEncrypt"), new UaSecurity(p.Policy, "Sign") }), None];

    /// <summary>True where messages are at least signed.</summary>
    public bool IsSecured => Mode != "None";

    /// <summary>True for policies the standard calls deprecated, for their SHA-1.</summary>
    public bool IsOld => Policies.Any(p => p.Policy == Policy && p.IsOld);

    /// <summary>How good it is, to put the best first.</summary>
    public int Rank => All.IndexOf(this) is >= 0 and var at ? at : int.MaxValue;

    /// <summary>As it is kept: policy and mode, parted by a blank.</summary>
    public string Text => IsSecured ? $"{Policy} {Mode}" : "None";

    /// <summary>In words.</summary>
    public string Words =>
        Mode switch
        {
            "SignAndEncrypt" => $"{Policy}, signed and encrypted",
            "Sign" => $"{Policy}, signed",
            _ => "none: anybody on the way can read and change what is sent",
        } + (IsOld ? " (out of date)" : "");

    /// <summary>What a text says; null when it is none of those there are.</summary>
    public static UaSecurity? Find(string text) => All.FirstOrDefault(s => s.Text == text);
}
