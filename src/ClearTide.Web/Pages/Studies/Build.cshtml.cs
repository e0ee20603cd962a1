using System.Collections.Immutable;
using System.Globalization;
using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Print;
using ClearTide.Formats.Studies;
using ClearTide.Storage;
using ClearTide.Web.Curves;
using ClearTide.Web.Diagram;
using ClearTide.Web.Ledger;
using ClearTide.Web.Studies;
using ClearTide.Web.Words;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Diagram, ledger, curves and quick line of one study. Edits answer with the pieces of the page that they change.</summary>
public sealed partial class BuildModel(StudyStore studies, StudyLibrary library, RunCache runs) : StudyPage(studies, library)
{
    private StudyView? _shown;
    private DiagramModel? _drawnBefore;

    /// <summary>The run of an edit, begun while the edit is written to the disk.</summary>
    private (StudyDocument Document, Task<StudyRun> Run)? _ahead;

    public override Step Step => Step.Build;

    /// <summary>The part whose line is open, or empty.</summary>
    [BindProperty(Name = "open", SupportsGet = true)]
    public string? OpenPart { get; set; }

    [BindProperty(Name = "view", SupportsGet = true)]
    public LedgerView View { get; set; }

    /// <summary>What is shown of this version, worked out once.</summary>
    private StudyView Shown
    {
        get
        {
            if (_shown is not null)
                return _shown;
            _shown = runs.Find((State.Id, State.Version))
                ?? new(
                    _ahead is var (document, run) && ReferenceEquals(document, Document)
                        ? run.GetAwaiter().GetResult()
                        : RunInTime(Document),
                    _drawnBefore
                );
            runs.Keep((State.Id, State.Version), _shown);
            return _shown;
        }
    }

    public StudyRun Run => Shown.Run;

    protected override LoweredModel Lowered() => Run.Lowered;

    protected override void Ahead(StudyDocument next)
    {
        // Where others wait for a thread already, one that waits for another thread only keeps one more from them.
        if (ThreadPool.PendingWorkItemCount > 0)
            return;
        var series = Series;
        if (next.Observations.Equals(Document.Observations))
        {
            _ahead = (next, Task.Run(() => RunInTime(next, cancel => StudyRun.Of(next, series, cancel))));
        }
    }

    /// <summary>The lines that an edit has changed, where it has changed no more than lines; else null.</summary>
    public IReadOnlyList<LedgerLine>? ChangedLines { get; private set; }

    /// <summary>Whether the edit is to be seen in the diagram.</summary>
    public bool DiagramChanged { get; private set; }

    /// <summary>Whether other words can be typed after the edit.</summary>
    public bool VocabularyChanged { get; private set; }

    /// <summary>The starting patterns that can be added, by the names of their files.</summary>
    public IEnumerable<(string Key, string Title)> Patterns => Library.Patterns.Select(pattern => (pattern.Key, pattern.Value.Title));

    public DiagramModel Diagram => Shown.Diagram;

    public LedgerModel Ledger => Shown.Ledger;

    /// <summary>The numbers of a run of more bytes than this come behind the answer to what made them.</summary>
    private const int MostNumbers = 2 << 20;

    /// <summary>Whether the page is to ask for the numbers of the run: what was edited is then seen before all curves are sent.</summary>
    public bool NumbersLater => HasRest || RunData.Size(Run) > MostNumbers;

    public JsonText RunJson => new(json => RunData.Write(json, Run), RunData.Size(Run));

    public string VocabularyJson => Shown.Words;

    /// <summary>A page of more parts than this comes in two answers.</summary>
    private const int MostAtOnce = 200;

    /// <summary>How many lines of the ledger there is room for on any screen.</summary>
    private const int LinesInView = 80;

    /// <summary>
    /// How many lines of the ledger are sent. Of a large model the first answer has what is in view, and the page asks for the rest, with
    /// the numbers of the run, once it stands.
    /// </summary>
    public int LinesSent { get; private set; } = int.MaxValue;

    /// <summary>Whether the page is to ask for the rest.</summary>
    public bool HasRest => LinesSent < int.MaxValue;

    public void OnGet()
    {
        if (View == LedgerView.Parts && Document.Parts.Skip(MostAtOnce).Any())
            LinesSent = LinesInView;
    }

    /// <summary>The ledger whole, after a first answer that had what is in view.</summary>
    public PartialViewResult OnGetRest() => Partial("_Workspace", this);

    /// <summary>The numbers of the run; nothing where the study has changed since they were asked for, whose answer asks again.</summary>
    public IActionResult OnGetNumbers(long of)
    {
        if (of != State.Version)
            return new NoContentResult();
        return Partial("_RunData", (this, (string?)null));
    }

    /// <summary>The form of one line, fetched when it opens.</summary>
    public IActionResult OnGetLine(string partId) =>
        LedgerModel.Line(Run, partId) is { } line ? Partial("_LineForm", new LineFormModel(Run, line)) : NotFound();

    /// <summary>The ledger in another view.</summary>
    public IActionResult OnGetWorkspace() => Partial("_BuildAnswer", this);

    /// <summary>All equations, or the model as lines, for the clipboard.</summary>
    public IActionResult OnGetCopy(string form) =>
        Content(
            form switch
            {
                "latex" => Equations.Latex(Document),
                "mathml" => Equations.MathMlPage(Document),
                "lines" => LineText.Of(Document),
                _ => Equations.Text(Document),
            },
            "text/plain; charset=utf-8"
        );

    /// <summary>Chosen parts as a text for the clipboard, to be pasted into any study.</summary>
    public IActionResult OnPostParts(string partIds) =>
        Content(PartsFile.Write(PartSelection.Of(Document, Ids(partIds))), "text/plain; charset=utf-8");

    public IActionResult OnPostAdd(long version, string? text) => Changed(Save(version, new AddLines(text ?? "")));

    public IActionResult OnPostField(long version, string partId, PartField field, string? value, int at) =>
        Changed(Save(version, new SetField(partId, field, value ?? "", at)), Document.Part(partId)?.Id);

    public IActionResult OnPostDefine(long version, string symbol) => Changed(Save(version, new AddParameter(symbol)));

    public IActionResult OnPostRemove(long version, string partIds) => Changed(Save(version, new RemoveParts([.. Ids(partIds)])));

    public IActionResult OnPostReverse(long version, string partId) => Changed(Save(version, new ReverseFlow(partId)));

    public IActionResult OnPostSplit(long version, string partId) => Changed(Save(version, new SplitFlow(partId)));

    /// <summary>A note about the imported file that somebody has read.</summary>
    public IActionResult OnPostNoted(long version, string? note) => Changed(Save(version, new DropFileNote(note ?? "")));

    public IActionResult OnPostContact(long version, string partId, ContactChange change) =>
        Changed(Save(version, new SetContact(partId, change)));

    public IActionResult OnPostReorder(long version, string partId, string? beforeId) =>
        Changed(Save(version, new MoveInLedger(partId, string.IsNullOrEmpty(beforeId) ? null : beforeId)));

    public IActionResult OnPostDuplicate(long version, string partIds) =>
        Changed(Save(version, new AddCopies(PartSelection.Of(Document, Ids(partIds)))));

    public IActionResult OnPostPaste(long version, string? parts)
    {
        try
        {
            return Changed(Save(version, new AddCopies(PartsFile.Read(parts ?? ""), 40, 40)));
        }
        catch (StudyFileException wrong)
        {
            return Changed(Refused(wrong.Message));
        }
    }

    public IActionResult OnPostUnit(long version, string? word, string? meaning) =>
        Changed(Save(version, new SetUnit(word ?? "", meaning ?? "")), refusedAt: "unit-refused");

    public IActionResult OnPostRemoveUnit(long version, string? word) => Changed(Save(version, new RemoveUnit(word ?? "")));

    /// <summary>Another draw of the random inputs.</summary>
    public IActionResult OnPostDraw(long version) => Changed(Save(version, new SetSeed((Document.Seed + 1) % 1_000_000_000)));

    /// <summary>A handle of a named law that was dragged to a place.</summary>
    public IActionResult OnPostHandle(long version, string partId, PartField field, double x, double y) =>
        Changed(Save(version, new DragHandle(partId, field, x, y)));

    public IActionResult OnPostSpan(long version, string? start, string? end) =>
        TypedNumber.Read(start) is { } from && TypedNumber.Read(end) is { } to
            ? Changed(InForce(Save(version, new SetSpan(from, to)), SpanInForce))
            : Changed(InForce(Refused("A time span is two numbers, as in 0 and 150."), SpanInForce));

    private string SpanInForce =>
        $"The run goes from {NumberWords.Of(Document.Start)} to {Document.TimeUnit.Length(Document.End)} as before.";

    private string SolverInForce =>
        "The run has "
        + $"{(Document.Solver.HasStep ? $"a step of {Document.TimeUnit.Length(Document.Solver.Step)}" : $"a tolerance of {NumberWords.Of(Document.Solver.Tolerance)}")} "
        + "as before.";

    /// <summary>What was typed stays in its field to be mended; the sentence says what counts meanwhile.</summary>
    private static SaveResult InForce(SaveResult result, string words) =>
        result.Refusal?.Refusal is { } why ? result with { Refusal = EditResult.Refused($"{why} {words}") } : result;

    public IActionResult OnPostSolver(long version, Method method, string? step, string? tolerance)
    {
        if (TypedNumber.Read(step) is not { } length)
            return Changed(InForce(Refused("The step of calculation is a number above zero, as in 0.25."), SolverInForce));
        if (TypedNumber.Read(tolerance) is not { } share)
            return Changed(InForce(Refused("A tolerance is a small number, as in 1e-8."), SolverInForce));
        return Changed(InForce(Save(version, new SetSolver(method, length, share)), SolverInForce));
    }

    /// <summary>What would be found at a part if a field were set to what is being typed; nothing is kept.</summary>
    public IActionResult OnPostCheck(string partId, PartField field, string? value, int at)
    {
        var result = new SetField(partId, field, value ?? "", at).Apply(Document);
        IReadOnlyList<string> said = result.Document is not { } typed
            ? [result.Refusal!]
            :
            [
                .. Lowering
                    .Lower(typed)
                    .Findings.Where(finding => finding.PartId == partId)
                    .Select(finding => finding.Message)
                    .Distinct()
                    .Take(3),
            ];
        return Partial("_Check", said);
    }

    public IActionResult OnPostPreview(string? text)
    {
        if (string.IsNullOrWhiteSpace(text))
            return Partial("_QuickPreview", new QuickPreview([], null));
        var edit = new AddLines(text);
        var result = edit.Apply(Document);
        return Partial("_QuickPreview", new QuickPreview(result.Document is null ? [] : edit.Preview(Document), result));
    }

    public IActionResult OnPostQuestion(long version, string? title, string? question, string? description, string? tags, string? origin) =>
        Answer(Save(version, new SetQuestion(title ?? "", question ?? "", description ?? "", tags ?? "", origin ?? "")));

    /// <summary>Another unit of time; data on the model go with it as a new version, so that undo brings the old one back.</summary>
    public IActionResult OnPostTimeUnit(long version, string? unit, bool convert)
    {
        if (TimeUnit.Find(unit ?? "") is not { } time)
            return Answer(Refused("Choose one of the units of time."));
        var data = convert && time != Document.TimeUnit ? Library.Rescaled(State.Id, Document, time) : null;
        return Answer(Save(version, new SetTimeUnit(time, convert, data)));
    }

    protected override IActionResult Moved(SaveResult result) => IsFragment ? Changed(result) : base.Moved(result);

    private bool IsFragment => Request.Headers.ContainsKey("HX-Request");

    private SaveResult Refused(string why) => new(SaveOutcome.Refused, State, EditResult.Refused(why));

    private static ImmutableArray<string> Ids(string? ids) =>
        [.. (ids ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries).Take(AddLines.MostParts)];

    /// <param name="edited">The part one of whose fields was edited: what is refused is told at its open line.</param>
    /// <param name="refusedAt">Id of the place where else it is told; under the quick line unless something is said.</param>
    private PartialViewResult Changed(SaveResult result, string? edited = null, string? refusedAt = null)
    {
        var before = runs.Find((State.Id, State.Version));
        _drawnBefore = before?.Diagram;
        TakeUp(result);
        // What the user typed stays where it is when the edit was refused: only the notice is new.
        if (result.Outcome == SaveOutcome.Refused)
        {
            // A field of the open line is told at the field, everything else under the quick line.
            if (edited is not null && edited == OpenPart)
            {
                Response.Headers["HX-Retarget"] = $"#check-{edited}";
                Response.Headers["HX-Reswap"] = "innerHTML";
                return Partial("_Check", new[] { Notice! });
            }
            Response.Headers["HX-Retarget"] = $"#{refusedAt ?? "notice"}";
            Response.Headers["HX-Reswap"] = "outerHTML";
            return Partial("_RefusedAt", (Notice, refusedAt ?? "notice"));
        }
        if (result.Outcome != SaveOutcome.Saved || View != LedgerView.Parts || before is null)
            return Partial("_BuildAnswer", this);
        var ledger = Ledger;
        ChangedLines = LedgerChanges.Between(before.Ledger, ledger);
        if (ChangedLines is null)
            return Partial("_BuildAnswer", this);
        if (
            ChangedLines.All(line => line.Id != OpenPart)
            && ledger.Sections.SelectMany(section => section.Lines).FirstOrDefault(line => line.Id == OpenPart) is { } open
        )
            ChangedLines = [.. ChangedLines, open];
        DiagramChanged = !ReferenceEquals(before.Diagram, Diagram) && before.Diagram.Look != Diagram.Look;
        VocabularyChanged = before.Words != Shown.Words;
        Response.Headers["HX-Reswap"] = "none";
        return Partial("_BuildChanges", this);
    }
}
