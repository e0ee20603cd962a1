namespace ClearTide.Core.Simulation;

/// <summary>States that are laid beside those of a model, which know nothing of them.</summary>
internal static class AddedStates
{
    /// <summary>The model with further states, behind its own.</summary>
    /// <param name="network">The model.</param>
    /// <param name="name">What they are called in messages.</param>
    /// <param name="rates">The rate of change of each, a node over all states; they begin with nothing.</param>
    public static ReactionNetwork WithStates(this ReactionNetwork network, string name, IReadOnlyList<int> rates) =>
        network with
        {
            States = [.. network.States, .. rates.Select(_ => new StateVariable(name, "", IsAmount: false))],
            Initial = [.. network.Initial, .. rates.Select(_ => network.Graph.Constant(0))],
            Rules = [.. network.Rules, .. rates.Select((rate, k) => (network.States.Count + k, rate))],
        };
}
