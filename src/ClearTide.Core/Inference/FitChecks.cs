using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>A fit that cannot be done; the message says what to do.</summary>
/// <param name="message">What to do, in one sentence.</param>
public sealed class FitRefusedException(string message) : Exception(message);

/// <summary>What is wrong with a fit before anything is run.</summary>
internal static class FitChecks
{
    /// <exception cref="FitRefusedException">It makes no sense as asked.</exception>
    public static void Require(StudyDocument document, FitSetup setup, IReadOnlyList<Series> series)
    {
        if (series.Count == 0)
            throw new FitRefusedException("There are no data to fit to. Bring some under Data first.");
        if (setup.Parameters.IsEmpty)
            throw new FitRefusedException("Tick at least one value to estimate.");
        if (setup.Refusal() is { } refusal)
            throw new FitRefusedException(refusal);
        if (setup.Parameters.Select(one => FreedValues.Refusal(document, one.Address)).OfType<string>().FirstOrDefault() is { } held)
            throw new FitRefusedException(held);
        if (
            setup.Parameters.FirstOrDefault(one => one.Address == FreedValues.StartDay) is { } start
            && First(series) is var first
            && start.Upper > first
        )
            throw new FitRefusedException(
                $"The data begin at {NumberWords.Of(first)}, and the model is to start up to {NumberWords.Of(start.Upper)}. Let the start "
                    + $"day be at most {NumberWords.Of(first)}, or leave earlier rows out."
            );
        var rows = series.Sum(one => one.Data.Used.Count);
        if (rows < setup.Parameters.Length)
        {
            throw new FitRefusedException(
                $"{rows} {(rows == 1 ? "row" : "rows")} of data cannot tell {setup.Parameters.Length} values apart. Tick fewer values, or "
                    + "bring more data."
            );
        }
        foreach (var one in series)
            Check(document, setup, one);
    }

    /// <summary>Where the first row begins.</summary>
    private static double First(IReadOnlyList<Series> series) =>
        series
            .SelectMany(one => one.Data.Used.Select(row => one.Observation.Seen.HasInterval() ? row.Start : row.End))
            .DefaultIfEmpty(double.PositiveInfinity)
            .Min();

    private static void Check(StudyDocument document, FitSetup setup, Series series)
    {
        var (law, rows) = (SpreadLaw.Of(series.Observation, setup), series.Data.Used);
        if (rows.Count == 0)
            throw new FitRefusedException(
                $"All points of {series.Observation.Label} are left out. Take some back under Data, or take the series off the model."
            );
        if (rows.Select(law.Refusal).FirstOrDefault(refusal => refusal is not null) is { } refused)
            throw new FitRefusedException(refused);
        if (law is BinomialLaw && series.Observation.Seen is ObservedAs.Flowed or ObservedAs.Integral)
            throw new FitRefusedException(
                $"{series.Observation.Label} is a share out of a number, and is tied to an amount. Tie it to a formula that is a "
                    + "share, like I / N, or choose another law under Data."
            );
        if (series.Observation.Seen.HasInterval() && rows.Any(row => !(row.End > row.Start)))
            throw new FitRefusedException(
                $"The rows of {series.Observation.Label} stand at one time each, and what they have seen goes over an interval. Bring the "
                    + "table again under Data, and say how long each row counted."
            );
        if (rows[^1].End > document.End)
            throw new FitRefusedException(
                $"The data end at {rows[^1].End:0.###}, after the model's span at {document.End:0.###}. Lengthen the span in Build."
            );
    }

    /// <summary>That what is out of a number is expected to be a share of it, by the model's own values.</summary>
    /// <exception cref="FitRefusedException">It is not.</exception>
    internal static void RequireShares(ObservedModel model, FitSetup setup, CancellationToken cancel)
    {
        if (model.Series.All(one => one.Observation.LawIn(setup) != ErrorLaw.Binomial))
            return;
        double[] means;
        try
        {
            means = model.Means([.. model.Chosen.Select(index => model.Values[index])], cancel);
        }
        catch (SimulationException)
        {
            // The search says of each start why it failed.
            return;
        }
        var at = 0;
        foreach (var one in model.Series)
        {
            var rows = one.Data.Used;
            for (var k = 0; k < rows.Count; k++, at++)
            {
                if (one.Observation.LawIn(setup) == ErrorLaw.Binomial && means[at] is < -1e-6 or > 1 + 1e-6)
                    throw new FitRefusedException(
                        $"{one.Observation.Label} is a share out of a number, and its formula is {NumberWords.Of(means[at], 3)} at "
                            + $"{rows[k].End:0.###}. Tie it to a formula that is a share, like I / N, or choose another law under Data."
                    );
            }
        }
    }
}
