using ClearTide.Web.Guide;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace ClearTide.Web.Pages.Guide;

/// <summary>The user guide: a page at a time, or what a search finds in it.</summary>
public sealed class GuideModel(UserGuide guide) : PageModel
{
    /// <summary>All pages, in the order of reading.</summary>
    public IReadOnlyList<GuidePage> Pages => guide.Pages;

    public GuidePage Shown { get; private set; } = null!;

    /// <summary>Words that are looked for in all pages.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Search { get; set; }

    public IReadOnlyList<GuideHit> Hits { get; private set; } = [];

    /// <summary>The page before the one that is shown, or null.</summary>
    public GuidePage? Before => Beside(-1);

    /// <summary>The page after the one that is shown, or null.</summary>
    public GuidePage? After => Beside(1);

    public IActionResult OnGet(string? key)
    {
        if ((key is null ? guide.Pages[0] : guide.Find(key)) is not { } page)
            return NotFound();
        Shown = page;
        Hits = guide.Search(Search ?? "");
        return Page();
    }

    private GuidePage? Beside(int by)
    {
        var at = guide.Pages.ToList().IndexOf(Shown) + by;
        return at >= 0 && at < guide.Pages.Count ? guide.Pages[at] : null;
    }
}
