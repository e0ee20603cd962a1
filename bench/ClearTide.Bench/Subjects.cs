using System.Diagnostics;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench;

/// <summary>
/// A thousand subjects with two compartments beside the gut, 14 doses by mouth and 200 output times, in lockstep lanes and each alone, in
/// turn (wanted: under 60 ms in lanes); and the first fifty of them, which a screen shows first (100 ms).
/// </summary>
internal static class Subjects
{
    private const int Count = 1000,
        Rounds = 15;

    public static void Run()
    {
        const string lines =
            "G -> C at ka; C -> at CL / V; C -> P at Q / V; P -> C at Q / W; G(0) = 0; C(0) = 0; P(0) = 0; ka = 0.6; CL = 3.15; V = 40; "
            + "Q = 4; W = 30; 200 into G every 12 hours for 7 days, first dose doubled";
        var study = new AddLines(lines)
            .Apply(
                new StudyDocument
                {
                    Title = "subjects",
                    End = 168,
                    TimeUnit = TimeUnit.Hour,
                }
            )
            .Document!;
        var group = new SubjectGroup(
            Count,
            [new("CL", VariationLaw.LogNormal, 0.24), new("V", VariationLaw.LogNormal, 0.15), new("ka", VariationLaw.LogNormal, 0.45)],
            [new("CL", "V", 0.45)]
        );
        var lowered = Lowering.Lower(study);
        var draws = new SubjectDraws(lowered, group, lowered.Network.ValueVector());
        double[][] sets = [.. Enumerable.Range(1, Count).Select(draws.Values)];
        double[] times = [.. Enumerable.Range(0, 201).Select(k => 168.0 * k / 200)];
        // A plan that changes nothing makes each run go alone.
        var together = new Sweep(lowered.Compiled, times, study.Solver.Settings, [1]);
        var alone = new Sweep(lowered.Compiled, times, study.Solver.Settings, [1], new([new(1, [])]));
        var results = new SweepRun[Count];
        double Time(Sweep sweep, int threads)
        {
            var watch = Stopwatch.StartNew();
            Workers.For(Sweep.Blocks(Count), threads, default, block => sweep.RunBlock(block, sets, results));
            return watch.Elapsed.TotalMilliseconds;
        }
        List<double> lanes = [],
            single = [],
            oneThread = [],
            first = [];
        for (var round = 0; round < Rounds; round++)
        {
            lanes.Add(Time(together, 2));
            single.Add(Time(alone, 2));
            oneThread.Add(Time(together, 1));
            var watch = Stopwatch.StartNew();
            SubjectRuns.Of(lowered, group, study.Compartments[1].Id, 50);
            first.Add(watch.Elapsed.TotalMilliseconds);
        }
        double Median(List<double> list) => list.Order().ElementAt(list.Count / 2);
        Console.WriteLine(
            $"{Count} subjects in lanes, two threads: {Median(lanes):0} ms (least {lanes.Min():0}); one thread {Median(oneThread):0}"
        );
        Console.WriteLine($"each alone, two threads: {Median(single):0} ms; ratio {Median(single) / Median(lanes):0.0}");
        Console.WriteLine($"the first 50 with exposures: {Median(first):0} ms");
    }
}
