using BenchmarkDotNet.Attributes;
using Fralto.Core.Planning;
using Fralto.Core.Plant;

namespace Fralto.Bench;

/// <summary>How long compiling a model into a plan takes.</summary>
[MemoryDiagnoser]
[ShortRunJob]
public class PlannerBench
{
    private PlantModel _model = PlantModel.Empty;

    [Params(1_000, 100_000)]
    public int Points { get; set; }

    [GlobalSetup]
    public void Build() => _model = LargePlant.Of(Points);

    // A copy has no look-ups yet, so each run does the whole work.
    [Benchmark]
    public int Compile() => Planner.Compile(_model with { }).Plan.Points.Length;
}
