using System.Text;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Sbml;
using ClearTide.Storage;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>The files that a study can become, and what of it each does not hold.</summary>
public sealed class FilesModel(StudyStore studies, StudyLibrary library) : StudyPage(studies, library)
{
    public override Step Step => Step.Build;

    /// <summary>Why there is no SBML of it, in a sentence; null where there is.</summary>
    public string? Refusal { get; private set; }

    public IReadOnlyList<string> Left { get; private set; } = [];

    public string Summary { get; private set; } = "";

    public void OnGet()
    {
        if (Exported() is not { } exported)
            return;
        Left = exported.Left;
        string Many(int count, string one, string many) => count == 1 ? $"1 {one}" : $"{count} {many}";
        var model = exported.Model;
        Summary =
            $"{Many(model.Species.Length, "species", "species")}, {Many(model.Reactions.Length, "reaction", "reactions")}, "
            + $"{Many(model.Parameters.Length, "parameter", "parameters")}, "
            + $"{Many(model.AssignmentRules.Length + model.RateRules.Length, "rule", "rules")}, "
            + $"{Many(model.Events.Length, "event", "events")}";
    }

    public IActionResult OnGetSbml()
    {
        if (Exported() is not { } exported)
            return Page();
        return File(Encoding.UTF8.GetBytes(SbmlWriter.Write(exported.Model)), "application/sbml+xml", FileNames.Of(Document.Title, "xml"));
    }

    private SbmlExported? Exported()
    {
        try
        {
            return SbmlExport.Of(Document);
        }
        catch (SbmlException refused)
        {
            Refusal = refused.Message;
        }
        catch (SimulationException)
        {
            Refusal = "The initial amounts of this model cannot be worked out. See what Build says of its run.";
        }
        return null;
    }
}
