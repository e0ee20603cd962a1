using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>How well the last rows are forecast by a fit to those before them.</summary>
internal static class ForecastScores
{
    /// <summary>One time in this many is left out.</summary>
    private const int OneOf = 6;

    /// <summary>Quantiles from which the ranked probability score is summed up.</summary>
    private static readonly double[] Shares = [.. Enumerable.Range(0, 40).Select(k => (k + 0.5) / 40)];

    /// <returns>Null where too few rows would be left to fit.</returns>
    public static ForecastScore? Of(LoweredModel lowered, LikelihoodSearch search, SearchPoint best, CancellationToken cancel)
    {
        var series = search.Model.Series;
        // Of subjects each has its own last rows.
        var from = series
            .SelectMany(one => one.Data.Used)
            .GroupBy(row => row.Subject ?? "")
            .Select(group => (Subject: group.Key, From: LastTimes([.. group.Select(row => row.End).Distinct().Order()])))
            .Where(one => one.From is not null)
            .ToDictionary(one => one.Subject, one => one.From!.Value);
        if (from.Count == 0)
            return null;
        bool IsLate(DataRow row) => row.End >= from.GetValueOrDefault(row.Subject ?? "", double.PositiveInfinity);
        List<Series> early = [.. series.Select(one => Only(one, row => !IsLate(row)))],
            late = [.. series.Select(one => Only(one, row => IsLate(row) && !row.Below))];
        if (early.Any(one => one.Data.Rows.Count == 0) || early.Sum(one => one.Data.Rows.Count) < search.Dimension + search.Spreads)
            return null;
        late.RemoveAll(one => one.Data.Rows.Count == 0);
        if (late.Count == 0)
            return null;
        try
        {
            ObservedModel Model(List<Series> rows) =>
                new(
                    lowered,
                    rows,
                    [.. search.Setup.Parameters.Select(one => one.Address)],
                    owners: [.. search.Setup.Parameters.Select(one => one.Subject)]
                );
            var fit = new LikelihoodSearch(Model(early), search.Setup);
            var around = new Neighbourhood(fit, fit.Climb(best.U, cancel: cancel), cancel);
            return Score(early, late, around, Model(late).Predict(around.Values, cancel), from.Values.Min()) with
            {
                Subjects = from.Count(one => one.Key.Length > 0),
            };
        }
        catch (SimulationException)
        {
            return null;
        }
    }

    /// <summary>From when on the last of these times are; null where there are too few to leave some out.</summary>
    private static double? LastTimes(double[] times) => times.Length < 4 ? null : times[^Math.Max(1, times.Length / OneOf)];

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
