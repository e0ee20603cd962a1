using System.Globalization;
using System.Text.Json;
using ClearTide.Core.Data;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Tables;
using ClearTide.Storage;
using ClearTide.Web.Curves;
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

    /// <summary>How counts spread around what there is to count; null where no fit has told.</summary>
    public ObservationError? Error =>
        Counted is { } counted
            ? ObservationError.Of(Document, counted, Fit, Series.ToList().FindIndex(one => one.Observation.Id == counted.Observation.Id))
            : null;

    /// <summary>What the fit left uncertain; null where there is no fit, or one whose draws could not be made.</summary>
    public EstimateSpread? Spread => Fit is { } fit ? EstimateSpread.Of(fit, Document.Fit) : null;

    private ProjectionRequest Ask(int replicates, long seed, string of, bool fromStart, bool spread, bool error, bool subjects) =>
        new(replicates, seed, Fit?.Estimates.ToDictionary(estimate => estimate.Address, estimate => estimate.Value) ?? [])
        {
            Of = of,
            FromStart = fromStart,
            Spread = spread ? Spread : null,
            Error = error && of.Length == 0 ? Error : null,
            Subjects = subjects ? Subjects : null,
        };

    public bool IsCurrent =>
        Result is { } result
        && result.Fingerprint
            == Projection.Fingerprint(
                Document,
                Counted,
                Ask(
                    result.Replicates,
                    result.Seed,
                    result.Of,
                    result.FromStart && Counted is not null,
                    result.HasSpread,
                    result.HasError,
                    result.HasSubjects
                )
            );

    /// <summary>How subjects differ; null where all are alike.</summary>
    public SubjectGroup? Subjects => Document.Subjects is { Varying.IsEmpty: false } group ? group : null;

    /// <summary>What is in the bands, and what is not.</summary>
    public string Within
    {
        get
        {
            List<string> sources = ["chance"],
                others = [];
            void Source(string name, bool has, bool could = true)
            {
                if (has)
                    sources.Add(name);
                else if (could)
                    others.Add(name);
            }
            Source("what the fit left uncertain", Result?.HasSpread == true, Fit is not null);
            Source("differences between subjects", Result?.HasSubjects == true, Subjects is not null);
            Source("chance before the data end", false, Fit is not null);
            Source("the error of observation", Result?.HasError == true, Fit is not null);
            string List(List<string> names) => names.Count < 2 ? string.Concat(names) : $"{string.Join(", ", names[..^1])} and {names[^1]}";
            var within = sources.Count == 1 ? "In the bands is chance alone" : $"In the bands are {List(sources)}";
            if (Fit is null)
                within += ": nothing has been fitted, so that nothing is known of how uncertain the values are";
            return others.Count == 0
                ? $"{within}."
                : $"{within}. {char.ToUpperInvariant(others[0][0])}{List(others)[1..]} {(others.Count == 1 ? "is" : "are")} not.";
        }
    }

    /// <summary>Curves that can be followed: id, kind and name.</summary>
    public IReadOnlyList<(string Id, string Kind, string Name)> Curves => ExploreData.Curves(Lowered());

    /// <summary>Id of what the form offers to follow: empty for what the data count.</summary>
    public string Follows
    {
        get
        {
            var typed = Typed("project", "of", Result?.Of ?? "");
            return typed.Length > 0 || Counted is not null ? typed : UsualCurve.Of(Present);
        }
    }

    private StudyRun? _present;

    /// <summary>The run without chance, shown until there is a projection.</summary>
    private StudyRun Present => _present ??= RunInTime(Document);

    /// <summary>The followed curve without chance, in place of bands that are not there yet.</summary>
    private object? Preview()
    {
        if (Result is not null || Follows.Length == 0 || Present.Run is not { } run)
            return null;
        var output = run
            .Network.Amounts.Concat(run.Network.Flows)
            .Concat(run.Network.Quantities)
            .ToList()
            .FindIndex(one => one.PartId == Follows);
        return output < 0
            ? null
            : new { times = run.Times, values = run.OutputColumn(output).Select(value => double.IsFinite(value) ? value : (double?)null) };
    }

    /// <summary>The data that lie below the fan: those that count what is followed.</summary>
    private IEnumerable<DataRow> Rows => Counted is not null && (Result?.Of ?? Follows).Length == 0 ? Counted.Data.Rows : [];

    /// <summary>The measures; rules with how often they acted in the replicates.</summary>
    private IEnumerable<ScenariosModel.Lane> Lanes() =>
        from lane in ScenariosModel.Lanes(Document, null)
        let acted = Result?.Scenarios.SelectMany(one => one.Rules).FirstOrDefault(one => one.RuleId == lane.RuleId)
        select lane with
        {
            ScenarioId = null,
            MeasureId = null,
            Shares = acted?.Acting,
            Ever = acted?.Ever,
        };

    public string PictureJson =>
        JsonSerializer.Serialize(
            new
            {
                label = Result?.Label ?? Counted?.Observation.Label ?? Curves.FirstOrDefault(curve => curve.Id == Follows).Name ?? "",
                unit = Document.TimeUnit.Singular,
                now = Result?.Now ?? Counted?.Data.Now ?? Document.Start,
                goesOn = Result is { } made ? !made.FromStart : Counted is not null,
                isAmount = Result?.IsAmount ?? (Counted is null),
                preview = Preview(),
                interval = Result?.Interval ?? (Counted is null ? 1 : Counted.Data.Rows[^1].End - Counted.Data.Rows[^1].Start),
                start = Document.Start,
                times = Result?.Times ?? [Counted?.Data.Now ?? Document.Start, Document.End],
                rows = Rows.Select(row => new
                {
                    start = row.Start,
                    end = row.End,
                    value = row.Value,
                }),
                scenarios = Result?.Scenarios.Select(scenario => new { name = scenario.Name, intervals = scenario.Intervals }) ?? [],
                lanes = Lanes(),
            },
            Camel
        );

    public void OnGet() { }

    public IActionResult OnGetStatus() => Partial("_ProjectionStatus", this);

    public IActionResult OnGetCsv() => Result is { } result ? Table(result, "bands", ResultTable.Write) : NotFound();

    public IActionResult OnGetOutcomes() => Result is { } result ? Table(result, "outcomes", ResultTable.WriteOutcomes) : NotFound();

    public IActionResult OnPostStart(string? replicates, string? seed, string? of, string? start, bool spread, bool error, bool subjects)
    {
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
        var request = Ask(count, number, of ?? "", start == "span", spread, error, subjects);
        try
        {
            _ = new Projection(Document, Counted, request);
        }
        catch (ProjectionRefusedException refusal)
        {
            Say(refusal.Message);
            return Page();
        }
        jobs.Add(State.Id, ProjectionJob.Kind, Projection.Fingerprint(Document, Counted, request), JsonSerializer.Serialize(request));
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
