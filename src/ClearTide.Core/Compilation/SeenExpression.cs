using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Compilation;

/// <summary>
/// What a series sees of a model at each moment: the rates of the flows it counts, or its formula, times the share that is seen. Rows in
/// intervals stand for its integral, or for its mean.
/// </summary>
public static class SeenExpression
{
    /// <summary>It as a node over the model's states and values.</summary>
    /// <param name="network">The model over a graph of the caller's own.</param>
    /// <exception cref="ArgumentException">It cannot be read, or names something that is not in the model; the message says what to
    /// do.</exception>
    public static int NodeOf(ReactionNetwork network, StudyDocument document, Observation observation) =>
        new Binder(network, document, observation, network.Graph, one => one.Node).Whole();

    /// <summary>It as an expression whose state variables are the outputs of a run: amounts, flows and quantities, in this
    /// order.</summary>
    /// <exception cref="ArgumentException">As above.</exception>
    public static (ExpressionGraph Graph, int Node) OverOutputs(ReactionNetwork network, StudyDocument document, Observation observation)
    {
        var graph = new ExpressionGraph();
        var places = new Dictionary<NamedExpression, int>(ReferenceEqualityComparer.Instance);
        foreach (var one in network.Amounts.Concat(network.Flows).Concat(network.Quantities))
            places.TryAdd(one, places.Count);
        return (graph, new Binder(network, document, observation, graph, one => graph.State(places[one])).Whole());
    }

    /// <summary>The share that is seen at a time, where no run is at hand.</summary>
    /// <param name="values">All parameters of the model.</param>
    /// <returns>A number that is meant to lie from 0 to 1.</returns>
    /// <exception cref="ArgumentException">It cannot be read, or changes with the amounts.</exception>
    public static double ShareAt(LoweredModel lowered, Observation observation, double time, double[] values)
    {
        var network = lowered.Network.Fork();
        var node = new Binder(network, lowered.Document, observation, network.Graph, one => one.Node).Share();
        var needed = network.Graph.Reachable([node]);
        if (Enumerable.Range(0, needed.Length).Any(k => needed[k] && network.Graph[k].Operation == Operation.State))
            throw new ArgumentException(
                $"The share of {observation.Label} that is seen changes with the amounts of the model. Use a number, a value or an input."
            );
        return network.Graph.Evaluate(node, time, [], values);
    }

    private sealed class Binder(
        ReactionNetwork network,
        StudyDocument document,
        Observation observation,
        ExpressionGraph graph,
        Func<NamedExpression, int> nodeOf
    )
    {
        public int Whole() => graph.Multiply(Share(), observation.Seen.HasFormula() ? OfFormula() : Flows());

        public int Share()
        {
            var formula = Formula.Read(observation.Reporting);
            if (formula.Tree is null)
                throw new ArgumentException($"The reporting fraction cannot be read: {formula.Problem!.Message}");
            return Bind(
                formula.Tree,
                network.Quantities,
                name => $"The reporting fraction uses {name}, which is not in the model. Use a number, or add “{name} = 0.5” in Build.",
                "The reporting fraction calls a function of the model. Give it a name in Build, and use that name."
            );
        }

        private int OfFormula()
        {
            var formula = Formula.Read(observation.Formula);
            if (formula.Tree is null)
                throw new ArgumentException($"What “{observation.Label}” has seen cannot be read: {formula.Problem!.Message}");
            return Bind(
                formula.Tree,
                network.Amounts.Concat(network.Quantities),
                name => $"“{observation.Label}” has seen {name}, which is not in the model. Choose another formula under Data.",
                $"What “{observation.Label}” has seen calls a function of the model. Give it a name in Build, and observe that name."
            );
        }

        private int Bind(Syntax tree, IEnumerable<NamedExpression> known, Func<string, string> missing, string called)
        {
            var named = known.GroupBy(one => one.Symbol).ToDictionary(one => one.Key, one => one.First());
            return new FormulaBinder(
                graph,
                document.UnitTable(),
                name =>
                    named.TryGetValue(name, out var one) ? nodeOf(one)
                    : network.IndexOf(new(name)) is var index and >= 0 ? graph.Parameter(index)
                    : throw new ArgumentException(missing(name)),
                (_, _) => throw new ArgumentException(called)
            ).Bind(tree);
        }

        private int Flows() => observation.OtherFlows.Prepend(observation.FlowId).Distinct().Select(Flow).Aggregate(graph.Add);

        private int Flow(string id) =>
            network.Flows.Concat(network.Quantities).FirstOrDefault(one => one.PartId == id) is { } flow
                ? nodeOf(flow)
                : throw new ArgumentException("The observed flow is no longer in the model. Choose another one under Data.");
    }
}
