using BenchmarkDotNet.Attributes;
using ClearTide.Bench.HandWritten;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench;

/// <summary>One call of the right-hand side. Target: at most 1.3 of hand-written. A thousand calls feed each other, so that none is
/// skipped.</summary>
public unsafe class RightHandSideBench
{
    private const int Calls = 1000;
    private readonly CompiledModel _model = Seir.Compile();
    private readonly double[] _memory = GC.AllocateArray<double>(16, pinned: true);

    [Benchmark(Baseline = true, OperationsPerInvoke = Calls)]
    public double Hand()
    {
        fixed (double* m = _memory)
        {
            Fill(m, m + 8, [Seir.Beta, Seir.Sigma, Seir.Gamma]);
            for (var k = 0; k < Calls; k++)
            {
                SeirRightHandSide.Evaluate(m, m + 8, m + 4);
                m[0] += 1e-9 * m[4];
            }
            return m[0];
        }
    }

    [Benchmark(OperationsPerInvoke = Calls)]
    public double Compiled()
    {
        fixed (double* m = _memory)
        {
            Fill(m, m + 8, _model.Network.ValueVector());
            var f = _model.RightHandSide;
            for (var k = 0; k < Calls; k++)
            {
                f(0, m, m + 8, m + 4);
                m[0] += 1e-9 * m[4];
            }
            return m[0];
        }
    }

    private static void Fill(double* y, double* p, double[] values)
    {
        (y[0], y[1], y[2], y[3]) = (14000, 800, 1000, 2600);
        for (var k = 0; k < values.Length; k++)
            p[k] = values[k];
    }
}
