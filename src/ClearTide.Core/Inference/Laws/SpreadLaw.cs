using ClearTide.Core.Data;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference.Laws;

/// <summary>
/// The law by which the rows of one series spread around what is expected of them. A law may have numbers of its own, its spread, which
/// are estimated with the values of the model: for given means the most likely ones are found alone. A row of weight w counts as w rows.
/// </summary>
internal abstract class SpreadLaw
{
    /// <summary>Expectations below this are taken as this: an integration error must not make an expectation of nothing negative.</summary>
    public const double LeastMean = 1e-12;

    public static SpreadLaw Of(ErrorLaw law) =>
        law switch
        {
            ErrorLaw.Poisson => new PoissonLaw(),
            ErrorLaw.NegativeBinomial => new NegativeBinomialLaw(),
            ErrorLaw.Normal => new NormalLaw(),
            ErrorLaw.LogNormal => new LogNormalLaw(),
            ErrorLaw.Proportional => new ProportionalLaw(),
            ErrorLaw.AdditiveProportional => new AdditiveProportionalLaw(),
            ErrorLaw.Binomial => new BinomialLaw(),
            _ => throw new ArgumentOutOfRangeException(nameof(law), law, null),
        };

    /// <summary>The law of a series in a fit.</summary>
    public static SpreadLaw Of(Observation seen, FitSetup setup)
    {
        var law = Of(seen.LawIn(setup));
        // A file may say what no field would take: that is not known.
        law.Known = seen.Spread is > 0 and < double.PositiveInfinity and var known ? known : null;
        return law;
    }

    /// <summary>Its spread where that is known from elsewhere; null where it is estimated.</summary>
    public double? Known { get; private set; }

    /// <summary>How many numbers of its own these rows leave to be estimated.</summary>
    public int Numbers(IReadOnlyList<DataRow> rows) => Known is null ? Unknown(rows) : 0;

    /// <summary><see cref="Numbers"/> where nothing is known from elsewhere.</summary>
    protected abstract int Unknown(IReadOnlyList<DataRow> rows);

    /// <summary>The spread for these means: the known one, else the most likely one; 1 where the law or the rows have none.</summary>
    public LawSpread SpreadFor(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means) =>
        Known ?? (HasSpread(rows) ? BestSpread(rows, means) : new LawSpread(1));

    /// <summary>Whether it has a spread that these rows leave to be estimated.</summary>
    public bool HasSpread(IReadOnlyList<DataRow> rows) => Numbers(rows) > 0;

    /// <summary>The natural logarithm of the density, or of the probability of a count, constants included; for a row below its limit that
    /// of the probability of anything below it.</summary>
    public double Log(DataRow row, double mean, LawSpread spread) => row.Below ? Below(row, mean, spread).Log : LogSeen(row, mean, spread);

    /// <summary>The derivative of the log-likelihood by the mean (the score).</summary>
    public double Slope(DataRow row, double mean, LawSpread spread) =>
        row.Below ? Below(row, mean, spread).Slope : SlopeSeen(row, mean, spread);

    /// <summary>The information of a row about its mean: the expected one of a value, and of a row below its limit what it tells.</summary>
    public double Information(DataRow row, double mean, LawSpread spread) =>
        row.Below ? Below(row, mean, spread).Information : InformationSeen(row, mean, spread);

    /// <summary>The most likely spread for these means; 1 where there is none.</summary>
    public LawSpread BestSpread(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means)
    {
        if (!rows.Any(row => row.Below))
            return BestSpreadSeen(rows, means);
        // Rows below a limit leave no closed form: it is looked for around what the other rows say alone.
        var (seen, at) = (new List<DataRow>(), new List<double>());
        for (var i = 0; i < rows.Count; i++)
        {
            if (rows[i].Below)
                continue;
            seen.Add(rows[i]);
            at.Add(means[i]);
        }
        var first = seen.Count > 0 && HasSpread(seen) ? BestSpreadSeen(seen, at.ToArray()) : 1;
        return BestSpreadBelow(rows, means.ToArray(), first);
    }

    /// <summary><see cref="BestSpread"/> where some rows are below a limit.</summary>
    /// <param name="rows">The rows of data.</param>
    /// <param name="means">What is expected of each row.</param>
    /// <param name="first">What the other rows say alone.</param>
    protected virtual LawSpread BestSpreadBelow(IReadOnlyList<DataRow> rows, double[] means, LawSpread first) =>
        MostLikely(spread => Sum(rows, means, spread), first.Main / 100, 100 * first.Main);

    /// <summary>The weighted sum of <see cref="Log"/> over rows.</summary>
    protected double Sum(IReadOnlyList<DataRow> rows, IReadOnlyList<double> means, LawSpread spread)
    {
        var sum = 0.0;
        for (var i = 0; i < rows.Count; i++)
            sum += rows[i].Weight * Log(rows[i], means[i], spread);
        return sum;
    }

    /// <summary><see cref="Log"/> of a value that was seen.</summary>
    protected abstract double LogSeen(DataRow row, double mean, LawSpread spread);

    /// <summary><see cref="Slope"/> of a value that was seen.</summary>
    protected abstract double SlopeSeen(DataRow row, double mean, LawSpread spread);

    /// <summary><see cref="Information"/> of a value that was seen.</summary>
    protected abstract double InformationSeen(DataRow row, double mean, LawSpread spread);

    /// <summary>What a row tells of which is known alone that it is below its value, the limit.</summary>
    protected abstract LowerTail Below(DataRow row, double mean, LawSpread spread);

    /// <summary><see cref="BestSpread"/> where all values were seen.</summary>
    protected abstract LawSpread BestSpreadSeen(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means);

    /// <summary>The spread of the highest log-likelihood between two, by golden section on its logarithm (Nocedal and Wright, Numerical
    /// Optimization, 2nd ed., chapter 3), to seven digits.</summary>
    protected static double MostLikely(Func<double, double> log, double least, double most)
    {
        double low = Math.Log(least),
            high = Math.Log(most);
        var golden = (Math.Sqrt(5) - 1) / 2;
        double a = high - golden * (high - low),
            b = low + golden * (high - low);
        double atA = log(Math.Exp(a)),
            atB = log(Math.Exp(b));
        while (high - low > 1e-7)
        {
            if (atA >= atB)
            {
                (high, b, atB) = (b, a, atA);
                a = high - golden * (high - low);
                atA = log(Math.Exp(a));
            }
            else
            {
                (low, a, atA) = (a, b, atB);
                b = low + golden * (high - low);
                atB = log(Math.Exp(b));
            }
        }
        return Math.Exp(0.5 * (low + high));
    }

    /// <summary>The variance of what may be seen in a row.</summary>
    public abstract double Variance(DataRow row, double mean, LawSpread spread);

    /// <summary>The step between values that can be seen, from nothing on; 0 where any value can.</summary>
    public virtual double Step(DataRow row) => 0;

    /// <summary>The highest value that can be seen.</summary>
    public virtual double Most => double.PositiveInfinity;

    /// <summary>Whether nothing at or below zero can be seen.</summary>
    public virtual bool IsPositive => false;

    /// <summary>Why the law cannot hold for a row, in a sentence; null where it can.</summary>
    public abstract string? Refusal(DataRow row);

    /// <summary>A mean that the law can take.</summary>
    public virtual double Settle(double mean) => Math.Max(mean, LeastMean);
}
