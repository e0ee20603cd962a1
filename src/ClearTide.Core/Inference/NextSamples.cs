using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>
/// What to measure next: for each series, rows at later times, and by how much each would narrow each value by its expected information
/// (Fedorov, Theory of Optimal Experiments, 1972, 2.2: a row of information w adds w g gᵀ for the slopes g of its expectation).
/// </summary>
internal static class NextSamples
{
    /// <summary>Times looked at for each series.</summary>
    private const int Times = 24;

    /// <summary>Times looked at for each subject at least.</summary>
    private const int LeastTimes = 6;

    /// <summary>Subjects of whom samples are looked at: a solve is needed for each.</summary>
    private const int MostSubjects = 50;

    /// <summary>A sample is worth naming where it takes this share of a value's interval away at least.</summary>
    private const double Worth = 0.05;

    /// <returns>For each value the one sample that narrows it most, the most telling first.</returns>
    public static ImmutableArray<NextSample> Of(
        StudyDocument document,
        LoweredModel lowered,
        Neighbourhood around,
        CancellationToken cancel
    )
    {
        var search = around.Search;
        List<Series> candidates = [.. search.Model.Series.Select(series => series with { Data = Candidates(document, series) })];
        if (candidates.Any(series => series.Data.Rows.Count == 0))
            candidates.RemoveAll(series => series.Data.Rows.Count == 0);
        if (candidates.Count == 0)
            return [];
        Prediction prediction;
        try
        {
            prediction = new ObservedModel(
                lowered,
                candidates,
                [.. search.Setup.Parameters.Select(one => one.Address)],
                owners: [.. search.Setup.Parameters.Select(one => one.Subject)]
            ).Predict(around.Values, cancel);
        }
        catch (Exception wrong) when (wrong is ArgumentException or SimulationException)
        {
            // Nothing can be said of times that the model does not reach.
            return [];
        }
        var best = new NextSample?[search.Dimension];
        var laws = search.Model.Series.Select((series, k) => (series.Observation.Id, k)).ToDictionary(one => one.Id, one => one.k);
        var covariance = around.Covariance;
        var at = 0;
        foreach (var series in candidates)
        {
            var place = laws[series.Observation.Id];
            var (law, spread) = (SpreadLaw.Of(series.Observation, document.Fit), around.Best.Spreads[place]);
            foreach (var row in series.Data.Rows)
            {
                var mean = law.Settle(prediction.Mean[at]);
                var slopes = around.Slopes(prediction, at++);
                var spreadOut = covariance * slopes;
                var information = law.Information(row with { Value = mean }, mean, spread);
                var width = 1 / information + slopes * spreadOut;
                if (!double.IsFinite(width) || !(width > 0))
                    continue;
                for (var j = 0; j < best.Length; j++)
                {
                    var (before, taken) = (covariance[j, j], spreadOut[j] * spreadOut[j] / width);
                    var after = Math.Sqrt(Math.Max(0, before - taken));
                    if (best[j] is { } other && after >= Back(search, j, other.After))
                        continue;
                    best[j] = new(
                        series.Observation.Id,
                        row.Start,
                        row.End,
                        mean,
                        search.Setup.Parameters[j].Address,
                        Half(search, j, Math.Sqrt(before)),
                        Half(search, j, after)
                    )
                    {
                        Subject = row.Subject,
                        OwnOf = search.Setup.Parameters[j].Subject,
                    };
                }
            }
        }
        return
        [
            .. best.OfType<NextSample>()
                .Where(sample => sample.After < (1 - Worth) * sample.Before)
                .OrderBy(sample => sample.After / sample.Before),
        ];
    }

    /// <summary>Half the width of the interval, as a share on a log scale.</summary>
    private static double Half(LikelihoodSearch search, int j, double error) =>
        search.OnLogScale(j) ? Math.Exp(Neighbourhood.Quantile975 * error) - 1 : Neighbourhood.Quantile975 * error;

    private static double Back(LikelihoodSearch search, int j, double half) =>
        search.OnLogScale(j) ? Math.Log(1 + half) / Neighbourhood.Quantile975 : half / Neighbourhood.Quantile975;

    /// <summary>The next of 1, 2 and 5 times a power of ten.</summary>
    private static double Round(double step)
    {
        var power = Math.Pow(10, Math.Floor(Math.Log10(step)));
        return power
            * (
                step <= power ? 1
                : step <= 2 * power ? 2
                : step <= 5 * power ? 5
                : 10
            );
    }

    /// <summary>Rows that could come after those that are there, for each subject by itself: intervals as long as its last one, or times
    /// on a grid. Not later than half as long as its data go on already: what lies far ahead tells most, and comes too late.</summary>
    private static DataSet Candidates(StudyDocument document, Series series)
    {
        var used = series.Data.Used;
        static double? Usual(IEnumerable<double?> said) =>
            said.OfType<double>().Order().ToList() is { Count: > 0 } known ? known[known.Count / 2] : null;
        // As exact as those that are there.
        var like = new DataRow(0, 0, 0) { Error = Usual(used.Select(row => row.Error)), OutOf = Usual(used.Select(row => row.OutOf)) };
        var bodies = used.GroupBy(row => row.Subject).Take(MostSubjects).ToList();
        var times = Math.Max(LeastTimes, Times / bodies.Count);
        return series.Data with
        {
            Rows =
            [
                .. bodies.SelectMany(body =>
                    Later(document.Start, series.Observation.Seen, [.. body], like with { Subject = body.Key }, times)
                ),
            ],
        };
    }

    /// <param name="start">Where the study's span begins.</param>
    /// <param name="seen">At a time, or over an interval.</param>
    /// <param name="rows">Those that there are.</param>
    /// <param name="like">A row as the new ones are, but for its times.</param>
    /// <param name="times">How many are made.</param>
    private static IEnumerable<DataRow> Later(double start, ObservedAs seen, IReadOnlyList<DataRow> rows, DataRow like, int times)
    {
        var (last, interval) = (rows[^1].End, rows[^1].End - rows[^1].Start);
        if (seen.HasInterval())
        {
            var until = last + Math.Max(0.5 * (last - rows[0].Start), 3 * interval);
            var every = Math.Max(1, Math.Ceiling((until - last) / interval / times));
            for (var k = 0.0; last + (k + 1) * interval <= until + 1e-9 * interval; k += every)
                yield return like with
                {
                    Start = last + k * interval,
                    End = last + (k + 1) * interval,
                };
        }
        else
        {
            var ahead = 0.5 * (last - start);
            if (!(ahead > 0))
                yield break;
            var every = Round(ahead / times);
            for (var k = Math.Floor(last / every) + 1; k * every <= last + ahead; k++)
                yield return like with
                {
                    Start = k * every,
                    End = k * every,
                };
        }
    }
}
