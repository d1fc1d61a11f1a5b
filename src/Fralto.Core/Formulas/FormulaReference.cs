namespace Fralto.Core.Formulas;

/// <summary>A property a formula names.</summary>
/// <param name="Place">Where it is looked for.</param>
/// <param name="Up">How many places above; 0 for the instance itself.</param>
/// <param name="Path">Codes joined by dots: parts or children, then the property.</param>
public sealed record FormulaReference(ReferencePlace Place, int Up, string Path)
{
    /// <summary>Codes of the parts on the way.</summary>
    public IEnumerable<string> Parts => Path.Split('.').SkipLast(1);

    /// <summary>Code of the property.</summary>
    public string Code => Path[(Path.LastIndexOf('.') + 1)..];

    /// <inheritdoc/>
    public override string ToString() =>
        Place switch
        {
            ReferencePlace.Above => string.Concat(Enumerable.Repeat("above.", Up)) + Path,
            ReferencePlace.Nearest => "nearest." + Path,
            _ => Path,
        };
}
