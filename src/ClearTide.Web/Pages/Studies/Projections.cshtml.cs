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
using ClearTide.Web.Words;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Runs baseline and scenarios with chance from where the data end, and compares them.</summary>
public sealed class ProjectionsModel(StudyStore studies, StudyLibrary library, JobStore jobs, ResultStore results, JobSignal signal)
    : StudyPage(studies, library)
{
    private static readonly JsonSerializerOptions Camel = new() { PropertyNamingPolicy = JsonNamingPolicy.CamelCase };

    public override Step Step => Step.Projections;

    private (Job? Job, ProjectionSoFar? SoFar)? _looked;

    /// <summary>The newest job and what it has come to, which is long: both are read once, so that an answer speaks of one
    /// moment.</summary>
    private (Job? Job, ProjectionSoFar? SoFar) Looked
    {
        get
        {
            if (_looked is { } known)
                return known;
            var job = jobs.Newest(State.Id, ProjectionJob.Kind);
            _looked = known = (job, job is { IsOver: false } ? ProjectionJob.SoFar(job) : null);
            return known;
        }
    }

    public Job? Job => Looked.Job;

    public bool IsRunning => Job is { IsOver: false };

    /// <summary>Projections of one study that are kept.</summary>
    private const int MostKept = 8;

    /// <summary>Projections that are kept, the newest first.</summary>
    public IReadOnlyList<KeptProjection> Kept
    {
        get
        {
            // The job is looked at before them: one that ends in between would be neither under way nor there.
            _ = Looked;
            return _kept ??= results.All<KeptProjection>(State.Id, ProjectionJob.Result, MostKept);
        }
    }

    private IReadOnlyList<KeptProjection>? _kept;

    /// <summary>The fingerprint of a kept projection that is looked at again; empty for the newest.</summary>
    [BindProperty(Name = "show", SupportsGet = true)]
    public string? Shown { get; set; }

    /// <summary>The finished projection that is shown; null where there is none.</summary>
    public KeptProjection? Chosen => Kept.FirstOrDefault(one => one.Summary.Fingerprint == Shown) ?? Kept.FirstOrDefault();

    /// <summary>What is shown: of a projection under way what it has come to, else the finished one.</summary>
    public ProjectionSummary? Result => Looked.SoFar?.Summary ?? (IsRunning ? null : Chosen?.Summary);

    /// <summary>What was asked for of what is shown; what is asked for where nothing is.</summary>
    public ProjectionOrder Order =>
        (IsRunning ? Ordered(Job!) : Chosen?.Order) ?? new(200, 1, "", false, true, true, true) { Formulas = Document.OutcomeRows };

    private static ProjectionOrder? Ordered(Job job)
    {
        try
        {
            return JsonSerializer.Deserialize<ProjectionOrder>(job.Request);
        }
        catch (JsonException)
        {
            return null;
        }
    }

    /// <summary>The fit whose estimates the projection starts from: the newest, if it still belongs to the content.</summary>
    public FitResult? Fit
    {
        get
        {
            if (_fit is not { } known || known.Version != State.Version)
                _fit = known = (State.Version, Document.Observations.IsEmpty ? null : CurrentFit.Of(results, State.Id, Document, Series));
            return known.Fit;
        }
    }

    private (long Version, FitResult? Fit)? _fit;

    /// <summary>How counts spread around what there is to count; null where no fit has told.</summary>
    public ObservationError? Error =>
        Counted is { } counted ? ObservationError.Of(Document, counted, Fit, ProjectionSources.Counted(Series)) : null;

    /// <summary>What the fit left uncertain; null where there is no fit, or one whose draws could not be made.</summary>
    public EstimateSpread? Spread => Fit is { } fit ? EstimateSpread.Of(fit, Document.Fit) : null;

    public bool IsCurrent => IsRunning || Chosen is { } made && made.Summary.Fingerprint == made.Order.Fingerprint(Document, Series, Fit);

    /// <summary>How subjects differ; null where all are alike.</summary>
    public SubjectGroup? Subjects => Document.Subjects is { Varying.IsEmpty: false } group ? group : null;

    /// <summary>Shares of sources in the variance of what is shown; null where there are none.</summary>
    public SpreadShares? Shares => IsRunning ? null : Chosen?.Shares;

    /// <summary>What is in the bands, and what is not.</summary>
    public string Within => Result is { } made ? ProjectionWords.Within(made, made.HasSpread || Fit is not null, Subjects is not null) : "";

    /// <summary>How a projection did against what has come in since it was made; null where nothing has.</summary>
    public HeldAgainst? Held(KeptProjection kept) => HeldAgainst.Of(kept.Summary, Counted?.Data.Rows ?? []);

    /// <summary>Curves that can be followed: id, kind and name.</summary>
    public IReadOnlyList<(string Id, string Kind, string Name)> Curves => ExploreData.Curves(Lowered());

    /// <summary>Id of what the form offers to follow: empty for what the data count.</summary>
    public string Follows
    {
        get
        {
            var typed = Typed("project", "of", Chosen?.Summary.Of ?? "");
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

    /// <summary>The measures; rules with how often they acted in the replicates, and for a level how often it is exceeded.</summary>
    private IEnumerable<ScenariosModel.Lane> Lanes() =>
        (
            from lane in ScenariosModel.Lanes(Document, null)
            let acted = Result?.Scenarios.SelectMany(one => one.Rules).FirstOrDefault(one => one.RuleId == lane.RuleId)
            select lane with
            {
                ScenarioId = null,
                MeasureId = null,
                Shares = acted?.Acting,
                Ever = acted?.Ever,
            }
        ).Concat(
            (Result?.Scenarios ?? [])
                .Select((one, k) => (one, k))
                .Where(pair => pair.one.Above.Count > 0)
                .Select(pair => new ScenariosModel.Lane(
                    pair.one.Name,
                    $"above {Numbers.Say(Order.Level ?? 0)}",
                    Result!.Now,
                    Result.Times[^1],
                    pair.k,
                    null,
                    null
                )
                {
                    Stretches = [],
                    Shares = pair.one.Above,
                    Ever = pair.one.EverAbove,
                })
        );

    public string PictureJson =>
        JsonSerializer.Serialize(
            new
            {
                label = Result?.Label ?? Counted?.Observation.Label ?? Curves.FirstOrDefault(curve => curve.Id == Follows).Name ?? "",
                unit = Document.TimeUnit.Singular,
                counted = (Result?.Of ?? Follows) is { Length: > 0 } followed ? CurveUnit.OverIntervals(Lowered(), followed)
                : Counted is { } series ? CurveUnit.Of(Lowered(), series.Observation)
                : "",
                now = Result?.Now ?? Counted?.Data.Now ?? Document.Start,
                goesOn = Result is { } made ? !made.FromStart : Counted is not null,
                level = Result is null ? null : Order.Level,
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
                scenarios = Result?.Scenarios.Select(scenario => new
                {
                    name = scenario.Name,
                    intervals = scenario.Intervals,
                    runs = scenario.Runs,
                }) ?? [],
                lanes = Lanes(),
                shares = (Shares?.Sources ?? []).Select(one => new
                {
                    name = ProjectionWords.Of(one.Source),
                    share = one.Share.Select(share => double.IsFinite(share) ? share : (double?)null),
                }),
            },
            Camel
        );

    public void OnGet() { }

    public IActionResult OnGetStatus() => Partial("_ProjectionAnswer", this);

    public IActionResult OnGetCsv(string? form) => Table("projection bands", form, ResultTable.Write);

    public IActionResult OnGetOutcomes(string? form) => Table("projection outcomes", form, ResultTable.WriteOutcomes);

    public IActionResult OnPostStart(
        string? replicates,
        string? seed,
        string? of,
        string? start,
        bool spread,
        bool error,
        bool subjects,
        ProjectionChance chance,
        string? step,
        string? level,
        string? asOf,
        string? formulas,
        bool shares
    )
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
        double? Optional(string? typed) => string.IsNullOrWhiteSpace(typed) ? null : TypedNumber.Read(typed) ?? double.NaN;
        if (Optional(asOf) is { } now && (double.IsNaN(now) || ProjectionOrder.Counted(ProjectionSources.AsOf(Series, now)) is null))
        {
            Say(
                double.IsNaN(now)
                    ? "An earlier now is a number, as in 28. Empty the field to go on from all that has come in."
                    : $"Nothing had been counted by {Document.TimeUnit.Singular} {Numbers.Say(now)}. Take a later one, or empty the field."
            );
            return Page();
        }
        var order = new ProjectionOrder(count, number, of ?? "", start == "span", spread, error, subjects)
        {
            Chance = chance,
            // Of a step that is not asked for nothing is refused.
            Step = Optional(step) is { } length && (double.IsFinite(length) || chance == ProjectionChance.ChainBinomial) ? length : 1,
            Level = Optional(level),
            AsOf = Optional(asOf),
            Formulas = [.. (formulas ?? "").Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)],
            Shares = shares,
        };
        try
        {
            var known = order.Known(Series);
            _ = new Projection(Document, ProjectionOrder.Counted(known), order.Request(Document, known, order.AsOf is null ? Fit : null));
        }
        catch (ProjectionRefusedException refusal)
        {
            Say(refusal.Message);
            return Page();
        }
        jobs.Add(State.Id, ProjectionJob.Kind, order.Fingerprint(Document, Series, Fit), JsonSerializer.Serialize(order));
        signal.Raise();
        return RedirectToPage(new { id = State.Id });
    }

    /// <summary>Throws a kept projection away.</summary>
    public IActionResult OnPostForget(string? projection)
    {
        results.Remove(State.Id, ProjectionJob.Result, projection ?? "");
        return RedirectToPage(new { id = State.Id });
    }

    public IActionResult OnPostStop()
    {
        if (Job is { IsOver: false } job)
            jobs.Stop(job.Id);
        return RedirectToPage(new { id = State.Id });
    }

    private IActionResult Table(string what, string? form, Action<TextWriter, ProjectionSummary> write) =>
        Result is { } result ? TableFile.Of($"{Document.Title} {what}", form, text => write(text, result)) : NotFound();
}
