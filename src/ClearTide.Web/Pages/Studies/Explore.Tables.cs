using System.Globalization;
using System.Text;
using ClearTide.Core.Exploration;
using ClearTide.Core.Models;
using ClearTide.Formats.Tables;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>The numbers of panels, taken away as tables.</summary>
public sealed partial class ExploreModel
{
    /// <summary>The numbers of a panel, downwards by time, or by the values of a sweep.</summary>
    public IActionResult OnGetTable(string panel, string form, string? set)
    {
        if (Find(panel) is not { } found) return NotFound();
        var document = Moved(set);
        if (found.Kind == PanelKind.Sweep) return Swept(found, document, form);
        var run = RunOf(document);
        if (run.Run is null) return Content(run.Failure ?? "There is no run.", "text/plain; charset=utf-8");
        if (found.Kind == PanelKind.Budget)
        {
            if (Budget.Of(run, found.Of) is not { } budget) return NotFound();
            return Taken(document, form, document.TimeUnit.Singular, run.Run.Times, [.. budget.Terms.Select(term => new TableColumn(term.Name, term.Values))]);
        }
        if (found.Kind == PanelKind.Observed && Data is { } data)
        {
            var expected = run.Observed is { } curve ? data.Rows.Select(row => ExploreData.Between(curve.Times, [.. curve.Expected], row.End)).ToArray() : [];
            return Taken(document, form, document.TimeUnit.Singular, [.. data.Rows.Select(row => row.End)], [new("observed", [.. data.Rows.Select(row => row.Value)]), .. expected.Length > 0 ? [new TableColumn("expected", expected)] : (TableColumn[])[]]);
        }
        var (times, columns) = ExploreData.Table(run, found);
        return Taken(document, form, document.TimeUnit.Singular, times, columns);
    }

    private IActionResult Swept(Panel panel, StudyDocument document, string form)
    {
        try
        {
            var sweep = SweepOf(panel, Lowering.Lower(document), _ => { }, HttpContext.RequestAborted);
            if (sweep.Problem is not null) return Content(sweep.Problem, "text/plain; charset=utf-8");
            var (first, second) = (sweep.First, sweep.Second);
            TableColumn[] beside = second is null ? [] : [new(panel.SecondAddress, [.. sweep.Results.Select((_, k) => second[k / first.Length])])];
            return Taken(document, form, panel.Address, [.. sweep.Results.Select((_, k) => first[k % first.Length])], [.. beside, new(sweep.Title, [.. sweep.Results.Select(run => run.Outcome)])]);
        }
        catch (ArgumentException wrong)
        {
            return Content(wrong.Message, "text/plain; charset=utf-8");
        }
    }

    private FileContentResult Taken(StudyDocument document, string form, string first, IReadOnlyList<double> rows, IReadOnlyList<TableColumn> columns)
    {
        if (form == "xlsx") return File(ResultSheet.Write(first, rows, columns), "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", FileNames.Of(document.Title, "xlsx"));
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        ResultTable.Write(text, rows, columns, first == document.TimeUnit.Singular ? "time" : first, form == "tabs" ? "\t" : ",");
        if (form == "tabs") return File(Encoding.UTF8.GetBytes(text.ToString()), "text/tab-separated-values; charset=utf-8");
        return File(Encoding.UTF8.GetBytes(text.ToString()), "text/csv; charset=utf-8", FileNames.Of(document.Title, "csv"));
    }
}
