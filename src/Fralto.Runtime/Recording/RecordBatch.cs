using Fralto.Core.Planning;
using Fralto.Core.Recording;

namespace Fralto.Runtime.Recording;

/// <summary>Values to be recorded, with the plan their points are of.</summary>
/// <param name="Plan">The plan.</param>
/// <param name="Records">The values, as they came.</param>
/// <param name="At">When they came, in ticks, where that is not now: the past of a demo.</param>
public sealed record RecordBatch(Plan Plan, List<Recorded> Records, long? At = null);
