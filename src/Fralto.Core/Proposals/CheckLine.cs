using Fralto.Core.Bindings;
using Fralto.Core.Hierarchy;
using Fralto.Core.Properties;

namespace Fralto.Core.Proposals;

/// <summary>A binding that is to be looked at on the plant.</summary>
/// <param name="Instance">The instance.</param>
/// <param name="Property">The property, as its template has it.</param>
/// <param name="Binding">The binding.</param>
/// <param name="Position">Where the instance stands in the order of the plant.</param>
public sealed record CheckLine(Equipment Instance, ResolvedProperty Property, PropertyBinding Binding, int Position);
