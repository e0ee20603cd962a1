using ClearTide.Core.Compilation;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Ensembles;

/// <summary>What runs by chance cannot take, each in a sentence.</summary>
public static class ChanceRefusal
{
    /// <summary>Why a model cannot run by chance, or null where it can.</summary>
    /// <param name="lowered">The compiled model.</param>
    public static string? Of(LoweredModel lowered) => Of(lowered.Network);

    /// <summary>The same for a network that no study stands behind.</summary>
    /// <param name="network">The network.</param>
    public static string? Of(ReactionNetwork network)
    {
        if (network.DiscreteStep > 0)
            return "This model goes in discrete steps, which chance runs cannot follow yet. Choose another method under the curves.";
        if (network.Delays.Count > 0)
            return "This model has a delay. Delays with chance are not offered: stages in an exit give a delay that chance can follow.";
        if (network.Processes.FirstOrDefault(process => process.Changes.Any(change => change.Factor >= 0)) is { } uneven)
            return $"{uneven.Name} takes or makes numbers that are not whole, and chance moves whole units. Give it whole numbers.";
        return null;
    }
}
