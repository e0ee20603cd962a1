using BenchmarkDotNet.Attributes;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench;

/// <summary>A thousand years of the epidemic with different transmission, on both cores, at 1e-6 with daily output. Target: under 40 ms
/// in lockstep.</summary>
public class SweepBench
{
    private const int Count = 1000;

    private readonly CompiledModel _model = Seir.Compile();
    private readonly double[] _times = OutputTimes.Every(0, Seir.Days, 1);
    private readonly double[][] _sets;
    private readonly SolverSettings _settings = SolverSettings.Default with
    {
        Method = Method.Adaptive,
        RelativeTolerance = 1e-6,
        AbsoluteTolerance = 1e-6,
    };

    public SweepBench()
    {
        var at = _model.Network.IndexOf("beta");
        _sets =
        [
            .. Enumerable
                .Range(0, Count)
                .Select(run =>
                {
                    var set = _model.Network.ValueVector();
                    set[at] = 0.25 + 0.0005 * run;
                    return set;
                }),
        ];
    }

    [Benchmark(Baseline = true)]
    public double[]?[] Alone()
    {
        var results = new double[]?[Count];
        Parallel.For(0, Count, new ParallelOptions { MaxDegreeOfParallelism = 2 }, run =>
        {
            var path = Engines.Run(new(_model, _sets[run], _times) { Settings = _settings });
            results[run] = [path.State(_times.Length - 1, 3)];
        });
        return results;
    }

    [Benchmark]
    public SweepRun[] Lockstep() => Run(2);

    [Benchmark]
    public SweepRun[] LockstepOneCore() => Run(1);

    private SweepRun[] Run(int threads)
    {
        var results = new SweepRun[Count];
        var sweep = new Sweep(_model, _times, _settings, [0, 1, 2, 3]);
        Parallel.For(0, Sweep.Blocks(Count), new ParallelOptions { MaxDegreeOfParallelism = threads }, block =>
            sweep.RunBlock(block, _sets, results)
        );
        return results;
    }
}
