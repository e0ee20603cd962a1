using ClearTide.Core.Expressions;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>A model with states added to it: running totals of flows, and the tangents of all states by some of its values.</summary>
internal static class SensitivityNetwork
{
    /// <summary>Whether tangents hold: no value moves a jump of the solution in time. A kink moves without harm, since both sides agree
    /// there; at a jump whose time is known, tangents jump as the formulas of its assignments say (Hartman, Ordinary Differential
    /// Equations, 2nd ed., V.3, applied on both sides).</summary>
    public static bool Holds(ReactionNetwork network, IReadOnlyList<int> chosen)
    {
        if (
            network.Equilibria.Count > 0
            || !network.Events.All(one => IsTimed(network, one, chosen))
            || network.Delays.Count > 0
            || network.Processes.Any(process => process.Limit >= 0)
        )
            return false;
        var rewriting = new SwitchRewriting(network);
        foreach (var node in network.Derivatives())
            rewriting.Map(node);
        return rewriting.Switches.All(one => !one.Jumps || (one.TimeOnly && !Uses(rewriting.Graph, one.Node, chosen)));
    }

    /// <summary>Whether an event acts at times that no chosen value moves, sets states by formulas, and of what runs fill in only numbers
    /// that stay the same whatever is chosen.</summary>
    private static bool IsTimed(ReactionNetwork network, ModelEvent one, IReadOnlyList<int> chosen)
    {
        bool Fixed(int node) =>
            node < 0
            || !Uses(network.Graph, node, chosen)
                && !network.Graph.Reachable([node]).Index().Any(at => at.Item && network.Graph[at.Index].Operation == Operation.State);
        return one.Condition < 0
            && Fixed(one.Time)
            && Fixed(one.Every)
            && Fixed(one.Until)
            && Fixed(one.Delay)
            && (!one.ValuesAtTrigger || one.Delay < 0 || one.Actions.SelectMany(action => action).All(set => Fixed(set.Node)))
            && one.Actions.SelectMany(action => action).All(set => set.IsState ? !set.Adds : Fixed(set.Node));
    }

    private static bool Uses(ExpressionGraph graph, int node, IReadOnlyList<int> parameters)
    {
        var needed = graph.Reachable([node]);
        return Enumerable
            .Range(0, needed.Length)
            .Any(k => needed[k] && graph[k].Operation == Operation.Parameter && parameters.Contains(graph[k].A));
    }

    /// <summary>The model with one more state for each rate, its running total.</summary>
    public static ReactionNetwork WithTotals(ReactionNetwork network, IReadOnlyList<int> rates) =>
        Copy(network, network.Processes, network.States, network.Initial, network.Rules).WithStates("total", rates);

    /// <summary>The states and the running totals, then for each chosen value the tangents of all of these.</summary>
    /// <param name="network">The model.</param>
    /// <param name="rates">Nodes of what is summed up along the run.</param>
    /// <param name="chosen">Positions of the values among the parameters.</param>
    /// <param name="start">The value among the parameters that runs begin at; -1 where it is none.</param>
    public static ReactionNetwork WithTangents(ReactionNetwork network, IReadOnlyList<int> rates, IReadOnlyList<int> chosen, int start = -1)
    {
        var graph = network.Graph;
        var block = network.States.Count + rates.Count;
        int[] rhs = [.. network.Derivatives(), .. rates];
        int[] initial = [.. network.Initial, .. rates.Select(_ => graph.Constant(0))];
        var (allRhs, allInitial) = (rhs.ToList(), initial.ToList());
        var tangents = chosen.Select((index, j) => Tangent(graph, index, (j + 1) * block)).ToList();
        foreach (var (index, tangent) in chosen.Zip(tangents))
        {
            allRhs.AddRange(rhs.Select(tangent.Of));
            allInitial.AddRange(index == start ? OfStart(graph, rhs, initial, start) : initial.Select(tangent.Of));
        }
        // What sets a state at a time sets its tangents with it.
        IReadOnlyList<Assignment> WithTangents(IReadOnlyList<Assignment> action) =>
            [
                .. action,
                .. action
                    .Where(set => set.IsState)
                    .SelectMany(set =>
                        tangents.Select((tangent, j) => set with { Index = (j + 1) * block + set.Index, Node = tangent.Of(set.Node) })
                    ),
            ];
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
        return Copy(network, [], states, allInitial, [.. allRhs.Select((node, state) => (state, node))]) with
        {
            Events = [.. network.Events.Select(one => one with { Actions = [.. one.Actions.Select(WithTangents)] })],
        };
    }

    /// <summary>How states at the start move with the time of the start: as what they begin with does by itself, less what would have
    /// moved them in that while (Hairer, Nørsett, Wanner, the same, I.14, eq. 14.13).</summary>
    private static IEnumerable<int> OfStart(ExpressionGraph graph, int[] rhs, int[] initial, int start)
    {
        var own = new Differentiation(graph, node =>
            node.Operation == Operation.Time || (node.Operation == Operation.Parameter && node.A == start) ? graph.Constant(1) : -1
        );
        int AtStart(int root)
        {
            var (needed, mapped) = (graph.Reachable([root]), new int[root + 1]);
            for (var k = 0; k <= root; k++)
            {
                if (needed[k])
                    mapped[k] =
                        graph[k].Operation == Operation.State ? initial[graph[k].A] : graph.Make(graph, graph[k], node => mapped[node]);
            }
            return mapped[root];
        }
        return [.. initial.Zip(rhs, (begins, moves) => graph.Subtract(own.Of(begins), AtStart(moves)))];
    }

    /// <summary>Derivatives by one value along a run, where the tangents of the states are states themselves.</summary>
    /// <param name="graph">Not frozen; derivatives are added to it.</param>
    /// <param name="index">Position of the value among the parameters.</param>
    /// <param name="offset">Where its tangents begin among the states.</param>
    public static Differentiation Tangent(ExpressionGraph graph, int index, int offset) => new(graph, node => node.Operation switch
            {
                Operation.State => graph.State(offset + node.A),
                Operation.Parameter when node.A == index => graph.Constant(1),
                _ => -1,
            });

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
