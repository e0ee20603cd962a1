using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Storage;
using ClearTide.Web.Hosting;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace ClearTide.Web.Studies;

/// <summary>A page of one study: loads it from the address, and turns what became of an edit into an answer.</summary>
public abstract class StudyPage(StudyStore studies, StudyLibrary library) : PageModel
{
    /// <summary>The study as it stands; set before any handler runs.</summary>
    public StudyState State { get; private set; } = null!;

    public StudyDocument Document => State.Document;

    protected StudyLibrary Library => library;

    /// <summary>The data on the model.</summary>
    public IReadOnlyList<Series> Series { get; private set; } = [];

    /// <summary>The series that projections go on from: the first that counts a flow.</summary>
    public Series? Counted => Series.FirstOrDefault(one => one.Observation.Seen == ObservedAs.Flowed);

    /// <summary>A sentence about an edit that was not made.</summary>
    public string? Notice { get; private set; }

    /// <summary>Which step this page is.</summary>
    public abstract Step Step { get; }

    public override void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        var id = (string?)RouteData.Values["id"] ?? "";
        if (studies.Load(id) is { } state)
            Show(state);
        else
            context.Result = NotFound();
    }

    private bool? _isUnfinished;

    /// <summary>Whether a part of the model still lacks something.</summary>
    public bool IsUnfinished => _isUnfinished ??= Lowered().IsProvisional;

    /// <summary>The model in the form that solvers know; pages that have run it need not read it again.</summary>
    protected virtual LoweredModel Lowered() => Lowering.Lower(Document);

    protected void Show(StudyState state)
    {
        _isUnfinished = null;
        State = state;
        Series = library.SeriesOf(state.Id, state.Document);
    }

    /// <summary>The run of a document with the data on the model, given up in words where it takes too long.</summary>
    protected StudyRun RunInTime(StudyDocument document) => RunInTime(document, cancel => StudyRun.Of(document, Series, cancel));

    protected StudyRun RunInTime(StudyDocument document, Func<CancellationToken, StudyRun> make) =>
        InTime(WorkTime.Run, make, why => StudyRun.Stopped(document, why));

    /// <summary>What is to be said of a run; the reason instead where the run, or this, takes too long.</summary>
    protected RunReport ReportInTime(StudyRun run, LoweredModel lowered, LevelAsked? level = null) =>
        run.WasStopped
            ? RunReport.Without(lowered.Document, run.Failure!)
            : InTime(WorkTime.Report, cancel => RunReport.Of(lowered, level, cancel), why => RunReport.Without(lowered.Document, why));

    protected StepCheck StepsInTime(StudyRun run, int digits) =>
        run.WasStopped
            ? StepCheck.Without(run.Lowered.Document, digits, run.Failure!)
            : InTime(
                WorkTime.Report,
                cancel => StepCheck.Of(run.Lowered, digits, cancel),
                why => StepCheck.Without(run.Lowered.Document, digits, why)
            );

    /// <summary>Work that somebody waits for, or what stands for it where it takes too long.</summary>
    /// <param name="stopped">Told why, in a sentence.</param>
    protected T InTime<T>(TimeSpan longest, Func<CancellationToken, T> work, Func<string, T> stopped)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(HttpContext.RequestAborted);
        limit.CancelAfter(longest);
        try
        {
            return work(limit.Token);
        }
        catch (OperationCanceledException) when (!HttpContext.RequestAborted.IsCancellationRequested)
        {
            return stopped(
                $"This was stopped after {longest.TotalSeconds:0} seconds. Shorten the span, loosen the tolerance, or "
                    + $"look for a rate that is far faster than the others."
            );
        }
    }

    protected const string TooMuchGoesOn = "Much is being computed here just now. Wait a moment, then ask again.";

    protected static readonly string StoppedManyRuns =
        $"This was stopped after {WorkTime.Many.TotalMinutes:0} minutes. Take fewer runs, a shorter span, or a looser tolerance.";

    /// <summary>Work of many runs that somebody waits for: it has longer than a run, and shares the cores with others of its
    /// kind.</summary>
    /// <exception cref="ArgumentException">It cannot begin, or took too long; the message says what to do.</exception>
    protected T ManyInTime<T>(WorkTime works, Func<WorkTime.LongWork, T> work)
    {
        using var time = works.Begin(HttpContext) ?? throw new ArgumentException(TooMuchGoesOn);
        try
        {
            return work(time);
        }
        catch (OperationCanceledException) when (!HttpContext.RequestAborted.IsCancellationRequested)
        {
            throw new ArgumentException(StoppedManyRuns);
        }
    }

    protected SaveResult Save(long version, Edit edit) => studies.Apply(State.Id, version, edit, Ahead);

    /// <summary>Told what an edit makes of the study while that is being written.</summary>
    protected virtual void Ahead(StudyDocument next) { }

    protected SaveResult Jump(long version, long number) => studies.Jump(State.Id, version, number);

    protected SaveResult MoveHead(long version, bool back) => back ? studies.Undo(State.Id, version) : studies.Redo(State.Id, version);

    /// <summary>An edit of a series that is no longer there, which is refused in a sentence.</summary>
    protected static readonly Edit NoSuchSeries = new RemoveSeries("");

    /// <summary>A point of a chart that was clicked: fits leave it out from now on, or look at it again.</summary>
    /// <param name="row">Its place in the series.</param>
    protected SaveResult LeavePoint(long version, string? observation, int row)
    {
        if (Series.FirstOrDefault(one => one.Observation.Id == observation) is not { } series || row < 0 || row >= series.Data.Rows.Count)
            return Save(version, NoSuchSeries);
        var rows = series.Data.Rows.Select((one, k) => k == row ? one with { LeftOut = !one.LeftOut } : one).ToList();
        return Save(version, Library.Leaving(State.Id, series, rows)!);
    }

    /// <summary>Takes up what became of an edit; true where it was made.</summary>
    protected bool TakeUp(SaveResult result)
    {
        if (result.State is { } state)
            Show(state);
        Notice = result.Outcome switch
        {
            SaveOutcome.Refused => result.Refusal!.Refusal,
            SaveOutcome.Stale =>
                $"This study was changed elsewhere meanwhile ({result.LastChange}), so your edit was not made. You now see it as it "
                    + "is: make the edit again if it still fits.",
            SaveOutcome.Missing => "This study is no longer on the shelf.",
            _ => null,
        };
        Response.StatusCode = result.Outcome switch
        {
            SaveOutcome.Refused => StatusCodes.Status422UnprocessableEntity,
            SaveOutcome.Stale => StatusCodes.Status409Conflict,
            SaveOutcome.Missing => StatusCodes.Status404NotFound,
            _ => StatusCodes.Status200OK,
        };
        return result.Outcome == SaveOutcome.Saved;
    }

    /// <summary>What a field of a plain form holds: what was typed where the form was refused, else what the study has.</summary>
    /// <param name="form">Which form of the page it is, as its hidden field <c>form</c> says.</param>
    public string Typed(string form, string field, object? otherwise) =>
        Notice is not null && Request.HasFormContentType && Request.Form["form"] == form && Request.Form.TryGetValue(field, out var typed)
            ? typed.ToString()
            : Convert.ToString(otherwise, System.Globalization.CultureInfo.InvariantCulture) ?? "";

    protected void Say(string sentence, int status = StatusCodes.Status422UnprocessableEntity)
    {
        Notice = sentence;
        Response.StatusCode = status;
    }

    /// <summary>After an edit by a plain form: back to the page where it was made, else the page again with the sentence.</summary>
    protected IActionResult Answer(SaveResult result) => TakeUp(result) ? RedirectToPage(new { id = State.Id, of = LookedAt }) : Page();

    /// <summary>What a view looks at by its address, which an edit leaves as it is: undo comes back to the same curve.</summary>
    private string? LookedAt => Request.Query["of"].FirstOrDefault() is { Length: > 0 } of ? of : null;

    /// <summary>The address of an edit of the header, which comes back to what the view looks at.</summary>
    public string AddressOf(string handler) => $"?handler={handler}{(LookedAt is { } of ? $"&of={Uri.EscapeDataString(of)}" : "")}";

    public IActionResult OnPostUndo(long version) => Moved(MoveHead(version, back: true));

    public IActionResult OnPostRedo(long version) => Moved(MoveHead(version, back: false));

    protected virtual IActionResult Moved(SaveResult result) => Answer(result);
}
