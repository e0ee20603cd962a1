using BenchmarkDotNet.Attributes;
using ClearTide.Core.Compilation;
using ClearTide.Core.Expressions;

namespace ClearTide.Bench;

/// <summary>Compiling the right-hand side of the large model (60 compartments, 150 flows) anew each time. Target for 50 compartments:
/// under 10 ms.</summary>
public class CompileBench
{
    private int _next;

    [Benchmark]
    public unsafe double CompileAndCall()
    {
        var study = LargeModel.Study();
        var form = Lowering.Lower(study.With(study.Flows[0] with { Rate = $"{study.Flows[0].Rate} * (1 + 0.{++_next} * t)" })).Network;
        var f = GraphCompiler.Compile(form.Graph, form.Derivatives());
        double[] state = new double[form.States.Count],
            slope = new double[form.States.Count],
            values = form.ValueVector();
        fixed (double* y = state)
        fixed (double* p = values)
        fixed (double* r = slope)
            f(0, y, p, r);
        return slope[0];
    }

    [Benchmark]
    public object CheckAlone() => Lowering.Lower(LargeModel.Study());
}
