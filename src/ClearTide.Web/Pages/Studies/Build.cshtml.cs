using System.Globalization;
using ClearTide.Core.Models;
using ClearTide.Storage;
using ClearTide.Web.Diagram;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Diagram, ledger, curves and quick line of one study. Edits answer with the pieces of the page that they change.</summary>
public sealed class BuildModel(StudyStore studies, StudyLibrary library) : StudyPage(studies, library)
{
    private StudyRun? _run;

    public override Step Step => Step.Build;

    public StudyRun Run => _run ??= StudyRun.Of(Document, Data, HttpContext.RequestAborted);

    public DiagramModel Diagram => DiagramModel.Of(Run.Lowered);

    public LedgerModel Ledger => LedgerModel.Of(Run.Lowered);

    public string RunJson => RunData.Json(Run, Data);

    public void OnGet()
    {
    }

    public IActionResult OnPostAdd(long version, string? text) => Changed(Save(version, new AddLines(text ?? "")));

    public IActionResult OnPostField(long version, string partId, PartField field, string? value) => Changed(Save(version, new SetField(partId, field, value ?? "")));

    public IActionResult OnPostDefine(long version, string symbol) => Changed(Save(version, new AddParameter(symbol)));

    public IActionResult OnPostRemove(long version, string partId) => Changed(Save(version, new RemoveParts(partId)));

    public IActionResult OnPostMove(long version, string partId, double x, double y) => Changed(Save(version, new MovePlate(partId, x, y)));

    public IActionResult OnPostSpan(long version, string? start, string? end) =>
        double.TryParse(start, NumberStyles.Float, CultureInfo.InvariantCulture, out var from) && double.TryParse(end, NumberStyles.Float, CultureInfo.InvariantCulture, out var to)
            ? Changed(Save(version, new SetSpan(from, to)))
            : Changed(new(SaveOutcome.Refused, State, EditResult.Refused("A time span is two numbers, as in 0 and 150.")));

    public IActionResult OnPostQuestion(long version, string? title, string? question) => Answer(Save(version, new SetQuestion(title ?? "", question ?? "")));

    public IActionResult OnGetPreview(string? text)
    {
        if (string.IsNullOrWhiteSpace(text)) return Partial("_QuickPreview", new QuickPreview([], null));
        var edit = new AddLines(text);
        var result = edit.Apply(Document);
        return Partial("_QuickPreview", new QuickPreview(result.Document is null ? [] : edit.Preview(Document), result));
    }

    protected override IActionResult Moved(SaveResult result) => IsFragment ? Changed(result) : base.Moved(result);

    private bool IsFragment => Request.Headers.ContainsKey("HX-Request");

    private PartialViewResult Changed(SaveResult result)
    {
        TakeUp(result);
        // What the user typed stays where it is when the edit was refused: only the notice is new.
        if (result.Outcome == SaveOutcome.Refused)
        {
            Response.Headers["HX-Retarget"] = "#notice";
            Response.Headers["HX-Reswap"] = "outerHTML";
            return Partial("_Notice", Notice);
        }
        return Partial("_BuildAnswer", this);
    }
}
