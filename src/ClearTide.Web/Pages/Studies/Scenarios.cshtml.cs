using System.Text.Json;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Tables;
using ClearTide.Storage;
using ClearTide.Web.Curves;
using ClearTide.Web.Hosting;
using ClearTide.Web.Jobs;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Named sets of measures laid over the baseline, which stays as it is; the same curve under each of them, and what it comes
/// to.</summary>
public sealed partial class ScenariosModel(StudyStore studies, StudyLibrary library, ResultStore results, WorkTime works)
    : StudyPage(studies, library)
{
    private static readonly JsonSerializerOptions Camel = new() { PropertyNamingPolicy = JsonNamingPolicy.CamelCase };

    private ScenarioRuns? _runs;
    private string? _usual;

    public override Step Step => Step.Scenarios;

    /// <summary>Id of the curve that is compared.</summary>
    [BindProperty(Name = "of", SupportsGet = true)]
    public string? Asked { get; set; }

    /// <summary>Values that a measure can change.</summary>
    public IReadOnlyList<ModelValue> Values => [.. Lowered().Network.Values.Where(value => !value.Address.IsInitial)];

    /// <summary>Curves that can be compared: id, kind and name.</summary>
    public IReadOnlyList<(string Id, string Kind, string Name)> Curves =>
        [.. ExploreData.Curves(Lowered()), .. Document.Inputs.Select(input => (input.Id, "input", $"{input.Symbol}(t)"))];

    /// <summary>The curve that is compared: the one asked for, else what data count, else the first that rises and falls.</summary>
    public string Of =>
        new[] { Asked, Counted?.Observation.FlowId }.FirstOrDefault(id => Curves.Any(curve => curve.Id == id))
        ?? (_usual ??= UsualCurve.Of(RunInTime(Document)));

    public string Label => Curves.FirstOrDefault(curve => curve.Id == Of).Name ?? "";

    /// <summary>Whether the curve is a flow: then its total says more than its end.</summary>
    public bool IsFlow => Curves.FirstOrDefault(curve => curve.Id == Of).Kind == "flow";

    /// <summary>Where the data end; null where there are none that count a flow.</summary>
    public double? Now => Counted?.Data.Now;

    /// <summary>Whether runs are made with what was fitted, and not with the model's own values.</summary>
    public bool IsFitted => Estimates.Count > 0;

    /// <summary>Where a new measure's window begins until it is typed: where the data end.</summary>
    public double Suggested => Series.Count > 0 ? Series.Max(one => one.Data.Now) : Document.Start;

    /// <summary>A measure that could be typed here.</summary>
    public string Example => MeasureLine.Example(Document);

    /// <summary>Why nothing can be compared, or null.</summary>
    public string? Problem { get; private set; }

    /// <summary>The runs that are compared; null where there are none, <see cref="Problem"/> says why.</summary>
    public ScenarioRuns? Runs => _runs ??= Compared(Document);

    /// <summary>Whether a rule of a scenario does nothing in its run.</summary>
    /// <param name="place">Of the scenario among those that are run; negative where it is not.</param>
    public bool IsIdle(EventRule rule, int place) =>
        place >= 0
        && Runs?.Curves[place + 1] is { Failure: null } curve
        && ScenarioModel.Activity(rule, curve.Acts, Document.End).Count == 0;

    /// <summary>What is to be known of a measure: that it does nothing, or meets another one.</summary>
    public IEnumerable<string> NotesOf(Scenario scenario, Measure measure) =>
        MeasureNotes.Of(Document, Lowered().Network, scenario, measure, Now ?? double.NegativeInfinity);

    public string PictureJson => Picture(Document, Runs);

    public void OnGet() { }

    /// <summary>The curves, a column for each scenario.</summary>
    public IActionResult OnGetCurves(string? form) =>
        Runs is { } runs
            ? TableFile.Of(
                $"{Document.Title} scenarios {Label}",
                form ?? "",
                Document.TimeUnit.Singular,
                runs.Times,
                [.. runs.Curves.Where(curve => curve.Failure is null).Select(curve => new TableColumn(curve.Name, curve.Values))]
            )
            : NotFound();

    /// <summary>What the scenarios come to, with all digits.</summary>
    public IActionResult OnGetOutcomes(string? form) =>
        Runs is { } runs
            ? TableFile.Of($"{Document.Title} scenarios outcomes", form, text =>
                ScenarioTable.Write(text, runs, IsFlow, HasCosts, Document.OutcomeRows)
            )
            : NotFound();

    /// <summary>The curves while a bar is dragged: nothing is kept.</summary>
    public IActionResult OnGetMoved(string scenario, string measure, double from, double until)
    {
        var moved = Move(scenario, measure, from, until).Apply(Document);
        return moved.Document is { } document
            ? Content(Picture(document, Compared(document, rows: false)), "application/json; charset=utf-8")
            : BadRequest(moved.Refusal!);
    }

    public IActionResult OnPostAdd(long version, string? name) => Answer(Save(version, new AddScenario(name ?? "")));

    public IActionResult OnPostLine(long version, string? scenario, string? line) =>
        Answer(Save(version, new AddMeasureLine(scenario ?? "", line ?? "")));

    /// <summary>What is done at times or on conditions, typed anew.</summary>
    public IActionResult OnPostRule(long version, string scenario, string measure, string? text) =>
        Answer(Save(version, new SetRule(scenario, measure, text ?? "")));

    public IActionResult OnPostBuildsOn(long version, string scenario, string[] on) =>
        Answer(Save(version, new SetBuildsOn(scenario, [.. on ?? []])));

    public IActionResult OnPostCost(long version, string scenario, string measure, string? cost) =>
        Answer(Save(version, new SetCost(scenario, measure, cost ?? "")));

    /// <summary>Outcomes of one's own by which scenarios are compared.</summary>
    public IActionResult OnPostRows(long version, string? rows) => Answer(Save(version, new SetOutcomeRows(rows ?? "")));

    /// <summary>How the study's own outcomes are read.</summary>
    public IReadOnlyList<OutcomeRow> Rows => OutcomeRow.Of(Lowered());

    public IActionResult OnPostRename(long version, string scenario, string? name) =>
        Answer(Save(version, new RenameScenario(scenario, name ?? "")));

    public IActionResult OnPostDuplicate(long version, string scenario) => Answer(Save(version, new DuplicateScenario(scenario)));

    public IActionResult OnPostSwitch(long version, string scenario, bool off) => Answer(Save(version, new SwitchScenario(scenario, off)));

    public IActionResult OnPostUp(long version, string scenario) => Answer(Save(version, new MoveScenarioUp(scenario)));

    public IActionResult OnPostRemove(long version, string scenario) => Answer(Save(version, new RemoveScenario(scenario)));

    public IActionResult OnPostMeasure(
        long version,
        string scenario,
        string? measure,
        string? label,
        ValueAddress? address,
        MeasureKind kind,
        string? factor,
        string? from,
        string? until
    ) =>
        Answer(
            Save(
                version,
                new SetMeasure(
                    scenario,
                    string.IsNullOrEmpty(measure) ? null : measure,
                    label ?? "",
                    address ?? ValueAddress.None,
                    Number(factor),
                    Number(from),
                    Number(until),
                    kind
                )
            )
        );

    /// <summary>A bar was dragged, or moved by keys: the answer is the page's inner part.</summary>
    public IActionResult OnPostMove(long version, string scenario, string measure, double from, double until)
    {
        TakeUp(Save(version, Move(scenario, measure, from, until)));
        return Partial("_ScenariosAnswer", this);
    }

    public IActionResult OnPostRemoveMeasure(long version, string scenario, string measure) =>
        Answer(Save(version, new RemoveMeasure(scenario, measure)));

    /// <summary>Whether any measure that is run has a cost.</summary>
    public bool HasCosts => ScenarioCost.IsIn(Document);

    /// <summary>What one less of the compared curve costs under a scenario: of a flow in total, of an amount at the end; null where there
    /// is none less.</summary>
    public double? PerAverted(int scenario) => Comparison is { } compared ? compared.PerAverted(scenario) : null;

    /// <summary>The name of a scenario that costs no more than this one and leaves no more, and one of them less; null where there is
    /// none.</summary>
    public string? Better(int scenario) => HasCosts && Comparison is { } compared ? compared.Better(scenario) : null;

    private CostComparison? Comparison => Runs is { } runs ? new(runs, IsFlow) : null;

    /// <summary>A measure over another window, or a rule at other times.</summary>
    private Edit Move(string scenario, string measure, double from, double until) =>
        Document.Scenarios.FirstOrDefault(one => one.Id == scenario)?.Measures.FirstOrDefault(one => one.Id == measure) is { } one
            ? new SetMeasure(scenario, measure, one.Label, one.Address, one.Factor, from, until, one.Kind)
            : new MoveRule(scenario, measure, from, until);

    /// <summary>What is run, and the id of the curve in it: an input is a curve only while it is looked at.</summary>
    private (LoweredModel Lowered, string Of) Drawn(StudyDocument document)
    {
        var (drawn, of) = ShownInput.In(document, Of) ?? (document, Of);
        return (Lowering.Lower(drawn), of);
    }

    private ScenarioRuns? Compared(StudyDocument document, bool rows = true)
    {
        var (lowered, of) = Drawn(document);
        if (lowered.IsProvisional)
        {
            Problem = "The model has unfinished parts. Finish what Build lists, and its scenarios are drawn here.";
            return null;
        }
        if (Of.Length == 0)
        {
            Problem = "There is nothing to compare yet. Give the model a compartment in Build.";
            return null;
        }
        try
        {
            return InTime(
                WorkTime.Run,
                cancel => ScenarioRuns.Of(lowered, of, Now ?? double.NegativeInfinity, Estimates, cancel, rows),
                why => throw new ArgumentException(why)
            );
        }
        catch (ArgumentException wrong)
        {
            Problem = wrong.Message;
            return null;
        }
    }

    /// <summary>The estimates of the newest fit, if it still belongs to the content: projections go on from them too.</summary>
    private Dictionary<ValueAddress, double> Estimates =>
        Counted is not null
        && results.Newest<Core.Inference.FitResult>(State.Id, FitJob.Kind) is { } fit
        && fit.Fingerprint == Fingerprints.Of(Document, Series)
            ? fit.Estimates.ToDictionary(estimate => estimate.Address, estimate => estimate.Value)
            : [];

    /// <summary>The data that have seen the curve that is compared.</summary>
    private IEnumerable<DataRow> Points(StudyDocument document)
    {
        var fitted = Lowering.Lower(document).With(Estimates);
        return Series.SelectMany(one => SeenOnCurve.Of(fitted, one, Of));
    }

    private string Picture(StudyDocument document, ScenarioRuns? runs) =>
        JsonSerializer.Serialize(
            new
            {
                label = Label,
                unit = document.TimeUnit.Singular,
                counted = CurveUnit.Of(Lowered(), Of),
                isFlow = IsFlow,
                now = Now,
                start = document.Start,
                end = document.End,
                times = runs?.Times ?? [],
                curves = runs?.Curves.Select(curve => new
                {
                    curve.Name,
                    values = curve.Values.Select(value => double.IsFinite(value) ? value : (double?)null),
                })
                    ?? [],
                points = Points(document)
                    .Select(row => new
                    {
                        time = row.End,
                        row.Value,
                        row.Error,
                        row.Below,
                        @out = row.LeftOut,
                    }),
                lanes = Lanes(document, runs),
            },
            Camel
        );

    /// <summary>A measure as a bar of a calendar.</summary>
    /// <param name="Scenario">Which scenario it is of, from 1.</param>
    /// <param name="MeasureId">With <paramref name="ScenarioId"/>, of what can be moved; null where nothing can.</param>
    public sealed record Lane(string Name, string Words, double From, double Until, int Scenario, string? ScenarioId, string? MeasureId)
    {
        /// <summary>Whether it is moved as a whole: it has no end of its own.</summary>
        public bool Endless { get; init; }

        /// <summary>The rule that it shows, or null.</summary>
        public string? RuleId { get; init; }

        /// <summary>Of a rule the moments and stretches in which it acts, from and until; null for a measure over a window.</summary>
        public IEnumerable<double[]>? Stretches { get; init; }

        /// <summary>Of a rule by chance, for each interval the share of replicates in which it acts.</summary>
        public IReadOnlyList<double>? Shares { get; init; }

        /// <summary>The share of replicates in which it acts at all.</summary>
        public double? Ever { get; init; }
    }

    /// <summary>All measures, scenario by scenario.</summary>
    /// <param name="runs">Runs that tell when rules act, or null.</param>
    public static IEnumerable<Lane> Lanes(StudyDocument document, ScenarioRuns? runs) =>
        document
            .Scenarios.Where(scenario => !scenario.IsOff)
            .SelectMany(
                (scenario, k) =>
                    scenario
                        .Measures.Select(measure => new Lane(
                            measure.Label == MeasureLine.Change(measure) ? "" : measure.Label,
                            MeasureLine.Change(measure),
                            measure.From,
                            measure.Until,
                            k + 1,
                            scenario.Id,
                            measure.Id
                        ))
                        .Concat(scenario.Rules.Select(rule => OfRule(document, scenario, rule, k + 1, runs?.Curves[k + 1].Acts ?? [])))
            );

    private static Lane OfRule(StudyDocument document, Scenario scenario, EventRule rule, int place, IReadOnlyList<EventAct> acts)
    {
        var times = RuleTimes.Of(rule.Text, document);
        return new(
            rule.Label,
            rule.Text,
            times?.From ?? document.Start,
            times is null ? document.End : times.Until ?? times.From,
            place,
            times is null ? null : scenario.Id,
            times is null ? null : rule.Id
        )
        {
            RuleId = rule.Id,
            Endless = times is { Until: null },
            Stretches = ScenarioModel
                .Activity(rule, acts, document.End, (document.End - document.Start) / 600)
                .Select(one => new[] { one.From, one.Until }),
        };
    }

    /// <summary>What is left of a curve is nothing where it is a ten-thousandth of what there was.</summary>
    public static double NearZero(double value, Outcomes of) => Math.Abs(value) < 1e-4 * Math.Abs(of.Maximum) ? 0 : value;

    private static double Number(string? text) => TypedNumber.Read(text) ?? double.NaN;
}
