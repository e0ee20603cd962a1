using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Ensembles;

/// <summary>One outcome over many runs by chance.</summary>
/// <param name="Values">Of the runs that have it, ascending.</param>
/// <param name="Without">How many runs have none: a level that is never met.</param>
/// <param name="Method">How the runs were made.</param>
public sealed record ChanceOutcomes(ImmutableArray<double> Values, int Without, ChanceMethod Method)
{
    /// <summary>Stretches at whose ends a run is looked at besides its transitions, for amounts that flow between them.</summary>
    private const int Times = 400;

    /// <summary>Runs at most.</summary>
    public const int MostRuns = 100_000;

    /// <summary>How many runs there are in all.</summary>
    public int Runs => Values.Length + Without;

    /// <summary>The outcome of one curve.</summary>
    /// <param name="lowered">The model, lowered.</param>
    /// <param name="partId">A compartment or a quantity.</param>
    /// <param name="kind">Which outcome of the curve.</param>
    /// <param name="level">What a time above a level or a crossing is about.</param>
    /// <param name="runs">How many runs.</param>
    /// <param name="values">All parameters of the network.</param>
    /// <param name="threads">How many work at once; results do not depend on it.</param>
    /// <param name="progress">Told how many runs are done, from any thread.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
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
        OutcomeFormula Outcome()
        {
            var output = lowered.Network.OutputOf(partId);
            if (output < 0)
                throw new ArgumentException("The curve that is looked at is no longer in the model. Choose another one.");
            if (lowered.Network.IsFlow(output))
                throw new ArgumentException("By chance a flow comes in single units. Choose a compartment or a quantity.");
            return new(lowered, output, kind, level);
        }
        return Of(lowered, Outcome, runs, values, threads, progress, cancel);
    }

    /// <summary>What a formula over a run comes to: of a statement 1 where it is true of a run, 0 where not.</summary>
    /// <param name="lowered">The model, lowered.</param>
    /// <param name="formula">As typed; see <see cref="OutcomeFormula"/>.</param>
    /// <param name="runs">How many runs.</param>
    /// <param name="values">All parameters of the network.</param>
    /// <param name="threads">How many work at once; results do not depend on it.</param>
    /// <param name="progress">Told how many runs are done, from any thread.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <exception cref="ArgumentException">The model cannot be run by chance, or the formula cannot be read; the message says what to
    /// do.</exception>
    public static ChanceOutcomes Of(
        LoweredModel lowered,
        string formula,
        int runs,
        double[] values,
        int threads = 2,
        Action<int>? progress = null,
        CancellationToken cancel = default
    ) => Of(lowered, () => OutcomeFormula.Read(lowered, formula), runs, values, threads, progress, cancel);

    /// <summary>What formulas over a run come to over an ensemble.</summary>
    /// <param name="lowered">The compiled model.</param>
    /// <param name="request">How many runs, by which method, from which seed.</param>
    /// <param name="formulas">Formulas over a run, as typed.</param>
    /// <exception cref="ArgumentException">A formula cannot be read, or a run failed; the message says what to do.</exception>
    public static IReadOnlyList<ChanceOutcomes> Of(LoweredModel lowered, EnsembleRequest request, IReadOnlyList<string> formulas)
    {
        var read = formulas.Select(formula => OutcomeFormula.Read(lowered, formula)).ToList();
        var found = EachReplicate.Of(lowered, request, read, null, default);
        return [.. read.Select((formula, k) => Made(found[k], formula, request.Method))];
    }

    private static ChanceOutcomes Made(double[] found, OutcomeFormula formula, ChanceMethod method)
    {
        double[] had = [.. found.Where(double.IsFinite).Order()];
        return new([.. had], found.Length - had.Length, method) { IsStatement = formula.IsStatement };
    }

    private static ChanceOutcomes Of(
        LoweredModel lowered,
        Func<OutcomeFormula> outcome,
        int runs,
        double[] values,
        int threads,
        Action<int>? progress,
        CancellationToken cancel
    )
    {
        var document = lowered.Document;
        if (runs is < 1 or > MostRuns)
            throw new ArgumentException($"How many runs? Type a whole number from 1 to {MostRuns:N0}.");
        if (lowered.IsProvisional)
            throw new ArgumentException("Chance is shown when no part of the model is unfinished.");
        if (ChanceRefusal.Of(lowered) is { } refusal)
            throw new ArgumentException(refusal);
        double[] times = [.. Enumerable.Range(0, Times + 1).Select(k => document.Start + k * (document.End - document.Start) / Times)];
        var request = new EnsembleRequest(lowered.Compiled, values, times, runs, document.Seed) { Threads = threads };
        request = request with { Method = Ensemble.Choose(request).Method };
        var formula = outcome();
        return Made(EachReplicate.Of(lowered, request, [formula], progress, cancel)[0], formula, request.Method);
    }

    /// <summary>Whether each run is one of which something is true or false: values are 1 and 0.</summary>
    public bool IsStatement { get; private init; }

    /// <summary>The share of all runs whose outcome is above a limit, with Wilson's interval at 95% (J. Am. Stat. Assoc. 22,
    /// 1927).</summary>
    /// <param name="limit">In the unit of the outcome.</param>
    public Proportion Above(double limit) => Proportion.Of(Values.Count(value => value > limit), Runs);

    /// <summary>The mean of the runs that have the outcome, its interval at 95% (by Wilson's score for a statement, else by the normal law
    /// of means), and the standard deviation between runs; not numbers where there are too few.</summary>
    public (double Value, double Low, double High, double Deviation) Mean()
    {
        if (Values.IsEmpty)
            return (double.NaN, double.NaN, double.NaN, double.NaN);
        var mean = Values.Average();
        var deviation = Math.Sqrt(Values.Sum(value => (value - mean) * (value - mean)) / (Values.Length - 1));
        if (IsStatement && Above(0.5) is var share)
            return (share.Share, share.Low, share.High, deviation);
        var half = Proportion.Z * deviation / Math.Sqrt(Values.Length);
        return (mean, mean - half, mean + half, deviation);
    }

    /// <summary>Quantiles of the runs that have the outcome.</summary>
    /// <param name="shares">Each from 0 to 1.</param>
    public double[] Quantiles(params double[] shares) => Sampling.Quantiles.Of(Values, shares);
}

/// <summary>A share of all cases, with its 95% confidence interval.</summary>
/// <param name="Share">From 0 to 1.</param>
/// <param name="Low">Lower end of the interval.</param>
/// <param name="High">Upper end of the interval.</param>
public readonly record struct Proportion(double Share, double Low, double High)
{
    /// <summary>The quantile of the normal law that leaves 2.5% on either side.</summary>
    internal const double Z = 1.959963984540054;

    /// <summary>By Wilson's score (J. Am. Stat. Assoc. 22, 1927).</summary>
    /// <param name="count">How many it is true of, 0 to all.</param>
    /// <param name="all">How many there are, at least 1.</param>
    public static Proportion Of(int count, int all)
    {
        double n = all,
            p = count / n;
        var middle = (p + Z * Z / (2 * n)) / (1 + Z * Z / n);
        var half = Z / (1 + Z * Z / n) * Math.Sqrt(p * (1 - p) / n + Z * Z / (4 * n * n));
        return new(p, Math.Max(0, middle - half), Math.Min(1, middle + half));
    }
}
