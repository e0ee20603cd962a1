using System.Collections.Concurrent;
using ClearTide.Core.Language;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Ensembles;

/// <summary>An ensemble that cannot be made; the message says what to do.</summary>
/// <param name="message">What to do, in one sentence.</param>
public sealed class EnsembleRefusedException(string message) : Exception(message);

/// <summary>Many runs of one model by chance.</summary>
/// <param name="Model">What is run.</param>
/// <param name="Values">All parameters of the model's network.</param>
/// <param name="Times">Ascending output times; runs span from the first to the last.</param>
/// <param name="Replicates">How many, from one to a million.</param>
/// <param name="Seed">Names the random numbers; replicate r is the same for the same seed, alone or among others.</param>
public sealed record EnsembleRequest(CompiledModel Model, double[] Values, double[] Times, int Replicates, long Seed)
{
    /// <summary>Replicates at most.</summary>
    public const int MostReplicates = 1_000_000;

    /// <summary>How many threads work at once; the result does not depend on it.</summary>
    public int Threads { get; init; } = 2;

    /// <summary>How runs are made.</summary>
    public ChanceMethod Method { get; init; }

    /// <summary>Parameters of each replicate, where they differ, as between subjects; called from any thread. Null where all have
    /// <see cref="Values"/>.</summary>
    public Func<int, double[]>? ValuesOf { get; init; }

    /// <summary>What is laid over each of the runs; null for nothing.</summary>
    public Plan? Plan { get; init; }

    /// <summary>The step of the chain binomial, above zero.</summary>
    public double Step { get; init; } = 1;

    /// <summary>An engine that makes them; it serves one thread.</summary>
    internal IStochasticEngine Engine() =>
        Method switch
        {
            ChanceMethod.Exact => new ExactEngine(),
            ChanceMethod.Leap => new TauLeapEngine(Model),
            _ => new ChainBinomialEngine(Model, Step),
        };
}

/// <summary>How chance moves units.</summary>
public enum ChanceMethod
{
    /// <summary>One by one, by the exact law.</summary>
    Exact,

    /// <summary>Many at once, in steps in which rates hardly change.</summary>
    Leap,

    /// <summary>In steps of a fixed length, with competing exits: the standard of discrete-time epidemic models.</summary>
    ChainBinomial,
}

/// <summary>
/// Runs a model by chance many times over and counts what its columns are at each output time. Memory grows with columns, times and how
/// widely numbers spread, and not with replicates. Amounts of the start that are not whole are rounded at random so that totals hold.
/// </summary>
public static class Ensemble
{
    /// <summary>Replicates that are counted together before they join the others in order: the same for any number of threads, so that sums
    /// round in the same way.</summary>
    private const int Block = 32;

    /// <summary>Steps of one run at most.</summary>
    private const double MostSteps = 10_000_000;

    /// <summary>Cells of a table at most, columns by times.</summary>
    public const int MostCells = 200_000;

    /// <summary>Firings of all replicates that the exact method makes in some ten seconds.</summary>
    private const double Quick = 3e8;

    /// <summary>The method by the size of the model: exact where that is quick enough.</summary>
    /// <param name="request">What was asked for.</param>
    /// <returns>It, and why, in a sentence.</returns>
    public static (ChanceMethod Method, string Why) Choose(EnsembleRequest request)
    {
        var start = request.Model.InitialState(request.Values, request.Times[0]);
        var each = ExpectedTransitions.Of(request.Model, request.Values, start, request.Times[0], request.Times[^1]) ?? 0;
        var all = each * request.Replicates;
        var words = NumberWords.About(all);
        if (RateNoise.IsIn(request.Model.Network))
            return (ChanceMethod.Leap, "Leaping: there is noise in a rate.");
        return all <= Quick
            ? (ChanceMethod.Exact, $"Exact: about {words} transitions in all.")
            : (ChanceMethod.Leap, $"Leaping: the exact method would take about {words} transitions.");
    }

    /// <param name="request">The runs that are made.</param>
    /// <param name="columns">How many columns there are.</param>
    /// <param name="read">What each column is at each time of a run.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <returns>For each column and each time what was counted.</returns>
    /// <exception cref="EnsembleRefusedException">It cannot be made as asked.</exception>
    /// <exception cref="SimulationException">A run stopped on the way.</exception>
    public static Tally[][] Run(
        EnsembleRequest request,
        int columns,
        Func<Trajectory, IReadOnlyList<double[]>> read,
        CancellationToken cancel = default
    )
    {
        if (request.Replicates is < 1 or > EnsembleRequest.MostReplicates)
            throw new EnsembleRefusedException($"Ask for 1 to {EnsembleRequest.MostReplicates:N0} replicates.");
        if ((long)columns * request.Times.Length > MostCells)
            throw new EnsembleRefusedException(
                $"{columns} columns at {request.Times.Length:N0} times are more than {MostCells:N0} cells. Name fewer columns, or "
                    + "space times further apart."
            );
        var start = request.Model.InitialState(request.Values, request.Times[0]);
        if (request.Method == ChanceMethod.Exact && RateNoise.IsIn(request.Model.Network))
            throw new EnsembleRefusedException(RateNoise.InStepsOnly);
        if (!(request.Step > 0) || !double.IsFinite(request.Step))
            throw new EnsembleRefusedException("A step is a time above zero.");
        if (request.Method == ChanceMethod.ChainBinomial && (request.Times[^1] - request.Times[0]) / request.Step > MostSteps)
            throw new EnsembleRefusedException($"The span holds more than {MostSteps:N0} steps of {request.Step:G6}. Take longer ones.");
        if (
            request.Method == ChanceMethod.Exact
            && ExpectedTransitions.Refusal(request.Model, request.Values, start, request.Times[0], request.Times[^1]) is { } refusal
        )
            throw new EnsembleRefusedException(refusal);
        Tally[][] all = Cells(columns, request.Times.Length);
        var engines = new ConcurrentBag<IEngine>();
        var waiting = new Dictionary<int, Tally[][]>();
        var next = 0;
        Workers.For((request.Replicates + Block - 1) / Block, request.Threads, cancel, block =>
        {
            var engine = engines.TryTake(out var free) ? free : request.Engine();
            var cells = Cells(columns, request.Times.Length);
            for (var r = block * Block; r < Math.Min((block + 1) * Block, request.Replicates); r++)
            {
                var run = engine.Run(Replicate(request, r), cancel: cancel);
                var values = read(run);
                for (var column = 0; column < columns; column++)
                {
                    for (var row = 0; row < cells[column].Length; row++)
                        cells[column][row].Add(values[column][row]);
                }
            }
            engines.Add(engine);
            lock (waiting)
            {
                waiting[block] = cells;
                for (; waiting.Remove(next, out var ready); next++)
                {
                    for (var column = 0; column < columns; column++)
                    {
                        for (var row = 0; row < all[column].Length; row++)
                            all[column][row].Add(ready[column][row]);
                    }
                }
            }
        });
        return all;
    }

    /// <summary>One run of it, as it is among all others.</summary>
    /// <param name="request">The runs that it is one of.</param>
    /// <param name="replicate">From 0.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    public static Trajectory RunOne(EnsembleRequest request, int replicate, CancellationToken cancel = default) =>
        request.Engine().Run(Replicate(request, replicate), cancel: cancel);

    /// <summary>The same by an engine that has made others: what it needs room for is there already.</summary>
    /// <param name="engine">Of the model of the request.</param>
    /// <param name="request">The runs that it is one of.</param>
    /// <param name="replicate">Number of the run, from 0.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <param name="path">Follows it, or null.</param>
    internal static Trajectory RunOne(
        IStochasticEngine engine,
        EnsembleRequest request,
        int replicate,
        CancellationToken cancel,
        IPathObserver? path = null
    ) => engine.Run(Replicate(request, replicate), path, cancel);

    private static RunRequest Replicate(EnsembleRequest request, int replicate)
    {
        var values = request.ValuesOf?.Invoke(replicate) ?? request.Values;
        var run = new RunRequest(request.Model, values, request.Times) { Seed = request.Seed, Replicate = replicate };
        var start = run.InitialState();
        WholeUnits.Round(request.Model.Network, start, new RandomStream(request.Seed, replicate, "rounding", "start").NextUniform());
        return request.Plan is { } plan ? run with { Start = start, Plan = plan } : run with { Start = start };
    }

    private static Tally[][] Cells(int columns, int rows) =>
        [.. Enumerable.Range(0, columns).Select(_ => Enumerable.Range(0, rows).Select(_ => new Tally()).ToArray())];
}
