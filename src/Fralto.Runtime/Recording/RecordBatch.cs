using Fralto.Core.Planning;
using Fralto.Core.Recording;

namespace Fralto.Runtime.Recording;

/// <summary>Values to be recorded, with the plan their points are of.</summary>
/// <param name="Plan">The plan.</param>
/// <param name="Records">The values, as they came.</param>
public sealed record RecordBatch(Plan Plan, List<Recorded> Records);
