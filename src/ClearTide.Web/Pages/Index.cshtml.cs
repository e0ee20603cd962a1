using ClearTide.Core.Models;
using ClearTide.Storage;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace ClearTide.Web.Pages;

/// <summary>The shelf: all studies, and the way to a new one.</summary>
public sealed class IndexModel(StudyStore studies, StudyLibrary library, SettingsStore settings) : PageModel
{
    public IReadOnlyList<(StudyListing Listing, IReadOnlyList<ThumbLine> Picture)> Studies { get; private set; } = [];

    public IReadOnlyDictionary<string, StudyDocument> Patterns => library.Patterns;

    public string? Notice { get; private set; }

    public string NewTitle { get; private set; } = "";

    public void OnGet() => Studies = [.. studies.List().Select(listing => (listing, Thumbnail.Of(studies.Load(listing.Id)!.Document)))];

    public IActionResult OnPost(string? title, string? pattern)
    {
        NewTitle = title?.Trim() ?? "";
        var defaults = settings.Load();
        var begun = defaults.Begin();
        if (!string.IsNullOrEmpty(pattern))
        {
            if (!library.Patterns.TryGetValue(pattern, out var found)) return Refuse("There is no such pattern any more. Choose another one.");
            begun = defaults.Begin(found);
        }
        var result = new SetQuestion(NewTitle, string.IsNullOrEmpty(pattern) ? "" : begun.Question, begun.Description).Apply(begun);
        return result.Document is { } document ? RedirectToPage("/Studies/Build", new { id = studies.Add(document) }) : Refuse(result.Refusal!);
    }

    private PageResult Refuse(string sentence)
    {
        Notice = sentence;
        OnGet();
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
