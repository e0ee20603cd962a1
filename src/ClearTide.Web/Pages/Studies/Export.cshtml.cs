using System.Text;
using ClearTide.Formats.Studies;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace ClearTide.Web.Pages.Studies;

/// <summary>A study as its file.</summary>
public sealed class ExportModel(StudyLibrary library) : PageModel
{
    public IActionResult OnGet(string id) =>
        library.Bundle(id) is { } bundle
            ? File(Encoding.UTF8.GetBytes(StudyFile.Write(bundle)), "application/json", FileNames.Of(bundle.Document.Title, "study.json"))
            : NotFound();
}
