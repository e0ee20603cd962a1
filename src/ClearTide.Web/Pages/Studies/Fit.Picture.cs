using System.Collections.Immutable;
using System.Text.Json;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Web.Curves;
using ClearTide.Web.Hosting;
using ClearTide.Web.Jobs;
using ClearTide.Web.Studies;
using ClearTide.Web.Words;

namespace ClearTide.Web.Pages.Studies;

/// <summary>The picture of a fit: rows, what is expected of them and between them, and the bands around that. Where rows are of subjects
/// there is a small picture for each.</summary>
public sealed partial class FitModel
{
    /// <summary>What one picture shows: a series, or one subject's part of it.</summary>
    /// <param name="Key">Tells it from others.</param>
    /// <param name="Shown">Places of its rows among all of the series.</param>
    private sealed record Shown(Series Series, string? Subject, string Key, IReadOnlyList<int> Places);

    private IEnumerable<Shown> Pictures =>
        Series.SelectMany(one =>
        {
            var rows = one.Data.Rows;
            var names = rows.Select(row => row.Subject).OfType<string>().Distinct().Take(SubjectCurves.Most).ToList();
            if (names.Count == 0)
                return new[] { new Shown(one, null, one.Observation.Id, ShownRows.Of(rows)) };
            var places = rows.Index().ToLookup(row => row.Item.Subject, row => row.Index);
            return names.Select(name => new Shown(one, name, $"{one.Observation.Id} {name}", [.. places[name]]));
        });

    /// <summary>How many subjects are not shown, since there are too many.</summary>
    public int SubjectsBeyond =>
        Series
            .Select(one => one.Data.Rows.Select(row => row.Subject).OfType<string>().Distinct().Count() - SubjectCurves.Most)
            .Append(0)
            .Max();

    public string PictureJson
    {
        get
        {
            var expected = Series.Zip(Expected()).ToDictionary(one => one.First.Observation.Id, one => one.Second);
            var curves = Fitted();
            var besides = Beside
                .Select(one => Series.Zip(Expected(one.Fit.Means)).ToDictionary(one => one.First.Observation.Id, one => one.Second))
                .ToList();
            var series = Pictures.Select(one =>
            {
                var (observation, data) = one.Series;
                var curve = curves.GetValueOrDefault(one.Key);
                return new
                {
                    id = one.Key,
                    of = observation.Id,
                    subject = one.Subject,
                    label = observation.Label,
                    counted = CurveUnit.Of(Lowered(), observation),
                    colour = observation.Colour,
                    rows = one.Places.Select(place =>
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
                            row = place,
                        };
                    }),
                    expected = expected[observation.Id] is { } means ? one.Places.Select(place => means[place]) : null,
                    times = SoFar is null ? curve?.Times : null,
                    curve = SoFar is null ? curve?.Expected : null,
                    beside = Beside.Select(
                        (other, k) =>
                            new
                            {
                                fit = other.Fit.Fingerprint,
                                shade = k + 1,
                                name = other.Name,
                                expected = besides[k].GetValueOrDefault(observation.Id) is { } means
                                    ? one.Places.Select(place => means[place])
                                    : null,
                            }
                    ),
                    bands = one.Subject is null ? Bands(observation, one.Places) : null,
                    next = Next.Where(sample => sample.ObservationId == observation.Id && sample.Subject == one.Subject)
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
                    checks = Checks(),
                }
            );
        }
    }

    /// <summary>The residuals of each series against the normal law and against those before them; empty without a fit of this
    /// content.</summary>
    private IEnumerable<object> Checks()
    {
        if (Status is not { IsCurrent: true, Result.Detail: { } detail } || detail.Fitted.Length != Series.Sum(one => one.Data.Used.Count))
            yield break;
        var at = 0;
        foreach (var one in Series)
        {
            var rows = one.Data.Used;
            // Of subjects one after another: what goes with what came before is of the same one.
            double[] residuals =
            [
                .. rows.Select((row, k) => (row, detail.Fitted[at + k].Residual))
                    .OrderBy(pair => pair.row.Subject, StringComparer.Ordinal)
                    .Select(pair => pair.Residual),
            ];
            at += rows.Count;
            yield return new
            {
                label = one.Observation.Label,
                quantiles = ResidualChecks.Quantiles(residuals).Select(pair => new[] { pair.Expected, pair.Found }),
                lags = ResidualChecks.Autocorrelation(residuals),
                within = 1.96 / Math.Sqrt(Math.Max(1, residuals.Count(double.IsFinite))),
            };
        }
    }

    /// <summary>What the newest fit expects of each row of each series; null where it was of other rows, and for rows left
    /// out.</summary>
    private IEnumerable<double?[]?> Expected() => Expected(SoFar?.Means ?? Status.Result?.Means ?? []);

    /// <summary>The best that a search under way has found; null where none is, or it has found nothing that can be drawn.</summary>
    private FitSoFar? SoFar => Status is { IsRunning: true, Job: { } job } && FitJob.SoFar(job) is { Means.Length: > 0 } best ? best : null;

    /// <summary>Fits of the same data besides the one that is shown, to be laid beside it: as many as can be told apart.</summary>
    public IReadOnlyList<ComparedFit> Beside =>
        [.. Status.Comparable.Where(one => one.Fit.Fingerprint != Status.Result?.Fingerprint).Take(MostBeside)];

    private const int MostBeside = 5;

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

    /// <summary>A line between rows.</summary>
    private sealed record Line(IReadOnlyList<double> Times, IReadOnlyList<double> Expected);

    /// <summary>What the fitted model expects of each picture's series that stood, also between its rows; empty where there is no fit of
    /// this content.</summary>
    private Dictionary<string, Line> Fitted() =>
        Status is { IsCurrent: true, Result: { } result }
            ? Lines(result.Estimates.ToDictionary(estimate => estimate.Address, estimate => estimate.Value), result.Detail?.Subjects ?? [])
            : [];

    /// <summary>What the model expects at values by address. What is seen over intervals is expected of the rows' own intervals
    /// alone.</summary>
    private Dictionary<string, Line> Lines(Dictionary<ValueAddress, double> values, IReadOnlyList<SubjectEstimate> own)
    {
        var document = FreedValues.At(FreedValues.Of(TiedModel.Of(Document), values.Keys), values);
        var standing = Series.Where(one => !one.Observation.Seen.HasInterval()).ToList();
        var ofSubjects = standing.Where(one => one.Data.Rows.Any(row => row.Subject is not null)).ToList();
        var lines = new Dictionary<string, Line>();
        if (standing.Count > ofSubjects.Count)
        {
            var run = RunInTime(document, cancel => StudyRun.Of(document, Series, cancel).With(values, cancel));
            foreach (var curve in run.Observed.Where(one => !one.Series.Observation.Seen.HasInterval() && one.Expected.Count > 0))
                lines[curve.Series.Observation.Id] = new(curve.Times, curve.Expected);
        }
        if (ofSubjects.Count > 0)
        {
            foreach (
                var curve in InTime(
                    WorkTime.Run,
                    cancel => SubjectCurves.Of(document, ofSubjects, values, own, cancel),
                    _ => (IReadOnlyList<SubjectCurve>)[]
                )
            )
                lines[$"{curve.ObservationId} {curve.Subject}"] = new(curve.Times, curve.Expected);
        }
        return lines;
    }
}
