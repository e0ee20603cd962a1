using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Ensembles;

/// <summary>One outcome of a curve over many runs by chance.</summary>
/// <param name="Values">Of the runs that have it, ascending.</param>
/// <param name="Without">How many runs have none: a level that is never met.</param>
/// <param name="Method">How the runs were made.</param>
public sealed record ChanceOutcomes(ImmutableArray<double> Values, int Without, ChanceMethod Method)
{
    /// <summary>Times at which a run is looked at: what lies between two of them is not seen.</summary>
    private const int Times = 400;

    /// <summary>Runs at most.</summary>
    public const int MostRuns = 100_000;

    /// <summary>How many runs there are in all.</summary>
    public int Runs => Values.Length + Without;

    /// <param name="partId">A compartment or a quantity.</param>
    /// <param name="level">What a time above a level or a crossing is about.</param>
    /// <param name="values">All parameters of the network.</param>
    /// <param name="progress">Told how many runs are done, from any thread.</param>
    /// <exception cref="ArgumentException">The model cannot be run by chance, or has no such curve or outcome; the message says what to
    /// do.</exception>
    public static ChanceOutcomes Of(
        LoweredModel lowered,
        string partId,
        OutcomeKind kind,
        double level,
        int runs,
        double[] values,
        int threads = 2,
        Action<int>? progress = null,
        CancellationToken cancel = default
    )
    {
        var (document, network) = (lowered.Document, lowered.Network);
        if (runs is < 1 or > MostRuns)
            throw new ArgumentException($"How many runs? Type a whole number from 1 to {MostRuns:N0}.");
        if (lowered.IsProvisional)
            throw new ArgumentException("Chance is shown when no part of the model is unfinished.");
        if (ChanceRefusal.Of(lowered) is { } refusal)
            throw new ArgumentException(refusal);
        var output = network.OutputOf(partId);
        if (output < 0)
            throw new ArgumentException("The curve that is looked at is no longer in the model. Choose another one.");
        if (network.IsFlow(output))
            throw new ArgumentException("By chance a flow comes in single units. Choose a compartment or a quantity.");
        double[] times = [.. Enumerable.Range(0, Times + 1).Select(k => document.Start + k * (document.End - document.Start) / Times)];
        var request = new EnsembleRequest(lowered.Compiled, values, times, runs, document.Seed) { Threads = threads };
        request = request with { Method = Ensemble.Choose(request).Method };
        var found = EachReplicate.Of(
            lowered,
            request,
            run => SampledOutcome.Of(run.OutputColumn(output), run.Times, kind, level),
            progress,
            cancel
        );
        double[] had = [.. found.Where(double.IsFinite).Order()];
        return new([.. had], runs - had.Length, request.Method);
    }

    /// <summary>The share of all runs whose outcome is above a limit, with Wilson's interval at 95% (J. Am. Stat. Assoc. 22,
    /// 1927).</summary>
    public Proportion Above(double limit) => Proportion.Of(Values.Count(value => value > limit), Runs);

    /// <summary>Quantiles of the runs that have the outcome.</summary>
    /// <param name="shares">Each from 0 to 1.</param>
    public double[] Quantiles(params double[] shares) => Sampling.Quantiles.Of(Values, shares);
}

/// <summary>A share of so many, with the interval that holds the true one in 95% of all cases.</summary>
public readonly record struct Proportion(double Share, double Low, double High)
{
    private const double Z = 1.959963984540054;

    /// <summary>By Wilson's score (J. Am. Stat. Assoc. 22, 1927).</summary>
    public static Proportion Of(int count, int all)
    {
        double n = all,
            p = count / n;
        var middle = (p + Z * Z / (2 * n)) / (1 + Z * Z / n);
        var half = Z / (1 + Z * Z / n) * Math.Sqrt(p * (1 - p) / n + Z * Z / (4 * n * n));
        return new(p, Math.Max(0, middle - half), Math.Min(1, middle + half));
    }
}
