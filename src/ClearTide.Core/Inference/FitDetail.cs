using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>An optimum that starts ended at.</summary>
/// <param name="Height">The log-likelihood there, with the logarithm of the priors.</param>
/// <param name="Count">How many starts ended there.</param>
/// <param name="Values">In the order of the estimates, in the model's units.</param>
/// <param name="Bounds">Which values stand at a bound.</param>
public sealed record Optimum(double Height, int Count, ImmutableArray<double> Values, ImmutableArray<AtBound> Bounds);

/// <summary>A value that stands at a bound.</summary>
/// <param name="Address">The value it is of.</param>
/// <param name="IsUpper">Whether that is the upper one.</param>
public sealed record AtBound(ValueAddress Address, bool IsUpper);

/// <summary>A start from which the model could not be run, counted from 0, the model's own values; and why.</summary>
/// <param name="Start">Number of the start.</param>
/// <param name="Reason">As a sentence.</param>
public sealed record FailedStart(int Start, string Reason);

/// <summary>A place on a profile.</summary>
/// <param name="Value">In the model's units.</param>
/// <param name="Fall">How far the log-likelihood is below the best one there, all other values fitted again.</param>
public sealed record ProfilePoint(double Value, double Fall);

/// <summary>What a row of data was expected to be, and how far it is from that.</summary>
/// <param name="MeanLow">Lower end of the 95% interval of the expectation.</param>
/// <param name="MeanHigh">Its upper end.</param>
/// <param name="Low">Lower end of the stretch that holds 95% of what may be seen in such a row.</param>
/// <param name="High">Its upper end.</param>
/// <param name="Residual">Observed minus expected, in standard deviations of the law (Pearson's); not a number below a limit.</param>
public sealed record RowFit(double MeanLow, double MeanHigh, double Low, double High, double Residual);

/// <summary>A sample that would narrow a value.</summary>
/// <param name="ObservationId">Which series.</param>
/// <param name="Start">Where the row would begin.</param>
/// <param name="End">And end.</param>
/// <param name="Expected">What would be expected of it.</param>
/// <param name="Address">The value that it narrows most.</param>
/// <param name="Before">Half the width of that value's 95% interval now: as a share of the value where it is searched on a log scale,
/// else in its unit.</param>
/// <param name="After">The same with the sample.</param>
public sealed record NextSample(
    string ObservationId,
    double Start,
    double End,
    double Expected,
    ValueAddress Address,
    double Before,
    double After
)
{
    /// <summary>Of whom the sample would be; null where rows are of no subjects.</summary>
    public string? Subject { get; init; }

    /// <summary>Whose own the value is that it narrows; null for one that all share.</summary>
    public string? OwnOf { get; init; }
}

/// <summary>How well the last rows are forecast by a fit to those before them.</summary>
/// <param name="From">The time from which rows were left out; where rows are of subjects, the first such time of any.</param>
/// <param name="Rows">How many.</param>
/// <param name="LogScore">The log density of what came, summed up; the higher the better.</param>
/// <param name="Crps">The mean continuous ranked probability score (Gneiting and Raftery, J. Am. Stat. Assoc. 102, 2007, pp. 359–378), in
/// the unit of the rows; the lower the better.</param>
/// <param name="Within50">How many rows lie within the middle half of their forecast.</param>
/// <param name="Within90">How many within the middle 90%.</param>
public sealed record ForecastScore(double From, int Rows, double LogScore, double Crps, int Within50, int Within90)
{
    /// <summary>Of how many subjects the last rows of each were left out; 0 where rows are of no subjects.</summary>
    public int Subjects { get; init; }
}

/// <summary>What a fit found besides its estimates.</summary>
/// <param name="LogPrior">The logarithm of the density of the priors at the estimates; 0 where there are none.</param>
/// <param name="Free">How many numbers were estimated, spreads of laws included.</param>
/// <param name="Rows">How many rows of data were used.</param>
/// <param name="ObservedErrors">Standard errors by the observed information, in the order of the estimates; null where it has no
/// inverse.</param>
/// <param name="Profiles">For each estimate its profile, from low to high values.</param>
/// <param name="Fitted">For each row that was used, series by series.</param>
/// <param name="Patterns">In sentences, what residuals show that they should not; empty where they show nothing.</param>
/// <param name="Next">What to measure next, the most telling first.</param>
/// <param name="Forecast">Null where there are too few rows to leave some out.</param>
public sealed record FitDetail(
    double LogPrior,
    int Free,
    int Rows,
    ImmutableArray<double?> ObservedErrors,
    ImmutableArray<ImmutableArray<ProfilePoint>> Profiles,
    ImmutableArray<RowFit> Fitted,
    ImmutableArray<string> Patterns,
    ImmutableArray<NextSample> Next,
    ForecastScore? Forecast
)
{
    /// <summary>The optima that starts ended at, the best first.</summary>
    public ImmutableArray<Optimum> Optima { get; init; } = [];

    /// <summary>Starts that failed.</summary>
    public ImmutableArray<FailedStart> Failures { get; init; } = [];

    /// <summary>Draws of what the data leave of the values, each in the order of the estimates and in the model's units; empty where they
    /// could not be made.</summary>
    public ImmutableArray<ImmutableArray<double>> Draws { get; init; } = [];

    /// <summary>Quantities that follow from the estimated values alone, with the middle 95% of the draws.</summary>
    public ImmutableArray<DerivedQuantity> Derived { get; init; } = [];

    /// <summary>Where subjects have values of their own, those of each.</summary>
    public ImmutableArray<SubjectEstimate> Subjects { get; init; } = [];

    /// <summary>What a bootstrap found; null where none was asked for, or too few of its sets could be fitted.</summary>
    public BootstrapResult? Bootstrap { get; init; }

    /// <summary>Hash of the data: fits with the same one can be compared.</summary>
    public string Data { get; init; } = "";

    /// <summary>How often the likelihood was worked out.</summary>
    public int Evaluations { get; init; }

    /// <summary>What was asked for.</summary>
    public FitSetup Setup { get; init; } = FitSetup.Empty;
}

/// <summary>Measures by which fits of the same data are compared.</summary>
public static class FitCriteria
{
    /// <summary>Akaike's criterion for few rows, AIC + 2k(k + 1)/(n − k − 1) (Burnham and Anderson, Model Selection and Multimodel
    /// Inference, 2nd ed., 2.4); infinite where there are not enough rows.</summary>
    /// <param name="aic">Akaike's criterion.</param>
    /// <param name="free">Numbers that were estimated.</param>
    /// <param name="rows">Rows of data.</param>
    public static double Corrected(double aic, int free, int rows) =>
        rows - free - 1 > 0 ? aic + 2.0 * free * (free + 1) / (rows - free - 1) : double.PositiveInfinity;

    /// <summary>Schwarz's criterion, k ln n − 2 ln L (the same, 6.4.1).</summary>
    /// <param name="logLikelihood">At its greatest.</param>
    /// <param name="free">Number of values that were estimated.</param>
    /// <param name="rows">Number of rows that were fitted.</param>
    public static double Bayesian(double logLikelihood, int free, int rows) => free * Math.Log(rows) - 2 * logLikelihood;

    /// <summary>Akaike weights: exp(−Δ/2) as shares of their sum (the same, 2.9).</summary>
    /// <param name="criteria">One for each fit; infinite ones weigh nothing.</param>
    public static double[] Weights(IReadOnlyList<double> criteria)
    {
        var least = criteria.Where(double.IsFinite).DefaultIfEmpty(0).Min();
        double[] raw = [.. criteria.Select(one => double.IsFinite(one) ? Math.Exp(-0.5 * (one - least)) : 0)];
        var sum = raw.Sum();
        return [.. raw.Select(one => sum > 0 ? one / sum : 0)];
    }
}
