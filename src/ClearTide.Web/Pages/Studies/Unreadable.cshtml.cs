using ClearTide.Storage;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace ClearTide.Web.Pages.Studies;

/// <summary>A study that is stored and cannot be read: why, and what can be done with it.</summary>
public sealed class UnreadableModel(StudyRescue rescue, StudyStore studies, Shelf shelf) : PageModel
{
    public string Id { get; private set; } = "";

    public StudyDamage Damage { get; private set; } = null!;

    /// <summary>What somebody who can help needs to know.</summary>
    public string Report =>
        $"Clear Tide {typeof(UnreadableModel).Assembly.GetName().Version?.ToString(3)}, study {Id}, revision {Damage.Revision}: "
        + $"{Damage.Why}";

    public IActionResult OnGet(string id)
    {
        if (rescue.Of(id) is not { } damage)
            return NotFound();
        if (damage.Why is null)
            return RedirectToPage("/Studies/Build", new { id });
        (Id, Damage) = (id, damage);
        return Page();
    }

    /// <summary>What is stored, as it is.</summary>
    public IActionResult OnGetRaw(string id) =>
        rescue.Of(id) is { } damage && rescue.Raw(id) is { } raw
            ? File(raw, "application/octet-stream", FileNames.Of(damage.Title, "unreadable.json"))
            : NotFound();

    public IActionResult OnPostArchive(string id) => shelf.Archive(id, archived: true) ? RedirectToPage("/Index") : NotFound();

    /// <summary>Shows the last revision that can be read. The one that cannot stays in the history.</summary>
    public IActionResult OnPostEarlier(string id)
    {
        if (rescue.Of(id) is not { Earlier: { } number } damage)
            return NotFound();
        studies.Jump(id, damage.Version, number);
        return RedirectToPage("/Studies/Build", new { id });
    }
}
