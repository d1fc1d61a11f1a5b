using Fralto.Core.Controllers;

namespace Fralto.Core.Engine;

/// <summary>Samples that came together.</summary>
/// <param name="Samples">The samples, in the order they were taken, each with the time its source gives.</param>
/// <param name="Arrived">When they came here.</param>
/// <param name="IsHistorical">True for values of the past that a source hands in later: they are for what keeps history, and no value of
/// now.</param>
public sealed record SampleBatch(Sample[] Samples, Moment Arrived, bool IsHistorical = false);
