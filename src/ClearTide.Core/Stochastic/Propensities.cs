using System.Runtime.CompilerServices;
using ClearTide.Core.Expressions;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// The process rates as chance runs need them: sums of compartments that no process changes (a closed population, say) are computed once at
/// the start of a run and passed behind the model's values. All amounts are whole, so that the sum is the same to the bit.
/// </summary>
internal sealed class Propensities
{
    private readonly List<int[]> _sums = [];
    private readonly Lazy<DependencyGraph?>? _dependencies;

    private Propensities(ReactionNetwork network)
    {
        var graph = new ExpressionGraph();
        var roots = network.Processes.Select(process => ByChance(network, process) ? process.Rate : network.Graph.Constant(0)).ToArray();
        var needed = network.Graph.Reachable(roots);
        var made = new int[network.Graph.Count];
        var linear = new int[network.Graph.Count][];
        for (var k = 0; k < network.Graph.Count; k++)
        {
            if (!needed[k])
                continue;
            var node = network.Graph[k];
            linear[k] = Linear(node, linear, network.States.Count)!;
            made[k] =
                linear[k] is { } weights && NeverChanges(network, weights)
                    ? graph.Parameter(network.ParameterCount + IndexOf(weights))
                    : graph.Make(network.Graph, node, operand => made[operand]);
            if (node.Operation == Operation.Time)
                DependOnTime = true;
        }
        int[] rates = [.. roots.Select(root => made[root])];
        Function = GraphCompiler.Compile(graph, rates);
        // A fan-out draws its target, and a reaction moves several things, which the compiled step does not.
        var planned = network.Processes.Any(process => process.IsPlanned);
        var fansOut = network.Processes.Any(process => process.Changes.Any(change => change.Share >= 0));
        if (
            rates.Length <= ClockStep.MostProcesses
            && !DependOnTime
            && !planned
            && !fansOut
            && !network.Processes.Any(SeveralChanges.Needs)
        )
            Step = ClockStep.Compile(graph, rates, [.. network.Processes.Select(Ends)]);
        else if (rates.Length > ClockStep.MostProcesses && !DependOnTime)
            _dependencies = new(() => DependencyGraph.Of(network, graph, rates));
    }

    /// <summary>Rates of all processes; its parameters are the model's values, then <see cref="SumCount"/> sums.</summary>
    public VectorFunction Function { get; }

    /// <summary>Whether any rate depends on time itself.</summary>
    public bool DependOnTime { get; }

    /// <summary>Rates and clocks in one compiled step, for models of few processes whose rates do not depend on time; else null.</summary>
    internal ClockStepFunction? Step { get; }

    /// <summary>What each firing changes, for models of many processes whose rates depend on little each and not on time; else
    /// null.</summary>
    internal DependencyGraph? Dependencies => _dependencies?.Value;

    public int SumCount => _sums.Count;

    private static readonly ConditionalWeakTable<CompiledModel, Propensities> Known = [];

    /// <summary>Those of a model, worked out once.</summary>
    public static Propensities Of(CompiledModel model) => Known.GetValue(model, static known => new(known.Network));

    /// <summary>Whether chance moves whole units by a process; else it flows between amounts that are real numbers.</summary>
    public static bool ByChance(ReactionNetwork network, Process process) =>
        process.Changes.Any(change => IsWhole(network.States[change.State]));

    /// <summary>Whether chance counts a state in whole units.</summary>
    public static bool IsWhole(StateVariable state) => state.IsAmount && state.WholeUnits;

    /// <summary>Writes the sums for these amounts behind the values.</summary>
    public void WriteSums(ReadOnlySpan<double> state, Span<double> sums)
    {
        for (var k = 0; k < _sums.Count; k++)
        {
            var sum = 0.0;
            for (var i = 0; i < state.Length; i++)
                sum += _sums[k][i] * state[i];
            sums[k] = sum;
        }
    }

    /// <summary>The whole weights of a node that is a sum of states, or null.</summary>
    private static int[]? Linear(GraphNode node, int[]?[] linear, int states)
    {
        switch (node.Operation)
        {
            case Operation.State:
                var unit = new int[states];
                unit[node.A] = 1;
                return unit;
            case Operation.Add or Operation.Subtract when linear[node.A] is { } a && linear[node.B] is { } b:
                var sign = node.Operation == Operation.Add ? 1 : -1;
                return [.. a.Zip(b, (x, y) => x + sign * y)];
            case Operation.Negate when linear[node.A] is { } inner:
                return [.. inner.Select(x => -x)];
            default:
                return null;
        }
    }

    private static (int? From, int? To) Ends(Process process)
    {
        int? End(int sign) =>
            process.Changes.Where(change => Math.Sign(change.Coefficient) == sign).Select(change => (int?)change.State).FirstOrDefault();
        return (End(-1), End(1));
    }

    private static bool NeverChanges(ReactionNetwork network, int[] weights) =>
        network.Events.Count == 0
        && Enumerable.Range(0, weights.Length).All(state => weights[state] == 0 || IsWhole(network.States[state]))
        && network.Processes.All(process => Keeps(process, weights));

    /// <summary>Whichever end a fan-out leads to, the sum must stay.</summary>
    private static bool Keeps(Process process, int[] weights)
    {
        var always = process.Changes.Where(change => change.Share < 0).Sum(change => weights[change.State] * change.Coefficient);
        var shared = process.Changes.Where(change => change.Share >= 0).ToList();
        if (shared.Count == 0)
            return always == 0;
        // Shares that lead outside are not among the changes: then the sum is kept only if it gains and loses nothing anywhere.
        return process.SharesSum
            ? shared.All(change => always + weights[change.State] * change.Coefficient == 0)
            : always == 0 && shared.All(change => weights[change.State] == 0);
    }

    private int IndexOf(int[] weights)
    {
        var known = _sums.FindIndex(sum => sum.AsSpan().SequenceEqual(weights));
        if (known >= 0)
            return known;
        _sums.Add(weights);
        return _sums.Count - 1;
    }
}
