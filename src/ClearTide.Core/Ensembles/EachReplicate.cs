using System.Collections.Concurrent;
using ClearTide.Core.Compilation;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Ensembles;

/// <summary>One number of each run of an ensemble.</summary>
internal static class EachReplicate
{
    /// <summary>Runs that one thread makes before it takes the next ones.</summary>
    private const int Block = 16;

    /// <param name="lowered">The model that is run, for what is said of a run that fails.</param>
    /// <param name="outcome">What a run comes to, by the run and its number; called from any thread.</param>
    /// <param name="progress">Told how many runs are done, from any thread.</param>
    /// <returns>Replicate by replicate, the same for any number of threads.</returns>
    /// <exception cref="ArgumentException">There would be too many transitions, or a run failed; the message says what to do.</exception>
    public static double[] Of(
        LoweredModel lowered,
        EnsembleRequest request,
        Func<Trajectory, int, double> outcome,
        Action<int>? progress,
        CancellationToken cancel
    )
    {
        try
        {
            return Made(request, outcome, progress, cancel);
        }
        catch (SimulationException failure)
        {
            throw new ArgumentException(RunFailure.Say(failure, lowered));
        }
    }

    private static double[] Made(
        EnsembleRequest request,
        Func<Trajectory, int, double> outcome,
        Action<int>? progress,
        CancellationToken cancel
    )
    {
        var start = request.Model.InitialState(request.Values, request.Times[0]);
        if (
            request.Method == ChanceMethod.Exact
            && ExpectedTransitions.Refusal(request.Model, request.Values, start, request.Times[0], request.Times[^1]) is { } large
        )
            throw new ArgumentException(large);
        var found = new double[request.Replicates];
        var engines = new ConcurrentBag<IEngine>();
        var done = 0;
        Workers.For((found.Length + Block - 1) / Block, request.Threads, cancel, block =>
        {
            var engine = engines.TryTake(out var free) ? free : request.Engine();
            var (first, last) = (block * Block, Math.Min((block + 1) * Block, found.Length));
            for (var r = first; r < last; r++)
                found[r] = outcome(Ensemble.RunOne(engine, request, r, cancel), r);
            engines.Add(engine);
            progress?.Invoke(Interlocked.Add(ref done, last - first));
        });
        return found;
    }
}
