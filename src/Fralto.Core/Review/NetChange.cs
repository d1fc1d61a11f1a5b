using Fralto.Core.Plant;

namespace Fralto.Core.Review;

/// <summary>What has become of one entity since a model, however many edits it took, and who changed it last.</summary>
/// <param name="Change">The entity as it was in that model, and as it is now.</param>
/// <param name="Who">Who changed it last; empty when that is not known.</param>
/// <param name="At">When; the beginning of time when that is not known.</param>
public sealed record NetChange(ModelChange Change, string Who, DateTimeOffset At);
