using System.Diagnostics;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Bench;

/// <summary>How long ensembles of the epidemic take over a year on two threads, every tenth day counted: 1,000 exact replicates of 10,000
/// people, 10,000 of a chain binomial with daily steps, 1,000 leaping with ten million (targets: 450, 300 and 1,500 ms).</summary>
internal static class Ensembles
{
    /// <param name="only">Part of the name of the case that is wanted; empty for all.</param>
    public static void Run(string only = "")
    {
        (string Name, ChanceMethod Method, int Replicates, double People)[] cases =
        [
            ("exact, 1,000 of 10,000 people", ChanceMethod.Exact, 1000, 10_000),
            ("chain binomial, 10,000 of 18,400 people", ChanceMethod.ChainBinomial, 10_000, 18_400),
            ("leaping, 1,000 of 10 million people", ChanceMethod.Leap, 1000, 1e7),
        ];
        if (only.Length == 0)
            Outcomes();
        double[] times = [.. Enumerable.Range(0, 37).Select(k => 10.0 * k)];
        foreach (var one in cases.Where(one => one.Name.Contains(only, StringComparison.Ordinal)))
        {
            var model = Seir.Compile(one.People);
            var values = model.Network.ValueVector();
            var taken = new List<double>();
            for (var pass = 0; pass < 7; pass++)
            {
                var begun = Stopwatch.GetTimestamp();
                Ensemble.Run(new(model, values, times, one.Replicates, pass) { Method = one.Method }, 4, run =>
                    [.. Enumerable.Range(0, 4).Select(run.OutputColumn)]
                );
                taken.Add(Stopwatch.GetElapsedTime(begun).TotalMilliseconds);
            }
            taken.RemoveAt(0);
            taken.Sort();
            Console.WriteLine($"{one.Name}: {taken[taken.Count / 2]:0} ms in the middle, {taken[0]:0} at least");
        }
    }

    /// <summary>A statement over each run, as a panel of Explore asks for it.</summary>
    private static void Outcomes()
    {
        const string lines = "S -> E : 0.4 * S * I / 10000; E -> I after 3 days; I -> R after 5 days; S(0) = 9990; I(0) = 10";
        var lowered = Lowering.Lower(new AddLines(lines).Apply(new StudyDocument { Title = "Outcomes", End = 365 }).Document!);
        foreach (var text in (string[])["peak(I)", "ever(I > 900) and peak_time(I) > 60"])
        {
            var taken = new List<double>();
            for (var pass = 0; pass < 7; pass++)
            {
                var begun = Stopwatch.GetTimestamp();
                ChanceOutcomes.Of(lowered, text, 1000, lowered.Network.ValueVector());
                taken.Add(Stopwatch.GetElapsedTime(begun).TotalMilliseconds);
            }
            taken.RemoveAt(0);
            taken.Sort();
            Console.WriteLine($"{text} of 1,000 exact runs: {taken[taken.Count / 2]:0} ms in the middle, {taken[0]:0} at least");
        }
    }
}
