using BenchmarkDotNet.Attributes;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;

namespace ClearTide.Bench;

/// <summary>Exact chance replicates of the epidemic on one core and on two. Target: two at least 1.75 times one.</summary>
public class CoresBench
{
    private const int Replicates = 64;

    private readonly Projection _projection;

    public CoresBench()
    {
        var study = Seir.Study() with { End = 200 };
        _projection = new(
            study,
            new(new("o", "data", "cases", study.Flows[0].Id, "1"), new("data", "cases", [new(0, 7, 5)])),
            new(Replicates, 1, new Dictionary<ValueAddress, double>())
        );
    }

    [Benchmark(Baseline = true)]
    public int One() => Run(1);

    [Benchmark]
    public int Two() => Run(2);

    private int Run(int cores)
    {
        Parallel.For(0, cores, new ParallelOptions { MaxDegreeOfParallelism = cores }, core =>
        {
            var worker = _projection.CreateWorker();
            for (var replicate = core; replicate < Replicates; replicate += cores)
                worker.Run(0, replicate, default);
        });
        return Replicates;
    }
}
