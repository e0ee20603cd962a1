using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Print;
using ClearTide.Storage;
using ClearTide.Web.Studies;
using ClearTide.Web.Thumbnails;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace ClearTide.Web.Pages.Patterns;

/// <summary>A starting pattern before it is opened: what it says, its diagram, curves and equations.</summary>
public sealed class PatternModel(StudyStore studies, StudyLibrary library, SettingsStore settings) : PageModel
{
    private const double CurvesWidth = 480,
        CurvesHeight = 250;

    public string Key { get; private set; } = "";

    public StudyDocument Pattern { get; private set; } = null!;

    public ShelfPicture Picture { get; private set; } = null!;

    public IReadOnlyList<Equation> Lines { get; private set; } = [];

    /// <summary>The study that it may be added to, where one asked for it.</summary>
    [BindProperty(Name = "to", SupportsGet = true)]
    public string? To { get; set; }

    public StudyState? Study { get; private set; }

    public string? Notice { get; private set; }

    public string NewTitle { get; private set; } = "";

    public IActionResult OnGet(string key)
    {
        if (!library.Patterns.TryGetValue(key, out var pattern))
            return NotFound();
        (Key, Pattern, Picture, Lines) = (key, pattern, ShelfPictures.Draw(pattern, CurvesWidth, CurvesHeight), Equations.Of(pattern));
        if (NewTitle.Length == 0)
            NewTitle = pattern.Title;
        if (!string.IsNullOrEmpty(To))
            Study = studies.Load(To);
        return Page();
    }

    /// <summary>A new study from the pattern.</summary>
    public IActionResult OnPost(string key, string? title)
    {
        if (!library.Patterns.TryGetValue(key, out var pattern))
            return NotFound();
        NewTitle = title?.Trim() ?? "";
        var begun = settings.Load().Begin(pattern);
        var result = new SetQuestion(NewTitle, begun.Question, begun.Description, string.Join(",", begun.Tags)).Apply(begun);
        return result.Document is { } document
            ? RedirectToPage("/Studies/Build", new { id = studies.Add(document) })
            : Refuse(key, result.Refusal!);
    }

    /// <summary>The pattern's parts added to a study, with their times in its unit.</summary>
    public IActionResult OnPostAdd(string key, long version)
    {
        if (!library.Patterns.TryGetValue(key, out var pattern) || studies.Load(To ?? "") is not { } study)
            return NotFound();
        var result = studies.Apply(study.Id, version, new AddCopies(PartSelection.Whole(pattern, study.Document.TimeUnit), 40, 160));
        return result.Outcome switch
        {
            SaveOutcome.Saved => RedirectToPage("/Studies/Build", new { id = study.Id }),
            SaveOutcome.Stale => Refuse(
                key,
                $"{study.Document.Title} was changed elsewhere meanwhile ({result.LastChange}). Add the pattern again if it still fits."
            ),
            _ => Refuse(key, result.Refusal?.Refusal ?? "This study is no longer on the shelf."),
        };
    }

    private IActionResult Refuse(string key, string sentence)
    {
        Notice = sentence;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return OnGet(key);
    }
}
