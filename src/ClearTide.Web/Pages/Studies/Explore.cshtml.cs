using System.Globalization;
using System.Text.Json;
using ClearTide.Core.Analysis;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Storage;
using ClearTide.Web.Curves;
using ClearTide.Web.Hosting;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Panels, sliders and kept runs: where a model is played with. Panels are drawn by the browser from runs that this page
/// sends.</summary>
public sealed partial class ExploreModel(
    StudyStore studies,
    StudyLibrary library,
    KeptRunStore kept,
    ExploredRuns runs,
    WorkTime works,
    WorkAhead ahead
) : StudyPage(studies, library)
{
    /// <summary>The panel that an edit is about.</summary>
    private string? _changed;

    public override Step Step => Step.Explore;

    public IReadOnlyList<Panel> Panels => Document.Panels.IsEmpty ? Panel.Usual(Document) : Document.Panels;

    /// <summary>Whatever has an address and may be moved or varied, with what it is now.</summary>
    public IReadOnlyList<ModelValue> Values { get; private set; } = [];

    public IReadOnlyList<KeptRun> Kept { get; private set; } = [];

    /// <summary>Curves that panels can show: id, kind and name.</summary>
    public IReadOnlyList<(string Id, string Kind, string Name)> Curves { get; private set; } = [];

    public JsonText RunJson => ExploreData.Json(RunOf(Document), Panels, BesideKept);

    /// <summary>
    /// What the model and its names are: what was asked for under one stamp need not be asked for again when only panels change.
    /// </summary>
    public string Stamp => StampOf(Document);

    private static string StampOf(StudyDocument document) =>
        Fingerprints.Hash(
            $"{Fingerprints.OfRun(document)} "
                + $"{string.Join('\n', document.Parts.Select(part => part.Name).Concat(document.Expectations.Select(part => part.Text)))}"
        );

    /// <summary>The same for what a panel asks for, whatever its title and size.</summary>
    public static string Asks(Panel panel) =>
        Fingerprints.Hash(JsonSerializer.Serialize(panel with { Title = "", Height = 0, Wide = false }));

    public void OnGet() => Fill();

    private void Fill()
    {
        var run = RunOf(Document);
        Values = [.. run.Lowered.Network.Values.Where(value => double.IsFinite(value.Value))];
        Kept = kept.All(State.Id);
        Curves = ExploreData.Curves(run.Lowered);
    }

    /// <summary>What the sliders have moved, as the browser sends it: <c>{"beta":0.3}</c>. Others are left out.</summary>
    private Dictionary<ValueAddress, double> Set(string? set)
    {
        if (string.IsNullOrWhiteSpace(set))
            return [];
        try
        {
            var form = RunOf(Document).Lowered.Network;
            return (JsonSerializer.Deserialize<Dictionary<ValueAddress, double>>(set) ?? [])
                .Where(pair => form.IndexOf(pair.Key) >= 0 && double.IsFinite(pair.Value))
                .Take(Slider.Most)
                .ToDictionary();
        }
        catch (JsonException)
        {
            return [];
        }
    }

    private StudyDocument Moved(string? set) =>
        Set(set) is { Count: > 0 } values ? new AdoptValues(values, Origin.Guess).Apply(Document).Document ?? Document : Document;

    protected override LoweredModel Lowered() => RunOf(Document).Lowered;

    private StudyRun RunOf(StudyDocument document) =>
        ReferenceEquals(document, Document) ? runs.GetOrMake(State.Id, document, Series, () => RunInTime(document)) : RunInTime(document);

    private ContentResult Json(string json) => Content(json, "application/json; charset=utf-8");

    /// <summary>The run with the values of the sliders.</summary>
    public IActionResult OnGetRun(string? set) => ExploreData.Json(RunWith(set), Panels, BesideKept);

    /// <summary>What chance makes of the curves with the values of the sliders.</summary>
    public IActionResult OnGetFan(string? set)
    {
        var lowered = Set(set) is { Count: > 0 } values ? Lowered().With(values) : Lowered();
        return new LineAnswer(
            FanData.Of(lowered, runs =>
                InTime(WorkTime.Run, cancel => ChanceFan.Of(lowered, runs, cancel), why => new ChanceFan([], [], [], why))
            )
        );
    }

    /// <summary>The numbers of a panel of curves at even times, where they are looked at in its place.</summary>
    public IActionResult OnGetRows(string panel, string? set) =>
        Find(panel) is { } found ? ExploreData.RowsJson(RunWith(set), found, BesideKept) : NotFound();

    private StudyRun RunWith(string? set) =>
        Set(set) is { Count: > 0 } values ? RunInTime(Document, cancel => RunOf(Document).With(values, cancel)) : RunOf(Document);

    /// <summary>A kept run, made again from what was kept.</summary>
    public IActionResult OnGetKept(string run) =>
        kept.All(State.Id).FirstOrDefault(one => one.Id == run) is { } found
            ? ExploreData.Json(RunInTime(found.Document), Panels)
            : NotFound();

    public IActionResult OnGetPhase(string panel, string? set)
    {
        if (Find(panel) is not { } found)
            return NotFound();
        var (starts, problem) = ExploreData.Starts(found.Starts);
        double[]? values = null;
        if (problem is null && found.Address != ValueAddress.None)
            (values, problem) = ValueSteps.Read(found.Spacing, found.From, found.To, found.Count, found.List);
        if (problem is not null)
            return Json(JsonSerializer.Serialize(new { problem }));
        try
        {
            var (document, lacking) = PanelFormulas.Added(Moved(set), found);
            if (lacking is not null)
                return Json(JsonSerializer.Serialize(new { problem = lacking }));
            return Json(
                ExploreData.Json(
                    InTime(
                        WorkTime.Run,
                        cancel =>
                            PhasePlane.Of(
                                Lowering.Lower(document),
                                found.Of,
                                found.Against,
                                starts!,
                                cancel,
                                values is null ? null : found.Address,
                                values
                            ),
                        why => throw new ArgumentException(why)
                    )
                )
            );
        }
        catch (ArgumentException wrong)
        {
            return Json(JsonSerializer.Serialize(new { problem = wrong.Message }));
        }
    }

    public Panel? Find(string id) => Panels.FirstOrDefault(panel => panel.Id == id);

    /// <summary>What the step of calculation is good for, and what each expectation found.</summary>
    public IActionResult OnGetChecks(string panel, string? set)
    {
        var run = RunOf(Moved(set));
        return Find(panel) is null
            ? NotFound()
            : Partial("_Checks", new ChecksModel(run, run.Run is null ? null : StepsInTime(run, 4), Expected(run), Set(set).Count == 0));
    }

    private IReadOnlyList<(IReadOnlyList<ExpectationCase>, string?)> Expected(StudyRun run)
    {
        var all = run.Lowered.Document.Expectations;
        IReadOnlyList<(IReadOnlyList<ExpectationCase>, string?)> Without(string why) =>
            [.. all.Select(_ => ((IReadOnlyList<ExpectationCase>)[], (string?)why))];
        return run.WasStopped
            ? Without(run.Failure!)
            : InTime(WorkTime.Report, cancel => [.. all.Select(part => ExpectationCheck.Each(run.Lowered, part, cancel))], Without);
    }

    /// <summary>Takes another step of calculation.</summary>
    public IActionResult OnPostStep(long version, double step) =>
        Drawn(Save(version, new SetSolver(Document.Solver.Method, step, Document.Solver.Tolerance)));

    public IActionResult OnGetOutcomes(string panel, string? set)
    {
        if (Find(panel) is not { } found)
            return NotFound();
        var (document, problem) = PanelFormulas.Added(Moved(set), found);
        var run = RunOf(document);
        return Partial("_Outcomes", (run, ReportInTime(run, Lowering.Lower(document)), problem));
    }

    /// <summary>A point of a chart that was clicked.</summary>
    public IActionResult OnPostPoint(long version, string? observation, int row) => Drawn(LeavePoint(version, observation, row));

    public IActionResult OnPostAddPanel(long version, PanelKind kind) => Drawn(Save(version, new AddPanel(kind)));

    /// <summary>A panel that asks for its numbers by itself is all that its settings change: only it is answered with.</summary>
    public IActionResult OnPostPanel(long version, string panel, string field, string? value)
    {
        _changed = panel;
        var asks =
            Document.Panels.FirstOrDefault(one => one.Id == panel)?.Kind
            is PanelKind.Sweep
                or PanelKind.Sensitivity
                or PanelKind.Chance
                or PanelKind.Phase;
        var result = Save(version, new SetPanel(panel, field, value ?? ""));
        if (!asks || result.Outcome != SaveOutcome.Saved)
            return Drawn(result);
        TakeUp(result);
        Fill();
        Response.Headers["HX-Retarget"] = $"#panel-{panel}";
        Response.Headers["HX-Reswap"] = "morph:outerHTML";
        return Partial("_PanelAnswer", (this, Find(panel)!));
    }

    public IActionResult OnPostRemovePanel(long version, string panel) => Drawn(Save(version, new RemovePanel(panel)));

    public IActionResult OnPostMovePanel(long version, string panel, int by) =>
        Drawn(Save(version, new MovePanel(panel, Math.Clamp(by, -Panel.Most, Panel.Most))));

    public IActionResult OnPostAddSlider(long version, ValueAddress? address) =>
        Drawn(Save(version, SetSlider.For(Document, address ?? ValueAddress.None)));

    public IActionResult OnPostSlider(long version, ValueAddress? address, string? low, string? high, string? log, string? step)
    {
        if (TypedNumber.Read(low) is not { } from || TypedNumber.Read(high) is not { } to)
            return Drawn(new(SaveOutcome.Refused, State, EditResult.Refused("A slider's ends are two numbers, as in 0.1 and 0.5.")));
        if ((string.IsNullOrWhiteSpace(step) ? 0 : TypedNumber.Read(step)) is not { } by)
            return Drawn(
                new(SaveOutcome.Refused, State, EditResult.Refused("A step is a number, as in 0.01; leave it empty for as fine as can be."))
            );
        return Drawn(Save(version, new SetSlider(address ?? ValueAddress.None, from, to, log is "true" or "on", by)));
    }

    public IActionResult OnPostRemoveSlider(long version, ValueAddress? address) =>
        Drawn(Save(version, new RemoveSlider(address ?? ValueAddress.None)));

    /// <summary>What the sliders have moved becomes part of the model.</summary>
    public IActionResult OnPostKeepValues(long version, string? set)
    {
        var moved = Moved(set);
        if (ReferenceEquals(moved, Document))
            return Drawn(new(SaveOutcome.Refused, State, EditResult.Refused("No slider has been moved.")));
        var values = JsonSerializer.Deserialize<Dictionary<ValueAddress, double>>(set!)!;
        return Drawn(Save(version, new AdoptValues(values, Origin.Guess)));
    }

    public IActionResult OnPostKeep(string? set)
    {
        if (kept.Keep(State.Id, Moved(set)) is { } refusal)
            Say(refusal);
        return Drawn();
    }

    public IActionResult OnPostKeptRun(string run, string? name, int colour, string? hidden)
    {
        if (!kept.Change(State.Id, run, name ?? "", colour, hidden is "true" or "on"))
            Say("This run is no longer kept.");
        return Drawn();
    }

    public IActionResult OnPostRemoveKept(string run)
    {
        if (!kept.Remove(State.Id, run))
            Say("This run is no longer kept.");
        return Drawn();
    }

    protected override IActionResult Moved(SaveResult result) =>
        Request.Headers.ContainsKey("HX-Request") ? Drawn(result) : base.Moved(result);

    private IActionResult Drawn(SaveResult result)
    {
        TakeUp(result);
        return Drawn();
    }

    private PartialViewResult Drawn()
    {
        Fill();
        return Partial("_Explore", this);
    }
}
