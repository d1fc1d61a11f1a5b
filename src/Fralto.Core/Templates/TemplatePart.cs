using Fralto.Core.Basics;

namespace Fralto.Core.Templates;

/// <summary>A child, or several alike, that every instance of a template gets.</summary>
/// <param name="Id">Stable and opaque; the equipment made from it remembers it.</param>
/// <param name="Code">Code of the child; of several, a pattern in which {n} stands for the number.</param>
/// <param name="Name">Name of the child, a pattern likewise.</param>
/// <param name="TemplateId">The template it is an instance of.</param>
/// <param name="Level">The level it stands at.</param>
/// <param name="Count">How many, 1 to <see cref="Most"/>.</param>
public sealed record TemplatePart(long Id, string Code, string Name, long TemplateId, EquipmentLevel Level, int Count)
{
    /// <summary>The most of one part.</summary>
    public const int Most = 200;

    /// <summary>Code and name of each child, in order.</summary>
    public IEnumerable<(string Name, string Code)> Members => new SeriesPattern(Name, Code, 1, 1, Count, 1).Members;
}
