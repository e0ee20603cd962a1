using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Storage;
using ClearTide.Web.Curves;
using ClearTide.Web.Jobs;
using ClearTide.Web.Studies;
using ClearTide.Web.Words;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Chooses what is estimated, runs the fit in the background, and shows what the data could tell.</summary>
public sealed class FitModel(StudyStore studies, StudyLibrary library, JobStore jobs, ResultStore results, JobSignal signal)
    : StudyPage(studies, library)
{
    /// <summary>One value that may be ticked. Bounds are as typed, so that a refused one stays on the screen.</summary>
    public sealed record Choice(ValueAddress Address, string Label, double Value, bool Ticked, string Lower, string Upper);

    private ImmutableArray<FitParameter>? _typed;
    private ErrorLaw? _typedLaw;
    private Dictionary<ValueAddress, (string, string)> _typedBounds = [];

    public override Step Step => Step.Fit;

    /// <summary>The law that is chosen: as it was sent, also where the fit was refused.</summary>
    public ErrorLaw Law => _typedLaw ?? Document.Fit.Law;

    public FitStatus Status => StatusOf(State.Id, Document);

    public IReadOnlyList<Choice> Choices
    {
        get
        {
            var chosen = (_typed ?? Document.Fit.Parameters).ToDictionary(parameter => parameter.Address);
            return
            [
                .. Lowering
                    .Lower(Document)
                    .Network.Values.Select(value =>
                    {
                        var ticked = chosen.TryGetValue(value.Address, out var parameter);
                        var bounds = ValueBounds.Of(Document, Document.Part(value.PartId));
                        var (low, high) = _typedBounds.GetValueOrDefault(
                            value.Address,
                            (
                                Text(parameter?.Lower ?? bounds.Lower ?? Suggest(value.Value, 0.1)),
                                Text(parameter?.Upper ?? bounds.Upper ?? Suggest(value.Value, 10))
                            )
                        );
                        return new Choice(value.Address, ValueWords.Of(Document, value), value.Value, ticked, low, high);
                    }),
            ];
        }
    }

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
                                start = observation.Seen == ObservedAs.Flowed ? row.Start : row.End,
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
    private IEnumerable<double?[]?> Expected()
    {
        var means = Status.Result?.Means ?? [];
        var whole = means.Length == Series.Sum(one => one.Data.Used.Count);
        var at = 0;
        foreach (var one in Series)
            yield return whole ? [.. one.Data.Rows.Select(row => row.LeftOut ? (double?)null : means[at++])] : null;
    }

    /// <summary>What the fitted model expects of each series that stood, also between its rows; null where there is no fit of this
    /// content. What flowed is expected of the rows' own intervals alone.</summary>
    private IEnumerable<ObservedCurve?> Fitted()
    {
        if (Status is not { IsCurrent: true, Result: { } result } || Series.All(one => one.Observation.Seen == ObservedAs.Flowed))
            return Series.Select(_ => (ObservedCurve?)null);
        var values = result.Estimates.ToDictionary(estimate => estimate.Address, estimate => estimate.Value);
        var run = RunInTime(Document, cancel => StudyRun.Of(Document, Series, cancel).With(values, cancel));
        return Series.Select(one =>
            run.Observed.FirstOrDefault(curve =>
                curve.Series.Observation.Id == one.Observation.Id && one.Observation.Seen == ObservedAs.Standing && curve.Expected.Count > 0
            )
        );
    }

    public void OnGet() { }

    public IActionResult OnGetStatus() => Partial("_FitStatus", this);

    /// <summary>A point of the chart that was clicked: fits leave it out from now on, or look at it again.</summary>
    public IActionResult OnPostPoint(long version, string? observation, int row)
    {
        if (Series.FirstOrDefault(one => one.Observation.Id == observation) is not { } series || row < 0 || row >= series.Data.Rows.Count)
            TakeUp(Save(version, new RemoveSeries(observation ?? "")));
        else
        {
            var rows = series.Data.Rows.Select((one, k) => k == row ? one with { LeftOut = !one.LeftOut } : one).ToList();
            TakeUp(Save(version, Library.Leaving(State.Id, series, rows)!));
        }
        return Partial("_FitAnswer", this);
    }

    public IActionResult OnPostStart(
        long version,
        ValueAddress?[] address,
        ValueAddress?[] tick,
        string?[] lower,
        string?[] upper,
        ErrorLaw law
    )
    {
        var parameters = ImmutableArray.CreateBuilder<FitParameter>();
        for (var k = 0; k < address.Length && k < lower.Length && k < upper.Length; k++)
        {
            if (address[k] is not { } value)
                continue;
            var (low, high) = (lower[k] ?? "", upper[k] ?? "");
            _typedBounds[value] = (low, high);
            if (tick.Contains(value))
                parameters.Add(new(value, Number(low), Number(high)));
        }
        _typed = parameters.ToImmutable();
        _typedLaw = law;
        if (parameters.Count == 0)
        {
            Say("Tick at least one value to estimate.");
            return Page();
        }
        if (Series.Count == 0)
        {
            Say("There are no data to fit to. Bring some under Data first.");
            return Page();
        }
        if (Status.IsRunning)
        {
            Say("A fit is under way. Wait for it, or stop it first.");
            return Page();
        }
        var setup = new FitSetup(law, _typed.Value);
        var unchanged = setup.Law == Document.Fit.Law && setup.Parameters.SequenceEqual(Document.Fit.Parameters);
        if (!unchanged && !TakeUp(Save(version, new SetFit(setup))))
            return Page();
        jobs.Add(State.Id, FitJob.Kind, Fingerprints.Of(Document, Series), "");
        signal.Raise();
        return RedirectToPage(new { id = State.Id });
    }

    public IActionResult OnPostStop()
    {
        if (jobs.Newest(State.Id, FitJob.Kind) is { IsOver: false } job)
            jobs.Stop(job.Id);
        return RedirectToPage(new { id = State.Id });
    }

    /// <summary>Writes the estimates into the model, in one edit.</summary>
    public IActionResult OnPostAdopt(long version)
    {
        if (Status.Result is not { } result)
            return Page();
        return Answer(
            Save(version, new AdoptValues(result.Estimates.ToDictionary(estimate => estimate.Address, estimate => estimate.Value)))
        );
    }

    private FitStatus StatusOf(string id, StudyDocument document)
    {
        var result = results.Newest<FitResult>(id, FitJob.Kind);
        var current = result is not null && Series.Count > 0 && result.Fingerprint == Fingerprints.Of(document, Series);
        return new(id, jobs.Newest(id, FitJob.Kind), result, current);
    }

    private static string Text(double value) => TypedNumber.Short(value);

    private static double Number(string text) => TypedNumber.Read(text) ?? double.NaN;

    /// <summary>Bounds that nobody typed: a factor of ten either way, shares within one.</summary>
    private static double Suggest(double value, double factor) =>
        value > 0 ? (value <= 1 && factor > 1 ? Math.Max(1, value) : value * factor)
        : factor > 1 ? 1
        : 0;
}
