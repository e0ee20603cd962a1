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
        library.Bundle(id) is { } bundle ? File(Encoding.UTF8.GetBytes(StudyFile.Write(bundle)), "application/json", FileName(bundle.Document.Title)) : NotFound();

    /// <summary>The title in small letters, with hyphens between words.</summary>
    private static string FileName(string title)
    {
        var words = string.Concat(title.ToLowerInvariant().Select(letter => char.IsLetterOrDigit(letter) ? letter : ' ')).Split(' ', StringSplitOptions.RemoveEmptyEntries);
        return $"{(words.Length == 0 ? "study" : string.Join('-', words))}.study.json";
    }
}
