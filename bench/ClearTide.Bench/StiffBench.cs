using BenchmarkDotNet.Attributes;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench;

/// <summary>The stiff method on Robertson's reactions to 4e10 and on Van der Pol's oscillator with mu = 1000 over two periods, and
/// finding stiffness by itself.</summary>
public class StiffBench
{
    private const string Robertson = "A -> B at 0.04; B -> C : 3e7 * B ^ 2; B -> A : 1e4 * B * C; A(0) = 1";
    private const string VanDerPol = "-> x : v; -> v : 1000 * (1 - x ^ 2) * v - x; x(0) = 2; v(0) = 0";

    private readonly CompiledModel _robertson = Of(Robertson),
        _vanDerPol = Of(VanDerPol);

    private static CompiledModel Of(string lines) =>
        new(Lowering.Lower(new AddLines(lines).Apply(new StudyDocument { Title = "Stiff" }).Document!).Network);

    [Benchmark]
    public int RobertsonStiff() =>
        Run(
            _robertson,
            4e10,
            new()
            {
                Method = Method.Stiff,
                RelativeTolerance = 1e-4,
                AbsoluteTolerances = [1e-8, 1e-14, 1e-6],
            }
        );

    [Benchmark]
    public int RobertsonAutomatic() => Run(_robertson, 4e10, new() { RelativeTolerance = 1e-4, AbsoluteTolerances = [1e-8, 1e-14, 1e-6] });

    [Benchmark]
    public int VanDerPolStiff() =>
        Run(
            _vanDerPol,
            3228,
            new()
            {
                Method = Method.Stiff,
                RelativeTolerance = 1e-6,
                AbsoluteTolerance = 1e-6,
            }
        );

    [Benchmark]
    public int VanDerPolAutomatic() => Run(_vanDerPol, 3228, new() { RelativeTolerance = 1e-6, AbsoluteTolerance = 1e-6 });

    private static int Run(CompiledModel model, double end, SolverSettings settings)
    {
        var values = model.Network.ValueVector();
        return Engines.Run(new(model, values, [0, end]) { Settings = settings }).Steps;
    }
}
