using System.Globalization;
using System.Text.Json;
using ClearTide.Core.Analysis;
using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Web.Curves;
using ClearTide.Web.Hosting;
using ClearTide.Web.Studies;
using ClearTide.Web.Words;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Work of many runs: sweeps and sensitivities. The answer comes line by line: how far it is, then the result; a browser that
/// leaves stops it.</summary>
public sealed partial class ExploreModel
{
    private const int FewRuns = 100,
        MostCurves = 60,
        MostSensitivityRuns = 100_000;

    private static readonly TimeSpan BetweenWords = TimeSpan.FromMilliseconds(120);

    /// <summary>What a sweep came to, run by run: the first value runs fastest.</summary>
    private sealed record SweepRuns(
        string Title,
        double[] First,
        double[]? Second,
        IReadOnlyList<double> Times,
        ValueRun[] Results,
        string? Problem = null
    );

    private static SweepRuns SweepOf(Panel panel, LoweredModel lowered, Action<int> progress, WorkTime.LongWork time)
    {
        static SweepRuns Wrong(string? problem) => new("", [], null, [], [], problem);
        var (first, problem) = ValueSteps.Read(panel.Spacing, panel.From, panel.To, panel.Count, panel.List);
        if (first is null)
            return Wrong(problem);
        double[] second = [0];
        if (panel.SecondAddress != ValueAddress.None)
        {
            var (values, wrong) = ValueSteps.Read(Spacing.Linear, panel.SecondFrom, panel.SecondTo, panel.SecondCount, "");
            if (values is null)
                return Wrong(wrong);
            second = values;
        }
        if ((long)first.Length * second.Length > ValueSteps.Most)
            return Wrong($"These are {(long)first.Length * second.Length:N0} runs; {ValueSteps.Most:N0} is the limit. Take fewer values.");
        var two = panel.SecondAddress != ValueAddress.None;
        var runs = new ValueRuns(
            lowered,
            two ? [panel.Address, panel.SecondAddress] : [panel.Address],
            Choice(panel),
            many: (long)first.Length * second.Length > FewRuns
        );
        var sets = Enumerable
            .Range(0, first.Length * second.Length)
            .Select(k => two ? new[] { first[k % first.Length], second[k / first.Length] } : [first[k]])
            .ToList();
        // Of a long sweep some curves tell the family, unless it is shown as bands; all outcomes are shown.
        var every = panel.Bands ? 1 : Math.Max(1, (first.Length + MostCurves - 1) / MostCurves);
        var results = runs.All(sets, k => !two && k % every == 0, time.Cores, Percent(progress, sets.Count), time.Cancel);
        return new(Choice(panel).Words(Name(lowered, panel.Of)), first, two ? second : null, runs.Times, results);
    }

    private static object Swept(Panel found, LoweredModel lowered, Action<int> progress, WorkTime.LongWork time)
    {
        var sweep = SweepOf(found, lowered, progress, time);
        if (sweep.Problem is { } problem)
            return new { problem };
        var (results, one) = (sweep.Results, sweep.Second is null);
        var curves = results
            .Select((run, k) => (run.Curve, Value: sweep.First[k % sweep.First.Length]))
            .Where(pair => pair.Curve is not null)
            .ToList();
        var bands = one && found.Bands ? FamilyBands.Of([.. curves.Select(pair => pair.Curve!)]) : null;
        var failures = results.Where(run => run.Failure is not null).ToList();
        return new
        {
            title = sweep.Title,
            first = sweep.First,
            second = sweep.Second,
            times = one ? sweep.Times : null,
            outcomes = results.Select(run => Finite(run.Outcome)),
            curves = one && bands is null ? curves.Select(pair => new { value = pair.Value, values = pair.Curve!.Select(Finite) }) : null,
            bands = bands is null ? null : new { levels = bands.Levels, lines = bands.Lines.Select(line => line.Select(Finite)) },
            failed = failures.Count,
            failure = failures.FirstOrDefault()?.Failure,
        };
    }

    private static object Sensitive(Panel found, LoweredModel lowered, Action<int> progress, WorkTime.LongWork time)
    {
        if (TypedNumber.Read(found.Spread) is not { } percent || !(percent > 0) || percent >= 1000)
            return new { problem = "By how many percent? Type a number above zero, as in 20." };
        var ranges = ExploreData.Ranges(lowered, percent / 100);
        if (ranges.Count == 0)
            return new { problem = "There is no value other than zero to vary. Add a parameter in Build." };
        var runs = new ValueRuns(
            lowered,
            [.. ranges.Select(range => range.Address)],
            Choice(found),
            many: found.Method != SensitivityMethod.Tornado
        );
        var title = Choice(found).Words(Name(lowered, found.Of));
        if (found.Method == SensitivityMethod.Tornado)
        {
            var now = runs.Run(runs.Present, false, time.Cancel);
            return new
            {
                title,
                now = Finite(now.Outcome),
                problem = now.Failure,
                bars = Tornado
                    .Of(runs, ranges, time.Cores, time.Cancel)
                    .Select(bar => new
                    {
                        name = bar.Address,
                        bar.Low,
                        bar.High,
                        atLow = Finite(bar.AtLow),
                        atHigh = Finite(bar.AtHigh),
                    }),
            };
        }
        if (TypedNumber.ReadWhole(found.Runs) is not { } many || many < 100 || many > MostSensitivityRuns)
            return new { problem = $"How many runs? Type a whole number from 100 to {MostSensitivityRuns:N0}." };
        double[] Scaled(Func<int, double> unit) => [.. ranges.Select((range, k) => range.Low + unit(k) * (range.High - range.Low))];
        if (found.Method == SensitivityMethod.Ranks)
        {
            var points = SampleDesign.LatinHypercube(many, ranges.Count, lowered.Document.Seed, "ranks");
            double[] outcomes =
            [
                .. runs.All(
                        [.. Enumerable.Range(0, many).Select(row => Scaled(k => points[row, k]))],
                        _ => false,
                        time.Cores,
                        Percent(progress, many),
                        time.Cancel
                    )
                    .Select(run => run.Outcome),
            ];
            var ranks = RankCorrelation.Partial(points, outcomes);
            return ranks is null
                ? new { problem = "The outcome does not vary over these ranges, or too many runs failed." }
                : new
                {
                    title,
                    runs = many,
                    ranks = ranges
                        .Select((range, k) => new { name = range.Address, value = ranks[k] })
                        .OrderByDescending(bar => Math.Abs(bar.value)),
                };
        }
        var rows = many / (ranges.Count + 2);
        if (rows < 20)
            return new { problem = $"With {ranges.Count} values this takes at least {20 * (ranges.Count + 2)} runs." };
        var design = new SobolIndices(ranges.Count, rows, lowered.Document.Seed);
        var all = Enumerable.Range(0, design.Count).Select(design.Point).Select(point => Scaled(k => point[k])).ToList();
        double[] results =
        [
            .. runs.All(all, _ => false, time.Cores, Percent(progress, design.Count), time.Cancel).Select(run => run.Outcome),
        ];
        var indices = design.Of(results, lowered.Document.Seed);
        if (indices is null)
            return new { problem = "The outcome does not vary over these ranges, or too many runs failed." };
        return new
        {
            title,
            runs = design.Count,
            failed = results.Count(value => !double.IsFinite(value)),
            sobol = ranges.Select((range, k) => new { name = range.Address, index = indices[k] }).OrderByDescending(bar => bar.index.InAll),
        };
    }

    /// <summary>Bars of a histogram, and points of the cumulative curve at most.</summary>
    private const int Bars = 30,
        MostPoints = 400;

    private static object ByChance(Panel panel, LoweredModel lowered, Action<int> progress, WorkTime.LongWork time)
    {
        var runs = TypedNumber.ReadWhole(panel.Runs) ?? 0;
        var (values, told) = (lowered.Network.ValueVector(), Percent(progress, runs));
        var found =
            panel.Statement.Length > 0
                ? ChanceOutcomes.Of(lowered, panel.Statement, runs, values, time.Cores, told, time.Cancel)
                : ChanceOutcomes.Of(
                    lowered,
                    panel.Of,
                    panel.Outcome,
                    TypedNumber.Read(panel.Level) ?? 0,
                    runs,
                    values,
                    time.Cores,
                    told,
                    time.Cancel
                );
        if (found.IsStatement)
            return new { title = panel.Statement, words = ChanceWords.OfStatement(found) };
        var every = Math.Max(1, found.Values.Length / MostPoints);
        var limit = TypedNumber.Read(panel.Limit);
        return new
        {
            title = panel.Statement.Length > 0 ? panel.Statement : Choice(panel).Words(Name(lowered, panel.Of)),
            words = ChanceWords.Of(found, limit),
            limit,
            bars = ChanceWords.Bars(found.Values, Bars),
            cumulative = found
                .Values.Select((value, k) => new[] { value, (k + 1.0) / found.Runs })
                .Where((_, k) => k % every == 0 || k == found.Values.Length - 1),
        };
    }

    private static OutcomeChoice Choice(Panel panel) => new(panel.Of, panel.Outcome, TypedNumber.Read(panel.Level) ?? 0);

    private static string Name(LoweredModel lowered, string partId) =>
        lowered.Document.Part(partId) is { } part ? lowered.Document.Describe(part) : "";

    private static double? Finite(double value) => double.IsFinite(value) ? value : null;

    private static Action<int> Percent(Action<int> progress, int all) => done => progress((int)(100L * done / all));

    /// <summary>What a panel of many runs shows, or why it shows nothing.</summary>
    private static object Made(StudyDocument document, Panel panel, Action<int> progress, WorkTime.LongWork time)
    {
        try
        {
            var (added, lacking) = PanelFormulas.Added(document, panel);
            if (lacking is not null)
                return new { problem = lacking };
            var lowered = Lowering.Lower(added);
            return panel.Kind switch
            {
                PanelKind.Sweep => Swept(panel, lowered, progress, time),
                PanelKind.Chance => ByChance(panel, lowered, progress, time),
                _ => Sensitive(panel, lowered, progress, time),
            };
        }
        catch (ArgumentException wrong)
        {
            return new { problem = wrong.Message };
        }
        catch (OperationCanceledException)
        {
            return new { problem = StoppedManyRuns };
        }
    }

    private static string AskedFor(string study, StudyDocument document, Panel panel) =>
        $"{study} {StampOf(document)} {document.Seed} {Asks(panel)}";

    private static bool IsOfManyRuns(Panel panel) => panel.Kind is PanelKind.Sweep or PanelKind.Sensitivity or PanelKind.Chance;

    /// <summary>What the changed panel will ask for is begun while the change is written and drawn.</summary>
    protected override void Ahead(StudyDocument next)
    {
        if (_changed is not null && next.Panels.FirstOrDefault(one => one.Id == _changed) is { } panel && IsOfManyRuns(panel))
            ahead.Begin(AskedFor(State.Id, next, panel), (progress, time) => Made(next, panel, progress, time));
    }

    public Task<IActionResult> OnGetSweep(string panel, string? set) => Answer(panel, set);

    public Task<IActionResult> OnGetByChance(string panel, string? set) => Answer(panel, set);

    public Task<IActionResult> OnGetSensitivity(string panel, string? set) => Answer(panel, set);

    private async Task<IActionResult> Answer(string panel, string? set)
    {
        if (Find(panel) is not { } found || !IsOfManyRuns(found))
            return NotFound();
        var document = Moved(set);
        using var going = ahead.Take(AskedFor(State.Id, document, found))
            ?? GoingWork.Begin(works, (progress, time) => Made(document, found, progress, time));
        if (going is null)
            return Json(JsonSerializer.Serialize(new { problem = TooMuchGoesOn }));
        WorkTime.OwnTime(HttpContext);
        Response.ContentType = LineAnswer.ContentType;
        var left = HttpContext.RequestAborted;
        try
        {
            while (await Task.WhenAny(going.Result, Task.Delay(BetweenWords, left)) != going.Result)
                await Response.WriteAsync($"{{\"percent\":{going.Percent}}}\n", left);
            await Response.WriteAsync(JsonSerializer.Serialize(await going.Result, JsonSerializerOptions.Web) + "\n", left);
        }
        catch (OperationCanceledException)
        {
            // Whoever asked has left: nobody reads what more there is to say, and the work is stopped.
        }
        return new EmptyResult();
    }
}
