using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>How well the last rows are forecast by a fit to those before them.</summary>
internal static class ForecastScores
{
    /// <summary>Of so many times, one is left out.</summary>
    private const int OneOf = 6;

    /// <summary>Quantiles from which the ranked probability score is summed up.</summary>
    private static readonly double[] Shares = [.. Enumerable.Range(0, 40).Select(k => (k + 0.5) / 40)];

    /// <returns>Null where too few rows would be left to fit.</returns>
    public static ForecastScore? Of(
        StudyDocument document,
        LoweredModel lowered,
        LikelihoodSearch search,
        SearchPoint best,
        CancellationToken cancel
    )
    {
        var series = search.Model.Series;
        double[] ends = [.. series.SelectMany(one => one.Data.Used).Select(row => row.End).Distinct().Order()];
        if (ends.Length < 4)
            return null;
        var from = ends[^Math.Max(1, ends.Length / OneOf)];
        List<Series> early = [.. series.Select(one => Only(one, row => row.End < from))],
            late = [.. series.Select(one => Only(one, row => row.End >= from && !row.Below))];
        if (early.Any(one => one.Data.Rows.Count == 0) || early.Sum(one => one.Data.Rows.Count) < search.Dimension + search.Spreads)
            return null;
        late.RemoveAll(one => one.Data.Rows.Count == 0);
        if (late.Count == 0)
            return null;
        try
        {
            ValueAddress[] addresses = [.. document.Fit.Parameters.Select(one => one.Address)];
            var fit = new LikelihoodSearch(new ObservedModel(lowered, early, addresses), document.Fit);
            var around = new Neighbourhood(fit, fit.Climb(best.U, cancel: cancel), cancel);
            return Score(early, late, around, new ObservedModel(lowered, late, addresses).Predict(around.Values, cancel), from);
        }
        catch (SimulationException)
        {
            return null;
        }
    }

    private static Series Only(Series series, Func<DataRow, bool> taken) =>
        series with
        {
            Data = series.Data with { Rows = [.. series.Data.Used.Where(taken)] },
        };

    private static ForecastScore Score(List<Series> early, List<Series> late, Neighbourhood around, Prediction prediction, double from)
    {
        var laws = around.Search.Laws.ToList();
        var (log, crps, within50, within90, at) = (0.0, 0.0, 0, 0, 0);
        foreach (var one in late)
        {
            var place = early.FindIndex(other => other.Observation.Id == one.Observation.Id);
            foreach (var row in one.Data.Rows)
            {
                var forecast = new Predictive(
                    laws[place].Law,
                    row,
                    prediction.Mean[at],
                    around.ErrorOfMean(prediction, at),
                    around.Best.Spreads[place]
                );
                at++;
                log += forecast.Log(row.Value);
                // Twice the mean quantile loss over the shares.
                var quantiles = forecast.Quantiles(Shares);
                crps += 2 * quantiles.Zip(Shares).Average(one => (row.Value - one.First) * (one.Second - (row.Value < one.First ? 1 : 0)));
                var ends = forecast.Quantiles([0.05, 0.25, 0.75, 0.95]);
                within50 += row.Value >= ends[1] && row.Value <= ends[2] ? 1 : 0;
                within90 += row.Value >= ends[0] && row.Value <= ends[3] ? 1 : 0;
            }
        }
        return new(from, at, log, crps / at, within50, within90);
    }
}
