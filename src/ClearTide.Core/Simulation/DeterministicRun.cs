namespace ClearTide.Core.Simulation;

/// <summary>One run that is made once.</summary>
internal interface IRunInTime
{
    /// <exception cref="SimulationException">The run could not go on.</exception>
    Trajectory Run(CancellationToken cancel);

    /// <summary>What there is of a run that could not go on: its rows, and one more where it stopped.</summary>
    Trajectory SoFar(SimulationException failure);
}

/// <summary>A run without chance: of one smooth law, or of one with jumps.</summary>
internal static class DeterministicRun
{
    /// <exception cref="SimulationException">The run could not go on; it holds what there was before.</exception>
    public static Trajectory Make(RunRequest request, SolverSettings settings, ISegmentObserver? observer, CancellationToken cancel)
    {
        var (state, schedule) = (request.InitialState(), request.Schedule);
        if (request.ScaleToStart)
            settings = settings.ScaledTo(state);
        IRunInTime run = request.Model.Hybrid is null
            ? new SmoothRun(request.Model, state, schedule, request.Times, settings, request.Rows, observer)
            : new HybridRun(request.Model, state, schedule, request.Times, settings, request.Rows, request.Replicate, observer);
        try
        {
            return WatchedRanges.Check(run.Run(cancel), schedule);
        }
        catch (SimulationException failure)
        {
            failure.Before ??= run.SoFar(failure);
            throw;
        }
    }
}
