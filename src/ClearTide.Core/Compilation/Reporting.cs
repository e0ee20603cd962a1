using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Compilation;

/// <summary>The share of an observed flow that is counted, as a formula of the model's plain values.</summary>
public static class Reporting
{
    /// <summary>The share at a time.</summary>
    /// <param name="values">All parameters of the model.</param>
    /// <returns>A number that is meant to lie from 0 to 1.</returns>
    /// <exception cref="ArgumentException">It cannot be read, or uses something that is not a plain value.</exception>
    public static double At(LoweredModel lowered, Observation observation, double time, double[] values)
    {
        var network = lowered.Network.Fork();
        return network.Graph.Evaluate(NodeOf(network, lowered.Document, observation), time, [], values);
    }

    /// <summary>The share as a node over the model's values.</summary>
    /// <param name="network">The model over a graph of the caller's own.</param>
    /// <exception cref="ArgumentException">It cannot be read, or uses something that is not a plain value.</exception>
    public static int NodeOf(ReactionNetwork network, StudyDocument document, Observation observation)
    {
        var formula = Formula.Read(observation.Reporting);
        if (formula.Tree is null)
            throw new ArgumentException($"The reporting fraction cannot be read: {formula.Problem!.Message}");
        return new FormulaBinder(network.Graph, document.UnitTable(), name =>
            network.IndexOf(new(name)) is var index && index >= 0
                ? network.Graph.Parameter(index)
                : throw new ArgumentException(
                    $"The reporting fraction uses {name}, which is not a plain value. Use a number, or add “{name} = 0.5” in Build."
                )
        ).Bind(formula.Tree);
    }

    /// <summary>The flow or quantity that an observation counts, as a place among the model's outputs behind the amounts.</summary>
    /// <exception cref="ArgumentException">It is no longer in the model, or the model has no rates.</exception>
    public static int FlowOf(ReactionNetwork network, Observation observation)
    {
        if (network.DiscreteStep > 0)
            throw new ArgumentException(
                "This model goes in discrete steps, and fits need a rate at each time. Choose another method under the curves of Build."
            );
        var place = network.Flows.Concat(network.Quantities).ToList().FindIndex(one => one.PartId == observation.FlowId);
        return place >= 0
            ? place
            : throw new ArgumentException("The observed flow is no longer in the model. Choose another one under Data.");
    }
}
