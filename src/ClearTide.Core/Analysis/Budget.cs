using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Analysis;

/// <summary>What one flow or reaction brings to a compartment, or takes from it (below zero), row by row of a run.</summary>
/// <param name="FlowId">Id of the flow or reaction.</param>
/// <param name="Name">Its name for people.</param>
/// <param name="Values">One for each row of the run, in amount per time; below zero for what it takes.</param>
public sealed record BudgetTerm(string FlowId, string Name, double[] Values);

/// <summary>A moment at which an amount turns, and what turned it, in words.</summary>
/// <param name="Time">In the unit of the run.</param>
/// <param name="Words">What turned it, as a sentence.</param>
public sealed record TurningPoint(double Time, string Words);

/// <summary>The flows and reactions into and out of one compartment along a run.</summary>
/// <param name="Symbol">Of the compartment.</param>
/// <param name="Terms">Inflows and outflows; a flow that leads back counts for what is left of it.</param>
/// <param name="Turns">Where the amount turns, and which flows turn it.</param>
public sealed record Budget(string Symbol, IReadOnlyList<BudgetTerm> Terms, IReadOnlyList<TurningPoint> Turns)
{
    private const int MostTurns = 12;

    /// <summary>What moves one compartment, flow by flow, at each row of a run.</summary>
    /// <param name="run">A run with its model.</param>
    /// <param name="compartmentId">Id of the compartment.</param>
    /// <returns>Null where there is no such compartment or no run.</returns>
    public static Budget? Of(StudyRun run, string compartmentId)
    {
        var (document, network) = (run.Lowered.Document, run.Lowered.Network);
        if (
            run.Run is not { } made
            || (document.Compartment(compartmentId) ?? run.Lowered.Study.Compartment(compartmentId)) is not { } part
        )
            return null;
        var members = run.Lowered.Written.Members(compartmentId);
        if (members.Count > 0 && document.Compartment(compartmentId) is null)
            return OfAll(run, part, [.. members.Select(member => member.Id)]);
        var terms = new List<BudgetTerm>();
        for (var k = 0; k < document.Flows.Length; k++)
        {
            var flow = document.Flows[k];
            if (!flow.Touches(compartmentId))
                continue;
            var (rate, share) = (made.RateColumn(k), Share(network, made, flow, compartmentId));
            terms.Add(
                new(
                    flow.Id,
                    flow.Label.Length > 0 ? flow.Label : document.Describe(flow),
                    [.. rate.Select((value, row) => value * ((flow.From == compartmentId ? -1 : 0) + share[row]))]
                )
            );
        }
        terms.AddRange(document.Reactions.Select(reaction => Term(network, made, reaction, compartmentId)).OfType<BudgetTerm>());
        return new(part.Symbol, terms, [.. Turning(document, made, terms).Take(MostTurns)]);
    }

    /// <summary>A split compartment as one: the flows of its members added up, those between them left out.</summary>
    private static Budget OfAll(StudyRun run, Compartment part, IReadOnlyList<string> members)
    {
        var terms = new List<BudgetTerm>();
        foreach (
            var group in members
                .SelectMany(id => Of(run, id)?.Terms ?? [])
                .GroupBy(term => run.Lowered.Written.BaseOf(term.FlowId))
                .Where(group => run.Lowered.Study.Part(group.Key) is Flow or Reaction)
        )
        {
            var sum = new double[run.Run!.Times.Count];
            foreach (var term in group)
            {
                for (var row = 0; row < sum.Length; row++)
                    sum[row] += term.Values[row];
            }
            var named = run.Lowered.Study.Part(group.Key)!;
            terms.Add(new(group.Key, named.Label.Length > 0 ? named.Label : run.Lowered.Study.Describe(named), sum));
        }
        return new(part.Symbol, terms, [.. Turning(run.Lowered.Document, run.Run!, terms).Take(MostTurns)]);
    }

    /// <summary>What a reaction brings to a compartment, less what it takes; null where it does neither.</summary>
    private static BudgetTerm? Term(ReactionNetwork network, Trajectory run, Reaction reaction, string compartmentId)
    {
        var changes = network
            .Processes.Where(process => process.Id == reaction.Id)
            .SelectMany(process => process.Changes)
            .Where(change => network.States[change.State].PartId == compartmentId)
            .ToList();
        var quantity = network.Quantities.ToList().FindIndex(one => one.PartId == reaction.Id);
        if (changes.Count == 0 || quantity < 0)
            return null;
        var (rate, values, state) = (run.QuantityColumn(quantity), network.ValueVector(), new double[network.States.Count]);
        double Net(int row)
        {
            for (var k = 0; k < state.Length; k++)
                state[k] = run.State(row, k);
            return changes.Sum(change =>
                change.Coefficient * (change.Factor < 0 ? 1 : network.Graph.Evaluate(change.Factor, run.Times[row], state, values))
            );
        }
        return new(
            reaction.Id,
            reaction.Label.Length > 0 ? reaction.Label : reaction.Symbol,
            [.. rate.Select((value, row) => value * Net(row))]
        );
    }

    /// <summary>Which share of a flow reaches a compartment, row by row.</summary>
    private static double[] Share(ReactionNetwork network, Trajectory run, Flow flow, string compartmentId)
    {
        var shares = new double[run.Times.Count];
        var exit = network.Processes.FirstOrDefault(process => process.Id == flow.Id && process.IsExit);
        var values = network.ValueVector();
        foreach (
            var change in (exit?.Changes ?? []).Where(change =>
                change.Coefficient > 0 && network.States[change.State].PartId == compartmentId
            )
        )
        {
            var state = new double[network.States.Count];
            for (var row = 0; row < shares.Length; row++)
            {
                if (change.Share < 0)
                {
                    shares[row] += change.Coefficient;
                    continue;
                }
                for (var k = 0; k < state.Length; k++)
                    state[k] = run.State(row, k);
                shares[row] += change.Coefficient * network.Graph.Evaluate(change.Share, run.Times[row], state, values);
            }
        }
        return shares;
    }

    /// <summary>Where the sum of the terms changes its sign: the term that has moved it most since it was last at its strongest has
    /// turned the amount.</summary>
    private static IEnumerable<TurningPoint> Turning(StudyDocument document, Trajectory run, IReadOnlyList<BudgetTerm> terms)
    {
        if (terms.Count == 0)
            yield break;
        double Net(int row) => terms.Sum(term => term.Values[row]);
        var size = Enumerable.Range(0, run.Times.Count).Max(row => Math.Abs(Net(row)));
        if (!(size > 0))
            yield break;
        var strongest = 0;
        for (var row = 1; row < run.Times.Count; row++)
        {
            var (before, now) = (Net(row - 1), Net(row));
            // A net within rounding of zero has no sign.
            if (before * now < 0 && Math.Max(Math.Abs(Net(strongest)), Math.Abs(now)) > 1e-6 * size && run.Times[row] > run.Times[row - 1])
            {
                var way = Math.Sign(before);
                var moved = terms.MaxBy(term => -way * (term.Values[row] - term.Values[strongest]))!;
                var (was, isNow) = (Math.Abs(moved.Values[strongest]), Math.Abs(moved.Values[row]));
                var time = run.Times[row - 1] + (run.Times[row] - run.Times[row - 1]) * before / (before - now);
                yield return new(
                    time,
                    $"{(way > 0 ? "Stops rising" : "Stops falling")} at {document.TimeUnit.Singular} {NumberWords.Of(time, 3)}: "
                        + $"{moved.Name} has {(isNow > was ? "grown" : "fallen")} from {NumberWords.Of(was, 3)} to "
                        + $"{NumberWords.Of(isNow, 3)} {document.TimeUnit.Each()}."
                );
                strongest = row;
            }
            else if (Math.Abs(now) > Math.Abs(Net(strongest)))
                strongest = row;
        }
    }
}
