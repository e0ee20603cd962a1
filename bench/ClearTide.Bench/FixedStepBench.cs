using BenchmarkDotNet.Attributes;
using ClearTide.Bench.HandWritten;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench;

/// <summary>A year of the epidemic by classic Runge–Kutta at a quarter of a day. Target: at most 1.3 of hand-written.</summary>
public class FixedStepBench
{
    private readonly CompiledModel _model = Seir.Compile();
    private readonly double[] _values;
    private readonly double[] _start;
    private readonly RungeKutta4 _solver;

    public FixedStepBench()
    {
        _values = _model.Network.ValueVector();
        _start = _model.InitialState(_values);
        _solver = new(_model.RightHandSide, 4, _values.Length, 0.25);
    }

    [Benchmark(Baseline = true)]
    public double Hand() => SeirRungeKutta.Run(0.25, Seir.Days);

    [Benchmark]
    public double Solver()
    {
        _solver.Start(0, _start, _values);
        while (_solver.Time < Seir.Days)
            _solver.Step(Seir.Days);
        return _solver.State[3];
    }
}
