using System.Globalization;
using System.Text;
using ClearTide.Core.Analysis;
using ClearTide.Core.Compilation;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Tables;
using ClearTide.Storage;
using ClearTide.Web.Curves;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>The numbers of panels, taken away as tables.</summary>
public sealed partial class ExploreModel
{
    /// <summary>The numbers of a panel, downwards by time, or by the values of a sweep.</summary>
    public IActionResult OnGetTable(string panel, string form, string? set, bool family)
    {
        if (Find(panel) is not { } found)
            return NotFound();
        var document = Moved(set);
        if (found.Kind == PanelKind.Sweep)
            return Swept(found, PanelFormulas.Added(document, found).Document, form, family);
        var run = RunOf(document);
        if (run.Run is null)
            return Content(run.Failure ?? "There is no run.", "text/plain; charset=utf-8");
        if (found.Kind == PanelKind.Budget)
        {
            if (Budget.Of(run, found.Of) is not { } budget)
                return NotFound();
            return Taken(
                document,
                form,
                Time(document),
                run.Run.Times,
                [.. budget.Terms.Select(term => new TableColumn($"{term.Name} ({CurveUnit.Of(run.Lowered, term.FlowId)})", term.Values))]
            );
        }
        if (found.Kind == PanelKind.Observed && run.Observed.Count > 0)
            return Taken(document, form, Time(document), ObservedTable.Times(run), ObservedTable.Columns(run));
        var times = TableTimes.Of(document, TableTimes.Every(document, found.Every).Every);
        var (rows, columns) = ExploreData.Table(run, found, times, "", HttpContext.RequestAborted);
        return Taken(document, form, Time(document), rows, [.. columns, .. BesideKept(found, rows)]);
    }

    /// <summary>Kept runs stand beside this one, over the times they share.</summary>
    private IEnumerable<TableColumn> BesideKept(Panel panel, IReadOnlyList<double> times) =>
        kept.All(State.Id).Where(one => !one.Hidden).SelectMany(one => KeptColumns(one, panel, times));

    private static string Time(StudyDocument document) => $"time ({document.TimeUnit.Plural})";

    /// <summary>The columns of a kept run at the times of this one; those it does not reach are empty.</summary>
    private IEnumerable<TableColumn> KeptColumns(KeptRun one, Panel panel, IReadOnlyList<double> times)
    {
        var run = RunInTime(one.Document);
        var own = times.Where(time => time >= one.Document.Start && time <= one.Document.End).ToArray();
        if (run.Run is null || run.Failure is not null || own.Length < 2)
            return [];
        // A run begins where it begins, whatever times are read of it.
        double[] made = own[0] > one.Document.Start ? [one.Document.Start, .. own] : own;
        var (_, columns) = ExploreData.Table(run, panel, made, $" · {one.Name}", HttpContext.RequestAborted);
        var (before, left) = (times.TakeWhile(time => time < one.Document.Start).Count(), made.Length - own.Length);
        return columns.Select(column =>
            column with
            {
                Values =
                [
                    .. Enumerable.Repeat(double.NaN, before),
                    .. column.Values[left..],
                    .. Enumerable.Repeat(double.NaN, times.Count - before - own.Length),
                ],
            }
        );
    }

    private IActionResult Swept(Panel panel, StudyDocument document, string form, bool family)
    {
        try
        {
            var sweep = ManyInTime(works, time => SweepOf(panel, Lowering.Lower(document), _ => { }, time));
            if (sweep.Problem is not null)
                return Content(sweep.Problem, "text/plain; charset=utf-8");
            var (first, second) = (sweep.First, sweep.Second);
            if (family && second is null)
            {
                var name = Name(Lowering.Lower(document), panel.Of);
                return Taken(
                    document,
                    form,
                    Time(document),
                    sweep.Times,
                    [
                        .. sweep
                            .Results.Select((run, k) => (run.Curve, k))
                            .Where(pair => pair.Curve is not null)
                            .Select(pair => new TableColumn($"{name} · {panel.Address} = {NumberWords.Of(first[pair.k], 6)}", pair.Curve!)),
                    ]
                );
            }
            TableColumn[] beside = second is null
                ? []
                : [new(panel.SecondAddress.ToString(), [.. sweep.Results.Select((_, k) => second[k / first.Length])])];
            return Taken(
                document,
                form,
                panel.Address.ToString(),
                [.. sweep.Results.Select((_, k) => first[k % first.Length])],
                [.. beside, new(sweep.Title, [.. sweep.Results.Select(run => run.Outcome)])]
            );
        }
        catch (ArgumentException wrong)
        {
            return Content(wrong.Message, "text/plain; charset=utf-8");
        }
    }

    private static FileContentResult Taken(
        StudyDocument document,
        string form,
        string first,
        IReadOnlyList<double> rows,
        IReadOnlyList<TableColumn> columns
    ) => TableFile.Of(document.Title, form, first, rows, columns);
}
