using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Compilation;

/// <summary>A formula that data have seen, over the model's states and values.</summary>
public static class ObservedFormula
{
    /// <summary>The formula as a node, without the share of it that is seen.</summary>
    /// <param name="network">The model over a graph of the caller's own.</param>
    /// <exception cref="ArgumentException">It cannot be read, or names something that is not in the model; the message says what to
    /// do.</exception>
    public static int NodeOf(ReactionNetwork network, StudyDocument document, Observation observation)
    {
        var formula = Formula.Read(observation.Formula);
        if (formula.Tree is null)
            throw new ArgumentException($"What “{observation.Label}” has seen cannot be read: {formula.Problem!.Message}");
        var named = network
            .Amounts.Concat(network.Quantities)
            .GroupBy(one => one.Symbol)
            .ToDictionary(one => one.Key, one => one.First().Node);
        return new FormulaBinder(
            network.Graph,
            document.UnitTable(),
            name =>
                named.TryGetValue(name, out var node) ? node
                : network.IndexOf(new(name)) is var index and >= 0 ? network.Graph.Parameter(index)
                : throw new ArgumentException(
                    $"“{observation.Label}” has seen {name}, which is not in the model. Choose another formula under Data."
                ),
            (_, _) =>
                throw new ArgumentException(
                    $"What “{observation.Label}” has seen calls a function of the model. Give it a name in Build, and observe that name."
                )
        ).Bind(formula.Tree);
    }
}
