using System.Collections.Immutable;
using Fralto.Core.Scaling;

namespace Fralto.Core.Diagnosis;

/// <summary>Raw numbers of one instance's tag, watched for a while.</summary>
/// <param name="Name">The instance.</param>
/// <param name="TagId">The tag.</param>
/// <param name="Type">Its raw type.</param>
/// <param name="Order">Its order of words and bytes.</param>
/// <param name="Raw">The Good readings, oldest first, after any slice.</param>
public sealed record RawWatch(string Name, long TagId, RawType Type, WordOrder Order, ImmutableArray<double> Raw);
