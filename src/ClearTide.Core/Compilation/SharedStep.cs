using ClearTide.Core.Expressions;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Compilation;

/// <summary>
/// Limited flows in discrete steps: what is there when a step begins goes to the free exits first, and the limited ones share what they
/// leave in
/// proportion to what they ask for.
/// </summary>
internal static class SharedStep
{
    /// <summary>Holds the limited processes of each compartment back, in the list itself and in the rates that are shown.</summary>
    public static void Apply(ModelBuilder build, List<Process> processes, List<NamedExpression> rates)
    {
        var graph = build.Graph;
        foreach (var part in build.Document.Compartments)
        {
            var flows = build.Document.Flows.Where(flow => flow.From == part.Id).ToDictionary(flow => flow.Id);
            var held = Enumerable
                .Range(0, processes.Count)
                .Where(k => flows.GetValueOrDefault(processes[k].Id) is { Limited: true, Kind: RateKind.Whole })
                .ToList();
            if (held.Count == 0)
                continue;
            var there = build.Amount(part);
            foreach (var process in processes.Where((process, k) => flows.ContainsKey(process.Id) && process.IsExit && !held.Contains(k)))
                there = graph.Subtract(there, process.Rate);
            var asked = held.Aggregate(graph.Constant(0), (sum, k) => graph.Add(sum, processes[k].Rate));
            var zero = graph.Constant(0);
            var enough = graph.Binary(Operation.LessOrEqual, asked, there);
            foreach (var k in held)
            {
                var given = graph.Choose(
                    enough,
                    processes[k].Rate,
                    graph.Multiply(processes[k].Rate, graph.Divide(graph.Binary(Operation.Max, there, zero), asked))
                );
                processes[k] = processes[k] with { Rate = given };
                var at = rates.FindIndex(rate => rate.PartId == processes[k].Id);
                rates[at] = rates[at] with { Node = given };
            }
        }
    }
}
