using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>A binding that rules are learned from.</summary>
/// <param name="Instance">The instance.</param>
/// <param name="Position">The tag's position among all tags.</param>
/// <param name="Slice">The part of the tag.</param>
/// <param name="Count">Elements of the tag.</param>
internal sealed record Example(InstanceNames Instance, int Position, Slice? Slice, int Count);
