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

    /// <summary>What is seen of each interval, where so much is expected of it. The same uniform number stands behind an interval of a
    /// replicate in every scenario, so that differences are not those of the error.</summary>
    internal double[] Seen(double[] expected, long seed, int replicate)
    {
        var (law, stream) = (SpreadLaw.Of(Law), new RandomStream(seed, replicate, "observation", "series"));
        var seen = new double[expected.Length];
        for (var k = 0; k < seen.Length; k++)
        {
            // Each interval takes its number, whatever is expected of it.
            var uniform = stream.NextUniform() + 1e-17;
            var row = new DataRow(k, k + 1, 0);
            seen[k] = law.Step(row) > 0 && expected[k] <= 0 ? 0 : new Predictive(law, row, expected[k], 0, Spread).Quantile(uniform);
        }
        return seen;
    }
}
