using ClearTide.Core.Data;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference.Laws;

/// <summary>
/// The law by which the rows of one series spread around what is expected of them. A law may have one parameter of its own, its spread,
/// which is estimated with the values of the model: for given means the most likely spread is found alone.
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
            _ => throw new ArgumentOutOfRangeException(nameof(law), law, null),
        };

    /// <summary>Whether it has a spread that these rows leave to be estimated.</summary>
    public abstract bool HasSpread(IReadOnlyList<DataRow> rows);

    /// <summary>The natural logarithm of the density, or of the probability of a count, constants included.</summary>
    public abstract double Log(DataRow row, double mean, double spread);

    /// <summary>The derivative of the log-likelihood by the mean (the score).</summary>
    public abstract double Slope(DataRow row, double mean, double spread);

    /// <summary>The expected information of a row about its mean.</summary>
    public abstract double Information(DataRow row, double mean, double spread);

    /// <summary>The most likely spread for these means; 1 where there is none.</summary>
    public abstract double BestSpread(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means);

    /// <summary>Why the law cannot hold for a row, in a sentence; null where it can.</summary>
    public abstract string? Refusal(DataRow row);

    /// <summary>A mean that the law can take.</summary>
    public virtual double Settle(double mean) => Math.Max(mean, LeastMean);
}
