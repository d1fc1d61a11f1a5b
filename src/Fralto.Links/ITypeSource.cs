using Fralto.Core.Exchange;

namespace Fralto.Links;

/// <summary>A link to a server that knows types of objects.</summary>
public interface ITypeSource
{
    /// <summary>The object types the server has beside those of the standard.</summary>
    /// <exception cref="LinkException">They could not be listed.</exception>
    Task<IReadOnlyList<ServerType>> TypesAsync(CancellationToken stop);

    /// <summary>A type with what it is made of, and the objects that are of it with their variables.</summary>
    /// <param name="node">The type, or an object of it.</param>
    /// <param name="stop">Cancels.</param>
    /// <exception cref="LinkException">It could not be read.</exception>
    Task<TypeLibrary> LibraryAsync(string node, CancellationToken stop);
}
