using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;

namespace ClearTide.Core.Ensembles;

/// <summary>How counts that come in spread around what there is to count: the law that data are fitted under.</summary>
/// <param name="Law">The law of the series.</param>
/// <param name="Spread">Its own numbers, as the fit has estimated them; 1 where it has none.</param>
public sealed record ObservationError(ErrorLaw Law, LawSpread Spread)
{
    /// <summary>That of a series; null where its law has a spread that no fit has told.</summary>
    /// <param name="document">The study.</param>
    /// <param name="series">The series that is seen.</param>
    /// <param name="fit">The newest fit, or null.</param>
    /// <param name="place">Of the series among those that were fitted.</param>
    public static ObservationError? Of(StudyDocument document, Series series, FitResult? fit, int place)
    {
        var law = series.Observation.LawIn(document.Fit);
        var known = SpreadLaw.Of(series.Observation, document.Fit);
        if (!known.HasSpread(series.Data.Used))
            return new(law, known.Known ?? 1);
        return fit is { Spreads: { IsDefault: false } spreads } && place < spreads.Length && spreads[place] is { } spread
            ? new(law, spread)
            : null;
    }

    /// <summary>
    /// What is seen of each interval, where so much is expected of it. The same uniform number stands behind an interval of a replicate in
    /// every scenario, so that differences are not those of the error.
    /// </summary>
    /// <param name="expected">For each interval what is expected of it.</param>
    /// <param name="shares">Of the units of each interval, that are seen; null where <paramref name="expected"/> is a rate's and no units
    /// were moved by chance.</param>
    /// <param name="seed">Seed of the random streams; equal seeds give equal numbers.</param>
    /// <param name="replicate">Number of the run, from 0.</param>
    /// <remarks>
    /// The law that counts are fitted under is around a rate, and has in it that units move by chance. Where a run has moved them by chance
    /// already, what is left is which of its n units are seen: each with the share ρ, a binomial count, so that the Poisson law is that of
    /// both together (thinning; Kingman, Poisson Processes, 1993, section 5.1). A negative binomial law adds its m²/k to the variance.
    /// </remarks>
    internal double[] Seen(double[] expected, double[]? shares, long seed, int replicate)
    {
        var (law, stream) = (SpreadLaw.Of(Law), new RandomStream(seed, replicate, "observation", "series"));
        var seen = new double[expected.Length];
        for (var k = 0; k < seen.Length; k++)
        {
            // Each interval takes its number, whatever is expected of it.
            var uniform = stream.NextUniform() + 1e-17;
            var row = new DataRow(k, k + 1, 0);
            if (shares is not null && Law is (ErrorLaw.Poisson or ErrorLaw.NegativeBinomial))
            {
                var (mean, more) = (expected[k], Law == ErrorLaw.NegativeBinomial ? expected[k] * expected[k] / Spread.Main : 0);
                seen[k] = CountLaw.Quantile(mean, mean * Math.Max(0, 1 - shares[k]) + more, uniform);
                continue;
            }
            seen[k] = law.Step(row) > 0 && expected[k] <= 0 ? 0 : new Predictive(law, row, expected[k], 0, Spread).Quantile(uniform);
        }
        return seen;
    }
}
