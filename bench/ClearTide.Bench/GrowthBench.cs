using System.Globalization;
using BenchmarkDotNet.Attributes;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench;

/// <summary>
/// Cost against the number of compartments, three flows each: a ring in which each compartment feeds the next, the one after that, and
/// loses some
/// in proportion to a neighbour. Targets: per compartment at 1,000 at most twice that at 50; a stiff solve of 1,000 and its conserved
/// totals each
/// under a second.
/// </summary>
public class GrowthBench
{
    private CompiledModel _model = null!;
    private double[] _values = [],
        _start = [],
        _slope = [];

    [Params(10, 50, 100, 1000)]
    public int Compartments { get; set; }

    [GlobalSetup]
    public void Setup()
    {
        string Number(double value) => value.ToString("R", CultureInfo.InvariantCulture);
        Flow Of(int k, int step, RateKind kind, string rate) =>
            new($"f{3 * k + step % 3}{step}", "", $"c{k}", [new($"c{(k + step) % Compartments}")], kind, rate);
        var ring = Enumerable.Range(0, Compartments).ToList();
        // Made part by part: more than may be typed at once.
        _model = new(
            Lowering
                .Lower(
                    new StudyDocument
                    {
                        Title = "Ring",
                        End = 10,
                        Compartments = [.. ring.Select(k => new Compartment($"c{k}", $"x{k}", $"x{k}", $"{1 + k % 5}", 0, 0))],
                        Flows =
                        [
                            .. ring.SelectMany(k =>
                                new[]
                                {
                                    Of(k, 1, RateKind.PerHead, Number(0.5 + 0.5 * (k % 7))),
                                    Of(k, 2, RateKind.PerHead, Number(0.1 + 0.1 * (k % 3))),
                                    Of(k, Compartments - 1, RateKind.Whole, $"0.01 * x{k} * x{(k + Compartments - 1) % Compartments}"),
                                }
                            ),
                        ],
                    }
                )
                .Network
        );
        _values = _model.Network.ValueVector();
        _start = _model.InitialState(_values);
        _slope = new double[_start.Length];
    }

    [Benchmark]
    public unsafe double RightHandSide()
    {
        fixed (double* y = _start)
        fixed (double* p = _values)
        fixed (double* f = _slope)
            _model.RightHandSide(0, y, p, f);
        return _slope[0];
    }

    [Benchmark]
    public double AdaptiveSolve() => Solve(Method.Adaptive);

    [Benchmark]
    public double StiffSolve() => Solve(Method.Stiff);

    [Benchmark]
    public int ConservedTotals() => ConservedTotal.Of(_model.Network).Count;

    private double Solve(Method method) =>
        Engines
            .Run(
                new(_model, _values, [0, 10])
                {
                    Settings = SolverSettings.Default with { Method = method, RelativeTolerance = 1e-6, AbsoluteTolerance = 1e-8 },
                    Start = _start,
                }
            )
            .State(1, 0);
}
