using System.Globalization;
using System.Text.Json;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Tables;
using ClearTide.Storage;
using ClearTide.Web.Jobs;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Runs baseline and scenarios with chance from where the data end, and compares them.</summary>
public sealed class ProjectionsModel(StudyStore studies, StudyLibrary library, JobStore jobs, ResultStore results, JobSignal signal)
    : StudyPage(studies, library)
{
    private static readonly JsonSerializerOptions Camel = new() { PropertyNamingPolicy = JsonNamingPolicy.CamelCase };

    public override Step Step => Step.Projections;

    public Job? Job => jobs.Newest(State.Id, ProjectionJob.Kind);

    public bool IsRunning => Job is { IsOver: false };

    public ProjectionSummary? Result => results.Newest<ProjectionSummary>(State.Id, ProjectionJob.Kind);

    /// <summary>The fit whose estimates the projection starts from: the newest, if it still belongs to the content.</summary>
    public FitResult? Fit =>
        Counted is not null
        && !Document.Observations.IsEmpty
        && results.Newest<FitResult>(State.Id, FitJob.Kind) is { } fit
        && fit.Fingerprint == Fingerprints.Of(Document, Series)
            ? fit
            : null;

    private ProjectionRequest Ask(int replicates, long seed) =>
        new(replicates, seed, Fit?.Estimates.ToDictionary(estimate => estimate.Address, estimate => estimate.Value) ?? []);

    public bool IsCurrent =>
        Result is { } result
        && Counted is not null
        && !Document.Observations.IsEmpty
        && result.Fingerprint == Projection.Fingerprint(Document, Counted.Observation, Counted.Data, Ask(result.Replicates, result.Seed));

    public string PictureJson =>
        JsonSerializer.Serialize(
            new
            {
                label = Result?.Label ?? Counted?.Observation.Label ?? "",
                unit = Document.TimeUnit.Singular,
                now = Result?.Now ?? Counted?.Data.Now ?? 0,
                interval = Result?.Interval ?? (Counted is null ? 1 : Counted.Data.Rows[^1].End - Counted.Data.Rows[^1].Start),
                start = Document.Start,
                times = Result?.Times ?? (Counted is null ? [0, 1] : [Counted.Data.Now, Document.End]),
                rows = Counted?.Data.Rows.Select(row => new
                {
                    start = row.Start,
                    end = row.End,
                    value = row.Value,
                }),
                scenarios = Result?.Scenarios.Select(scenario => new { name = scenario.Name, intervals = scenario.Intervals }) ?? [],
                lanes = Document.Scenarios.SelectMany(
                    (scenario, k) =>
                        scenario.Measures.Select(measure => new
                        {
                            name = measure.Label,
                            words = string.Create(CultureInfo.InvariantCulture, $"{measure.Address} × {measure.Factor}"),
                            from = measure.From,
                            until = measure.Until,
                            scenario = k + 1,
                        })
                ),
            },
            Camel
        );

    public void OnGet() { }

    public IActionResult OnGetStatus() => Partial("_ProjectionStatus", this);

    public IActionResult OnGetCsv() => Result is { } result ? Table(result, "bands", ResultTable.Write) : NotFound();

    public IActionResult OnGetOutcomes() => Result is { } result ? Table(result, "outcomes", ResultTable.WriteOutcomes) : NotFound();

    public IActionResult OnPostStart(string? replicates, string? seed)
    {
        if (Counted is null)
        {
            Say("There are no counts of a flow yet, so there is no “now” to start from. Bring some under Data first.");
            return Page();
        }
        if (TypedNumber.ReadWhole(replicates) is not { } count || TypedNumber.ReadWhole(seed) is not { } number)
        {
            Say("Replicates and seed are whole numbers, as in 200 and 1.");
            return Page();
        }
        if (IsRunning)
        {
            Say("A projection is under way. Wait for it, or stop it first.");
            return Page();
        }
        var request = Ask(count, number);
        try
        {
            _ = new Projection(Document, Counted.Observation, Counted.Data, request);
        }
        catch (ProjectionRefusedException refusal)
        {
            Say(refusal.Message);
            return Page();
        }
        jobs.Add(
            State.Id,
            ProjectionJob.Kind,
            Projection.Fingerprint(Document, Counted.Observation, Counted.Data, request),
            JsonSerializer.Serialize(request)
        );
        signal.Raise();
        return RedirectToPage(new { id = State.Id });
    }

    public IActionResult OnPostStop()
    {
        if (Job is { IsOver: false } job)
            jobs.Stop(job.Id);
        return RedirectToPage(new { id = State.Id });
    }

    private FileContentResult Table(ProjectionSummary result, string what, Action<TextWriter, ProjectionSummary> write)
    {
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        write(text, result);
        return File(System.Text.Encoding.UTF8.GetBytes(text.ToString()), "text/csv; charset=utf-8", $"projection-{what}.csv");
    }
}
