using BenchmarkDotNet.Attributes;
using ClearTide.Bench.HandWritten;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench;

/// <summary>A year of the epidemic by Dormand–Prince at 1e-6 with daily continuous output. Target: at most 1.15 of hand-written.</summary>
public class AdaptiveSolveBench
{
    private readonly CompiledModel _model = Seir.Compile();
    private readonly SeirDormandPrince _hand = new();
    private readonly double[] _output = new double[4 * 366];
    private readonly double[] _values;
    private readonly double[] _start;
    private readonly DormandPrince _solver;

    public AdaptiveSolveBench()
    {
        _values = _model.Network.ValueVector();
        _start = _model.InitialState(_values);
        _solver = new(_model.RightHandSide, 4, _values.Length, new(1e-6, [1e-6], 4));
    }

    [Benchmark(Baseline = true)]
    public double Hand() => _hand.Run(1e-6, Seir.Days, _output);

    [Benchmark]
    public double Solver()
    {
        _solver.Start(0, _start, _values);
        var sampled = 0;
        while (_solver.Time < Seir.Days)
        {
            _solver.Step(Seir.Days);
            while (sampled <= 365 && sampled <= _solver.Time)
                _solver.At(sampled, _output.AsSpan(4 * sampled++, 4));
        }
        return _solver.State[3];
    }
}
