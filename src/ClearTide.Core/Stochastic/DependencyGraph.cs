using ClearTide.Core.Expressions;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// Which rates a firing changes: those that read an amount that it moves (the dependency graph of Gibson and Bruck, J. Phys. Chem. A 104,
/// 2000, pp. 1876–1889, section 3.1). After a firing these alone are worked out anew, where that is less than working out all.
/// </summary>
internal sealed class DependencyGraph
{
    /// <summary>A place in the queue costs about as much as this many nodes of a formula.</summary>
    private const double QueueCost = 12;

    /// <summary>Looking through the formulas of all processes is given up beyond this many times the nodes of the model: they depend on
    /// nearly everything then.</summary>
    private const int MostPasses = 40;

    private DependencyGraph(int[][] affected, SinglePropensities rates) => (Affected, Rates) = (affected, rates);

    /// <summary>For each process those whose rates change when it fires, in their order; itself among them.</summary>
    public int[][] Affected { get; }

    /// <summary>The rate of each process by itself.</summary>
    public SinglePropensities Rates { get; }

    /// <summary>The graph of a model, or null where working out all rates after each firing costs less.</summary>
    /// <param name="network">The model.</param>
    /// <param name="graph">Rates that depend on amounts and values, and not on time.</param>
    /// <param name="rates">The node of each process's rate.</param>
    public static DependencyGraph? Of(ReactionNetwork network, ExpressionGraph graph, IReadOnlyList<int> rates)
    {
        var nodes = new int[rates.Count][];
        var readers = network.States.Select(_ => new List<int>()).ToArray();
        var seen = new int[graph.Count];
        var left = (long)MostPasses * graph.Count;
        for (var k = 0; k < rates.Count; k++)
        {
            nodes[k] = Needed(graph, rates[k], seen, k + 1);
            if ((left -= nodes[k].Length) < 0)
                return null;
            foreach (var node in nodes[k])
            {
                if (graph[node].Operation == Operation.State)
                    readers[graph[node].A].Add(k);
            }
        }
        double Cost(int process) => nodes[process].Length + QueueCost;
        var affected = new int[rates.Count][];
        var apart = 0.0;
        for (var k = 0; k < rates.Count; k++)
        {
            affected[k] = [.. network.Processes[k].Changes.SelectMany(change => readers[change.State]).Append(k).Distinct().Order()];
            apart += affected[k].Sum(Cost);
            if (apart > rates.Count * (double)(graph.Count + rates.Count))
                return null;
        }
        return new(affected, new(graph, rates, nodes));
    }

    /// <summary>The nodes that one node needs, itself among them, in the order of the graph.</summary>
    /// <param name="graph">The expressions.</param>
    /// <param name="root">The node that is asked about.</param>
    /// <param name="seen">Marks of nodes that have been visited, by a mark of this search.</param>
    /// <param name="mark">Of this search; not used before.</param>
    private static int[] Needed(ExpressionGraph graph, int root, int[] seen, int mark)
    {
        var found = new List<int>();
        var open = new Stack<int>([root]);
        seen[root] = mark;
        while (open.TryPop(out var node))
        {
            found.Add(node);
            foreach (var operand in ExpressionGraph.Operands(graph[node]))
            {
                if (seen[operand] == mark)
                    continue;
                seen[operand] = mark;
                open.Push(operand);
            }
        }
        found.Sort();
        return [.. found];
    }
}
