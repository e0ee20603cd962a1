namespace ClearTide.Core.Simulation;

/// <summary>Runs a model in steps of its own length, whatever method the request names.</summary>
internal sealed class DiscreteEngine : IEngine
{
    public Trajectory Run(RunRequest request, ISegmentObserver? observer = null, CancellationToken cancel = default)
    {
        var step = request.Model.Network.DiscreteStep;
        if (!(step > 0))
            throw new ArgumentException("This model is written for continuous time.", nameof(request));
        return DeterministicRun.Make(request, request.Settings with { Method = Method.Discrete, Step = step }, observer, cancel);
    }
}
