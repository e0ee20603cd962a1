using System.Collections.Concurrent;
using ClearTide.Core.Compilation;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Ensembles;

/// <summary>What each run of an ensemble comes to.</summary>
internal static class EachReplicate
{
    /// <summary>Runs that one thread makes before it takes the next ones.</summary>
    private const int Block = 16;

    /// <param name="lowered">The model that is run, for what is said of a run that fails.</param>
    /// <param name="request">The runs that are made: replicates, seed, span, engine.</param>
    /// <param name="formulas">What of a run is asked for; read for that model.</param>
    /// <param name="progress">Told how many runs are done, from any thread.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <param name="from">What lies before is not looked at.</param>
    /// <returns>Formula by formula and replicate by replicate, the same for any number of threads.</returns>
    /// <exception cref="ArgumentException">There would be too many transitions, or a run failed; the message says what to do.</exception>
    public static double[][] Of(
        LoweredModel lowered,
        EnsembleRequest request,
        IReadOnlyList<OutcomeFormula> formulas,
        Action<int>? progress,
        CancellationToken cancel,
        double from = double.NegativeInfinity
    )
    {
        try
        {
            return Made(request, formulas, progress, from, cancel);
        }
        catch (SimulationException failure)
        {
            throw new ArgumentException(RunFailure.Say(failure, lowered));
        }
    }

    private static double[][] Made(
        EnsembleRequest request,
        IReadOnlyList<OutcomeFormula> formulas,
        Action<int>? progress,
        double from,
        CancellationToken cancel
    )
    {
        var start = request.Model.InitialState(request.Values, request.Times[0]);
        if (
            request.Method == ChanceMethod.Exact
            && ExpectedTransitions.Refusal(request.Model, request.Values, start, request.Times[0], request.Times[^1]) is { } large
        )
            throw new ArgumentException(large);
        var found = formulas.Select(_ => new double[request.Replicates]).ToArray();
        var first = Array.FindIndex(request.Times, time => time >= from);
        var engines = new ConcurrentBag<IStochasticEngine>();
        var done = 0;
        Workers.For((request.Replicates + Block - 1) / Block, request.Threads, cancel, block =>
        {
            var engine = engines.TryTake(out var free) ? free : request.Engine();
            var last = Math.Min((block + 1) * Block, request.Replicates);
            for (var r = block * Block; r < last; r++)
            {
                var values = request.ValuesOf?.Invoke(r) ?? request.Values;
                var followed = new FollowedOutcomes(formulas, values, from);
                var run = Ensemble.RunOne(engine, request, r, cancel, followed.Path);
                for (var k = 0; k < found.Length; k++)
                    found[k][r] = followed.Of(k, run, Math.Max(0, first));
            }
            engines.Add(engine);
            progress?.Invoke(Interlocked.Add(ref done, last - block * Block));
        });
        return found;
    }
}
