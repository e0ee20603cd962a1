using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>Puts a run that could not go on into words: the part, the time, and the values that did it.</summary>
public static class RunFailure
{
    /// <summary>Why a run stopped, in words of the model, and what to do.</summary>
    /// <param name="failure">Why the run stopped, and where.</param>
    /// <param name="lowered">The compiled model.</param>
    public static string Say(SimulationException failure, LoweredModel lowered)
    {
        var network = lowered.Network;
        var when = $"{lowered.Document.TimeUnit.Singular} {NumberWords.Of(failure.Time)}";
        switch (failure.Reason)
        {
            case FailureReason.BelowZero:
                return BelowZero(failure, lowered, when);
            case FailureReason.OutOfRange:
                if (lowered.Document.Part(network.Ranges[failure.Index].PartId) is EventRule spread)
                    return RanShort(spread, "", when);
                var flow = lowered.Document.Flow(network.Ranges[failure.Index].PartId)!;
                var share = network.Graph.Evaluate(network.Ranges[failure.Index].Node, failure.Time, failure.State, failure.Parameters);
                return $"The run stopped at {when}: a share of {lowered.Document.Describe(flow)} is {NumberWords.Of(share)}, "
                    + "and a share lies between 0 and 1.";
            case FailureReason.BadDelay:
                return "A delay is a time above zero; one of this model's is not. Look at the values its time is made of.";
            case FailureReason.BadDraw:
                return "A random input cannot be drawn with these values: its spread or its interval is not above zero.";
            case FailureReason.NoEquilibrium:
                var moving = lowered.Document.Compartment(network.States[failure.Index].PartId)!.Symbol;
                return $"No equilibrium was found for {moving}: it keeps moving, and had come to "
                    + $"{NumberWords.Of(failure.State[failure.Index])}. Type its initial amount, or say what it is near, as in “at "
                    + "equilibrium near 40”.";
            case FailureReason.RanShort:
                return RanShort(
                    (EventRule)lowered.Document.Part(failure.PartId)!,
                    $" {network.States[failure.Index].Symbol} held {NumberWords.Of(Held(failure, network))}.",
                    when
                );
            case FailureReason.BadAction:
                return $"The run stopped at {when}: the event “{lowered.Document.Part(failure.PartId)!.Name}” gives a number there "
                    + "that is infinite or none. Look at the formulas of its actions for a division by zero.";
            case FailureReason.EventsWithoutEnd:
                return $"The run stopped at {when}: events set off one another there without end. Let one of them act once.";
        }
        // A fixed step that is too long looks like a model that explodes.
        var step = lowered.Document.Solver is { HasStep: true, IsDiscrete: false } solver
            ? $" It may be the step: {lowered.Document.TimeUnit.Length(solver.Step)} is long for this model if the automatic method "
                + "runs it."
            : "";
        var cause = NotFinite(failure, lowered, network) ?? NotFinite(FailureCause.JustAhead(failure, network), lowered, network);
        if (cause is not null)
            return $"The run stopped at {when}: {cause}{step}";
        var grown = FailureCause.Grown(failure, network);
        string Had(int state, string verb) => $" {network.States[state].Symbol} {verb} {NumberWords.Of(failure.State[state])}.";
        if (grown >= 0)
            return $"The run stopped at {when}: amounts grow without bound there.{Had(grown, "had reached")} Look for a flow that "
                + $"feeds itself.{step}";
        if (failure.Reason == FailureReason.TooManySteps)
        {
            var largest = Enumerable
                .Range(0, network.States.Count)
                .OrderByDescending(state => Math.Abs(failure.State[state]))
                .FirstOrDefault(-1);
            return $"The run was stopped at {when}: it takes too many steps to go "
                + $"on.{(largest < 0 ? "" : Had(largest, "had reached"))} Look for a rate that is far faster than the others, or "
                + $"shorten the span.{step}";
        }
        var (fastest, slope) = FailureCause.Fastest(failure, network);
        if (fastest < 0)
            return $"The run stopped at {when}: no step is short enough to go on. Look for a rate that jumps there.{step}";
        return $"The run stopped at {when}: no step is short enough to follow {network.States[fastest].Symbol} there. It is "
            + $"{NumberWords.Of(failure.State[fastest])} and changes by {NumberWords.Of(slope)} per "
            + $"{lowered.Document.TimeUnit.Singular}.{Mover(failure, lowered, network.States[fastest].PartId)}{step}";
    }

    /// <summary>The formula that has no finite value where the run stopped, in words; or null.</summary>
    private static string? NotFinite(SimulationException failure, LoweredModel lowered, ReactionNetwork network)
    {
        foreach (
            var (rate, flow) in network.Flows.Select(flow =>
                (network.Graph.Evaluate(flow.Node, failure.Time, failure.State, failure.Parameters), lowered.Document.Flow(flow.PartId)!)
            )
        )
        {
            if (double.IsFinite(rate))
                continue;
            return $"the flow {lowered.Document.Describe(flow)} has no finite rate there. {Because(flow, network, failure)}";
        }
        foreach (var quantity in network.Quantities)
        {
            if (
                double.IsFinite(network.Graph.Evaluate(quantity.Node, failure.Time, failure.State, failure.Parameters))
                || lowered.Document.Part(quantity.PartId) is not { } part
            )
                continue;
            return $"{quantity.Symbol}, {PartKinds.Noun(part)}, has no finite value there. Look for a division by zero in it, or a root or "
                + "logarithm of less than nothing.";
        }
        return null;
    }

    /// <summary>The flow that moves a compartment most where the run stopped.</summary>
    private static string Mover(SimulationException failure, LoweredModel lowered, string partId)
    {
        var (network, document) = (lowered.Network, lowered.Document);
        double Size(Flow flow) =>
            Math.Abs(
                network.Graph.Evaluate(
                    network.Flows.First(rate => rate.PartId == flow.Id).Node,
                    failure.Time,
                    failure.State,
                    failure.Parameters
                )
            );
        var mover = document
            .Flows.Where(flow => flow.From == partId || flow.To.Any(target => target.Id == partId))
            .OrderByDescending(Size)
            .FirstOrDefault();
        return mover is null ? "" : $" Look at {document.Describe(mover)}: a rate that divides by what runs out, or jumps, does this.";
    }

    private static double Held(SimulationException failure, ReactionNetwork network)
    {
        var part = network.States[failure.Index].PartId;
        return Enumerable
            .Range(0, network.States.Count)
            .Where(state => network.States[state].PartId == part)
            .Sum(state => failure.State[state]);
    }

    private static string RanShort(EventRule rule, string held, string when) =>
        $"The run stopped at {when}: “{rule.Name}” was to move more than was there.{held} Lower the amount, or let the event move "
        + "all that is there.";

    private static string BelowZero(SimulationException failure, LoweredModel lowered, string when)
    {
        var network = lowered.Network;
        var part = lowered.Document.Compartment(network.States[failure.Index].PartId)!;
        double RateOf(Flow flow) =>
            network.Graph.Evaluate(
                network.Flows.First(rate => rate.PartId == flow.Id).Node,
                failure.Time,
                failure.State,
                failure.Parameters
            );
        var taker = lowered.Document.Flows.Where(flow => flow.From == part.Id).OrderByDescending(RateOf).FirstOrDefault();
        var by = taker is null
            ? ""
            : $" {lowered.Document.Describe(taker)} takes {NumberWords.Of(RateOf(taker))} per {lowered.Document.TimeUnit.Singular} "
                + "there: give its rate per head, or limit it.";
        return $"The run stopped at {when}: {part.Symbol} fell below zero, which it must not.{by}";
    }

    private static string Because(Flow flow, ReactionNetwork network, SimulationException failure)
    {
        if (Formula.Read(flow.Rate).Tree is not { } tree)
            return "";
        var values = tree.Names()
            .Select(name => name.Name)
            .Distinct()
            .Select(name => (name, Value: ValueOf(name, network, failure)))
            .Where(pair => pair.Value is not null)
            .Select(pair => $"{pair.name} = {NumberWords.Of(pair.Value!.Value)}")
            .ToList();
        return values.Count == 0 ? "" : $"It is {RateLine.Write(flow.Kind, flow.Rate)} with {string.Join(", ", values)}.";
    }

    private static double? ValueOf(string symbol, ReactionNetwork network, SimulationException failure)
    {
        if (network.IndexOf(new(symbol)) is var index && index >= 0)
            return failure.Parameters[index];
        for (var state = 0; state < network.States.Count; state++)
        {
            if (network.States[state].Symbol == symbol)
                return failure.State[state];
        }
        var quantity = network.Quantities.FirstOrDefault(candidate => candidate.Symbol == symbol);
        return quantity is null ? null : network.Graph.Evaluate(quantity.Node, failure.Time, failure.State, failure.Parameters);
    }
}
