using System.Collections.Immutable;
using System.Text.Json;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Web.Curves;

namespace ClearTide.Web.Pages.Studies;

/// <summary>The picture of a fit: rows, what is expected of them and between them, and the bands around that.</summary>
public sealed partial class FitModel
{
    public string PictureJson
    {
        get
        {
            var series = Series
                .Zip(Expected(), Fitted())
                .Select(one =>
                {
                    var ((observation, data), shown) = (one.First, ShownRows.Of(one.First.Data.Rows));
                    return new
                    {
                        id = observation.Id,
                        label = observation.Label,
                        rows = shown.Select(place =>
                        {
                            var row = data.Rows[place];
                            return new
                            {
                                start = observation.Seen.HasInterval() ? row.Start : row.End,
                                end = row.End,
                                value = row.Value,
                                error = row.Error,
                                below = row.Below,
                                @out = row.LeftOut,
                                place,
                            };
                        }),
                        expected = one.Second is { } expected ? shown.Select(place => expected[place]) : null,
                        times = one.Third?.Times,
                        curve = one.Third?.Expected,
                        bands = Bands(observation, shown),
                        next = Next.Where(sample => sample.ObservationId == observation.Id)
                            .Select(sample => new
                            {
                                start = sample.Start,
                                end = sample.End,
                                value = sample.Expected,
                            }),
                    };
                });
            return JsonSerializer.Serialize(
                new
                {
                    unit = Document.TimeUnit.Singular,
                    start = Document.Start,
                    series,
                }
            );
        }
    }

    /// <summary>What the newest fit expects of each row of each series; null where it was of other rows, and for rows left
    /// out.</summary>
    private IEnumerable<double?[]?> Expected() => Expected(Status.Result?.Means ?? []);

    private IEnumerable<double?[]?> Expected(ImmutableArray<double> means)
    {
        var whole = means.Length == Series.Sum(one => one.Data.Used.Count);
        var at = 0;
        foreach (var one in Series)
            yield return whole ? [.. one.Data.Rows.Select(row => row.LeftOut ? (double?)null : means[at++])] : null;
    }

    /// <summary>The intervals of the rows that are shown; null where there are none of this content.</summary>
    private IEnumerable<object?>? Bands(Observation observation, IReadOnlyList<int> shown)
    {
        if (Status is not { IsCurrent: true, Result.Detail: { } detail } || detail.Fitted.Length != Series.Sum(one => one.Data.Used.Count))
            return null;
        var at = Series.TakeWhile(one => one.Observation.Id != observation.Id).Sum(one => one.Data.Used.Count);
        var rows = Series.First(one => one.Observation.Id == observation.Id).Data.Rows;
        var fitted = new RowFit?[rows.Count];
        for (var k = 0; k < rows.Count; k++)
            fitted[k] = rows[k].LeftOut ? null : detail.Fitted[at++];
        return shown.Select(place =>
            fitted[place] is { } row
                ? (object)
                    new
                    {
                        meanLow = row.MeanLow,
                        meanHigh = row.MeanHigh,
                        low = row.Low,
                        high = row.High,
                    }
                : null
        );
    }

    /// <summary>What the fitted model expects of each series that stood, also between its rows; null where there is no fit of this
    /// content. What is seen over intervals is expected of the rows' own intervals alone.</summary>
    private IEnumerable<ObservedCurve?> Fitted()
    {
        if (Status is not { IsCurrent: true, Result: { } result } || Series.All(one => one.Observation.Seen.HasInterval()))
            return Series.Select(_ => (ObservedCurve?)null);
        var values = result.Estimates.ToDictionary(estimate => estimate.Address, estimate => estimate.Value);
        var run = RunInTime(Document, cancel => StudyRun.Of(Document, Series, cancel).With(values, cancel));
        return Series.Select(one =>
            run.Observed.FirstOrDefault(curve =>
                curve.Series.Observation.Id == one.Observation.Id && !one.Observation.Seen.HasInterval() && curve.Expected.Count > 0
            )
        );
    }
}
