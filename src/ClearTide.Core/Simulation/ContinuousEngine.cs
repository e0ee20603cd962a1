namespace ClearTide.Core.Simulation;

/// <summary>Runs a model in continuous time by the method that the request names.</summary>
internal sealed class ContinuousEngine : IEngine
{
    public Trajectory Run(RunRequest request, ISegmentObserver? observer = null, CancellationToken cancel = default)
    {
        if (request.Model.Network.DiscreteStep > 0)
            throw new ArgumentException("This model is written for discrete steps.", nameof(request));
        if (request.Settings.Method == Method.Discrete)
            throw new ArgumentException("This model is written for continuous time.", nameof(request));
        return DeterministicRun.Make(request, request.Settings, observer, cancel);
    }
}
