using System.Diagnostics;
using System.Globalization;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Bench;

/// <summary>What a transition costs by the exact law in rings of 10 to 1,000 flows, each in turn. Target: at 1,000 flows at most four times
/// what it costs at 10.</summary>
internal static class ManyFlows
{
    private static readonly int[] Sizes = [10, 100, 1000];

    public static void Run()
    {
        var rings = Sizes.Select(size => (size, new NextReactionSimulator(Ring(size)), Ring(size))).ToList();
        var taken = Sizes.ToDictionary(size => size, _ => new List<double>());
        for (var pass = 0; pass < 8; pass++)
        {
            foreach (var (size, simulator, model) in rings)
            {
                var request = new RunRequest(model, model.Network.ValueVector(), [0, 20]) { Seed = 1, Replicate = pass };
                var begun = Stopwatch.GetTimestamp();
                var transitions = simulator.Run(request).Transitions;
                if (pass > 1)
                    taken[size].Add(Stopwatch.GetElapsedTime(begun).TotalNanoseconds / transitions);
            }
        }
        foreach (var (size, each) in taken)
        {
            each.Sort();
            Console.WriteLine($"{size} flows: {each[each.Count / 2]:0} ns a transition in the middle, {each[0]:0} at least");
        }
    }

    /// <summary>Units go round a ring, faster where there are more of them two places on.</summary>
    private static CompiledModel Ring(int size)
    {
        string Flow(int k) =>
            string.Create(CultureInfo.InvariantCulture, $"A{k} -> A{(k + 1) % size} : A{k} * (1 + A{(k + 2) % size} / 1000); A{k}(0) = 50");
        var lines = string.Join('\n', Enumerable.Range(0, size).Select(Flow));
        var study = new AddLines(lines).Apply(new StudyDocument { Title = "Ring", End = 20 }).Document!;
        return new(Lowering.Lower(study).Network);
    }
}
