using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Compilation;

/// <summary>
/// What a series observes of a model at each moment: the rates of the flows it counts, delayed where reports are late, or its formula;
/// times the share that is seen and the factor of the weekday. A row over an interval is its integral, or its mean.
/// </summary>
internal static class SeenExpression
{
    /// <summary>It as a node over the model's states and values. What comes in late is under way in states of its own, behind those of the
    /// model (the linear chain: MacDonald, Time Lags in Biological Models, 1978, chapter 2).</summary>
    /// <param name="network">The model over a graph of the caller's own.</param>
    /// <param name="document">The study.</param>
    /// <param name="observation">What is seen, and how.</param>
    /// <returns>The model with those states, where there are any, and the node.</returns>
    /// <exception cref="ArgumentException">It cannot be read, or names something that is not in the model; the message says what to
    /// do.</exception>
    public static (ReactionNetwork Network, int Node) In(ReactionNetwork network, StudyDocument document, Observation observation)
    {
        var (graph, binder) = (network.Graph, new Binder(network, document, observation, network.Graph, one => one.Node));
        if (observation.Seen != ObservedAs.Flowed || !observation.IsTimed)
            return (network, binder.Whole());
        var rate = binder.Flows();
        if (observation.Delay.Length > 0)
        {
            var first = network.States.Count;
            var speed = graph.Divide(graph.Constant(observation.DelayStages), binder.Delay());
            int Leaving(int stage) => stage < 0 ? rate : graph.Multiply(speed, graph.State(first + stage));
            network = network.WithStates(
                "reports under way",
                [.. Enumerable.Range(0, observation.DelayStages).Select(k => graph.Subtract(Leaving(k - 1), Leaving(k)))]
            );
            rate = Leaving(observation.DelayStages - 1);
        }
        return (network, graph.Multiply(graph.Multiply(binder.Share(), binder.Weekday()), rate));
    }

    /// <summary>It as an expression whose state variables are the outputs of a run: amounts, flows and quantities, in this order. Not for
    /// what comes in late or by weekdays.</summary>
    /// <exception cref="ArgumentException">As above.</exception>
    public static (ExpressionGraph Graph, int Node) OverOutputs(ReactionNetwork network, StudyDocument document, Observation observation)
    {
        var graph = new ExpressionGraph();
        var places = new Dictionary<NamedExpression, int>(ReferenceEqualityComparer.Instance);
        foreach (var one in network.Outputs)
            places.TryAdd(one, places.Count);
        return (graph, new Binder(network, document, observation, graph, one => graph.State(places[one])).Whole());
    }

    /// <summary>The share that is seen of what comes in over an interval, where no run is at hand: that of its middle, and of the weekdays
    /// that it holds each for as long as it is.</summary>
    /// <param name="lowered">The model, lowered.</param>
    /// <param name="observation">What is seen, and how.</param>
    /// <param name="from">Where the interval begins, in the model's unit of time.</param>
    /// <param name="until">Where it ends.</param>
    /// <param name="values">All parameters of the model.</param>
    /// <returns>A number that is meant to lie from 0 to 1.</returns>
    /// <exception cref="ArgumentException">It cannot be read, or changes with the amounts.</exception>
    public static double ShareOver(LoweredModel lowered, Observation observation, double from, double until, double[] values)
    {
        var (network, binder) = Alone(lowered, observation);
        var share = Known(lowered, observation, network, binder.Share(), 0.5 * (from + until), values);
        if (observation.Weekdays.IsEmpty)
            return share;
        var week = new Weekdays(lowered.Document);
        var weekday = binder.Weekday();
        double At(double time) => Known(lowered, observation, network, weekday, time, values);
        if (!(until > from))
            return share * At(from);
        var sum = 0.0;
        foreach (var (start, end) in week.Days(from, until))
            sum += (end - start) * At(0.5 * (start + end));
        return share * sum / (until - from);
    }

    /// <summary>How long it takes on average until what happened comes in; 0 for at once.</summary>
    /// <param name="lowered">The model, lowered.</param>
    /// <param name="observation">What is seen, and how.</param>
    /// <param name="values">All parameters of the model.</param>
    /// <exception cref="ArgumentException">It cannot be read, or changes with the amounts.</exception>
    public static double MeanDelay(LoweredModel lowered, Observation observation, double[] values)
    {
        if (observation.Delay.Length == 0)
            return 0;
        var (network, binder) = Alone(lowered, observation);
        return Known(lowered, observation, network, binder.Delay(), lowered.Document.Start, values);
    }

    private static (ReactionNetwork Network, Binder Binder) Alone(LoweredModel lowered, Observation observation)
    {
        var network = lowered.Network.Fork();
        return (network, new(network, lowered.Document, observation, network.Graph, one => one.Node));
    }

    /// <summary>A node that depends on values and time alone.</summary>
    private static double Known(
        LoweredModel lowered,
        Observation observation,
        ReactionNetwork network,
        int node,
        double time,
        double[] values
    )
    {
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

        public int Share() => Line(observation.Reporting, "The reporting fraction", "0.5");

        /// <summary>The mean time until something comes in.</summary>
        public int Delay() => Line(observation.Delay, $"The delay of {observation.Label}", $"3 {document.TimeUnit.Plural}");

        /// <summary>How much of the day comes in, relative to the others: each of seven functions of time that are one on their day, times
        /// what is said of it.</summary>
        public int Weekday()
        {
            if (observation.Weekdays.IsEmpty)
                return graph.Constant(1);
            var week = new Weekdays(document);
            return observation
                .Weekdays.Select(
                    (line, day) =>
                        graph.Multiply(
                            Line(line, $"The part of {Weekdays.Names[day]} in {observation.Label}", "0.5"),
                            graph.Table(Operation.Lookup, week.Of(day), graph.Time())
                        )
                )
                .Aggregate(graph.Add);
        }

        private int Line(string line, string what, string example)
        {
            var formula = Formula.Read(line);
            if (formula.Tree is null)
                throw new ArgumentException($"{what} cannot be read: {formula.Problem!.Message}");
            return Bind(
                formula.Tree,
                network.Quantities,
                name => $"{what} uses {name}, which is not in the model. Use a number, or add “{name} = {example}” in Build.",
                $"{what} calls a function of the model. Give it a name in Build, and use that name."
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
            ).Bind(network.Spell(tree));
        }

        public int Flows() =>
            observation.OtherFlows.Prepend(observation.FlowId).SelectMany(network.MembersOf).Distinct().Select(Flow).Aggregate(graph.Add);

        private int Flow(string id) =>
            network.Flows.Concat(network.Quantities).FirstOrDefault(one => one.PartId == id) is { } flow
                ? nodeOf(flow)
                : throw new ArgumentException("The observed flow is no longer in the model. Choose another one under Data.");
    }
}
