using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>An engine of runs by chance, which can be followed along their paths.</summary>
internal interface IStochasticEngine : IEngine
{
    /// <param name="path">Follows the run from its first output time on; null for nobody.</param>
    /// <inheritdoc cref="IEngine.Run"/>
    Trajectory Run(RunRequest request, IPathObserver? path, CancellationToken cancel);
}
