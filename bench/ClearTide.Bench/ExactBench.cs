using BenchmarkDotNet.Attributes;
using ClearTide.Bench.HandWritten;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Bench;

/// <summary>
/// A year of the epidemic among 10,000 by exact simulation, the same random numbers in both. Target: at least 0.75 of the transitions per
/// second of hand-written, that is a ratio of times of at most 1.33.
/// </summary>
public class ExactBench
{
    private const double Population = 10_000;
    private readonly CompiledModel _model = Seir.Compile(Population);
    private readonly NextReactionSimulator _simulation;
    private readonly double[] _values;
    private readonly double[] _start;

    public ExactBench()
    {
        _values = _model.Network.ValueVector();
        _start = _model.InitialState(_values);
        _simulation = new(_model);
        if (Simulated() != Hand())
            throw new InvalidOperationException("The two variants disagree.");
    }

    [Benchmark(Baseline = true)]
    public long Hand() => SeirExact.Run(Population, 1, 3);

    [Benchmark]
    public long Simulated() =>
        _simulation
            .Run(
                new(_model, _values, [0, Seir.Days])
                {
                    Start = _start,
                    Seed = 1,
                    Replicate = 3,
                }
            )
            .Transitions;
}
