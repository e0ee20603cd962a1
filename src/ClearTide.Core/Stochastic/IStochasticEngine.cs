using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>An engine of runs by chance, which can be followed along their paths.</summary>
internal interface IStochasticEngine : IEngine
{
    /// <inheritdoc cref="IEngine.Run"/>
    /// <param name="request">What is run.</param>
    /// <param name="path">Follows the run from its first output time on; null for nobody.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    Trajectory Run(RunRequest request, IPathObserver? path, CancellationToken cancel);
}
