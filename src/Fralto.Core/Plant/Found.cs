namespace Fralto.Core.Plant;

/// <summary>Something found by its name.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="Id">Its id; of a property or a value, the property's.</param>
/// <param name="OwnerId">Of a property its template, of a value its instance, of a tag its controller; else 0.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Where">Path, template or controller: what tells it from others of the same name.</param>
public sealed record Found(FoundKind Kind, long Id, long OwnerId, string Name, string Where);
