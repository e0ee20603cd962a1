using System.Collections.Immutable;
using ClearTide.Core.Expressions;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>A quantity of the model that follows from estimated values alone, such as a reproduction number or a half-life.</summary>
/// <param name="Symbol">Of the quantity.</param>
/// <param name="PartId">Id of the quantity.</param>
/// <param name="Value">At the estimates.</param>
/// <param name="Low">Below it lie 2.5% of the draws of what the data leave.</param>
/// <param name="High">Above it lie as many.</param>
/// <param name="Of">The estimated values that it depends on.</param>
public sealed record DerivedQuantity(string Symbol, string PartId, double Value, double Low, double High, ImmutableArray<string> Of);

/// <summary>Works out quantities that need no run, for the estimates and for each draw.</summary>
internal static class DerivedQuantities
{
    /// <param name="network">The model.</param>
    /// <param name="chosen">Positions of the estimated values among all.</param>
    /// <param name="best">The estimates.</param>
    /// <param name="draws">Of the same values.</param>
    public static ImmutableArray<DerivedQuantity> Of(
        ReactionNetwork network,
        IReadOnlyList<int> chosen,
        double[] best,
        ImmutableArray<ImmutableArray<double>> draws
    )
    {
        if (draws.IsDefaultOrEmpty)
            return [];
        var derived = ImmutableArray.CreateBuilder<DerivedQuantity>();
        foreach (var quantity in network.Quantities)
        {
            var reached = network.Graph.Reachable([quantity.Node]);
            var nodes = Enumerable.Range(0, reached.Length).Where(k => reached[k]).Select(k => network.Graph[k]).ToList();
            // Amounts, time, draws and what runs fill in by themselves need a run.
            if (nodes.Any(node => node.Operation is Operation.State or Operation.Time || Parameter(node) >= network.Values.Count))
                continue;
            var used = nodes.Select(Parameter).Where(index => index >= 0 && chosen.Contains(index)).Distinct().Order().ToList();
            if (used.Count == 0)
                continue;
            double At(IReadOnlyList<double> values)
            {
                var all = network.ValueVector();
                for (var j = 0; j < chosen.Count; j++)
                    all[chosen[j]] = values[j];
                return network.Graph.Evaluate(quantity.Node, 0, [], all);
            }
            var drawn = draws.Select(draw => At(draw)).Where(double.IsFinite).ToList();
            if (drawn.Count < draws.Length)
                continue;
            var ends = Quantiles.Of(drawn, 0.025, 0.975);
            derived.Add(
                new(
                    quantity.Symbol,
                    quantity.PartId,
                    At(best),
                    ends[0],
                    ends[1],
                    [.. used.Select(index => network.Values[index].Address.ToString())]
                )
            );
        }
        return derived.ToImmutable();
    }

    private static int Parameter(GraphNode node) => node.Operation == Operation.Parameter ? node.A : -1;
}
