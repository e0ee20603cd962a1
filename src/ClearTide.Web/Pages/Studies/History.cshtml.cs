using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Storage;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>The history of a study: its steps in words, to be gone back to, named, and compared two by two.</summary>
public sealed class HistoryModel(StudyStore studies, StudyLibrary library, StudyHistory history) : StudyPage(studies, library)
{
    /// <summary>More than this many are listed on asking.</summary>
    private const int Shown = 200;

    public override Step Step => Step.Build;

    [BindProperty(SupportsGet = true)]
    public bool All { get; set; }

    [BindProperty(SupportsGet = true)]
    public long? Before { get; set; }

    [BindProperty(SupportsGet = true)]
    public long? After { get; set; }

    public IReadOnlyList<RevisionEntry> Entries { get; private set; } = [];

    public bool HasMore { get; private set; }

    public IReadOnlyList<PartDifference>? Differences { get; private set; }

    public void OnGet()
    {
        Read();
        if (Before is not { } first || After is not { } second)
            return;
        if (history.Document(State.Id, first) is { } before && history.Document(State.Id, second) is { } after)
            Differences = DocumentComparison.Of(before, after);
        else
            Say("One of these revisions is not in the history. Choose two from the list.", StatusCodes.Status404NotFound);
    }

    public IActionResult OnPostJump(long version, long number) => Back(TakeUp(Jump(version, number)));

    public IActionResult OnPostName(long number, string? name)
    {
        var refusal = history.Name(State.Id, number, name ?? "");
        if (refusal is not null)
            Say(refusal);
        return Back(refusal is null);
    }

    private IActionResult Back(bool done)
    {
        if (done)
            return RedirectToPage(new { id = State.Id, all = All ? "true" : null });
        Read();
        return Page();
    }

    private void Read()
    {
        var entries = history.Entries(State.Id, All ? int.MaxValue : Shown + 1);
        HasMore = !All && entries.Count > Shown;
        Entries = HasMore ? [.. entries.Take(Shown)] : entries;
    }

    protected override IActionResult Moved(SaveResult result) => Back(TakeUp(result));
}
