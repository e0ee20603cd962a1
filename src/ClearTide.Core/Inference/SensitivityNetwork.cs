using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>A model with states added to it: the running total of one flow, and the tangents of all states by some of its values.</summary>
internal static class SensitivityNetwork
{
    /// <summary>Whether tangents hold: no value moves a jump of the solution. A kink moves without harm, since both sides agree
    /// there.</summary>
    public static bool Holds(ReactionNetwork network, IReadOnlyList<int> chosen)
    {
        if (
            network.Equilibria.Count > 0
            || network.Events.Count > 0
            || network.Delays.Count > 0
            || network.Processes.Any(process => process.Limit >= 0)
        )
            return false;
        var rewriting = new SwitchRewriting(network);
        foreach (var node in network.Derivatives())
            rewriting.Map(node);
        return rewriting.Switches.All(one => !one.Jumps || (one.TimeOnly && !Uses(rewriting.Graph, one.Node, chosen)));
    }

    private static bool Uses(ExpressionGraph graph, int node, IReadOnlyList<int> parameters)
    {
        var needed = graph.Reachable([node]);
        return Enumerable
            .Range(0, needed.Length)
            .Any(k => needed[k] && graph[k].Operation == Operation.Parameter && parameters.Contains(graph[k].A));
    }

    /// <summary>The model with one more state, the running total of a rate.</summary>
    public static ReactionNetwork WithTotal(ReactionNetwork network, int rate) =>
        Copy(
            network,
            network.Processes,
            [.. network.States, new("total", "", IsAmount: false)],
            [.. network.Initial, network.Graph.Constant(0)],
            [.. network.Rules, (network.States.Count, rate)]
        );

    /// <summary>The states and the running total, then for each chosen value the tangents of all of these.</summary>
    public static ReactionNetwork WithTangents(ReactionNetwork network, int rate, IReadOnlyList<int> chosen)
    {
        var graph = network.Graph;
        var block = network.States.Count + 1;
        int[] rhs = [.. network.Derivatives(), rate];
        int[] initial = [.. network.Initial, graph.Constant(0)];
        var (allRhs, allInitial) = (rhs.ToList(), initial.ToList());
        for (var j = 0; j < chosen.Count; j++)
        {
            var (index, offset) = (chosen[j], (j + 1) * block);
            var tangent = new Differentiation(graph, node => node.Operation switch
                {
                    Operation.State => graph.State(offset + node.A),
                    Operation.Parameter when node.A == index => graph.Constant(1),
                    _ => -1,
                });
            allRhs.AddRange(rhs.Select(tangent.Of));
            allInitial.AddRange(initial.Select(tangent.Of));
        }
        var states = Enumerable
            .Range(0, allRhs.Count)
            .Select(k =>
                k < network.States.Count
                    ? network.States[k] with
                    {
                        NeverBelowZero = false,
                    }
                    : new StateVariable("tangent", "", IsAmount: false)
            )
            .ToList();
        return Copy(network, [], states, allInitial, [.. allRhs.Select((node, state) => (state, node))]);
    }

    private static ReactionNetwork Copy(
        ReactionNetwork network,
        IReadOnlyList<Process> processes,
        IReadOnlyList<StateVariable> states,
        IReadOnlyList<int> initial,
        IReadOnlyList<(int, int)> rules
    ) =>
        new()
        {
            Graph = network.Graph,
            States = states,
            Values = network.Values,
            Slots = network.Slots,
            Initial = initial,
            Processes = processes,
            Rules = rules,
            Amounts = [],
            Flows = [],
            Quantities = [],
            Delays = network.Delays,
            Draws = network.Draws,
            Events = network.Events,
            Equilibria = network.Equilibria,
            Seed = network.Seed,
        };
}
