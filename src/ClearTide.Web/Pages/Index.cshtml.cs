using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Sbml;
using ClearTide.Formats.Studies;
using ClearTide.Storage;
using ClearTide.Web.Diagram;
using ClearTide.Web.Hosting;
using ClearTide.Web.Studies;
using ClearTide.Web.Thumbnails;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace ClearTide.Web.Pages;

/// <summary>The shelf: all studies, and the way to a new one.</summary>
public sealed class IndexModel(
    StudyStore studies,
    Shelf shelf,
    StudyLibrary library,
    SettingsStore settings,
    ShelfPictures pictures,
    PatternPictures patternPictures
) : PageModel
{
    public IReadOnlyList<(StudyListing Listing, ShelfPicture? Picture)> Studies { get; private set; } = [];

    /// <summary>The starting patterns that the search finds, by what they are about.</summary>
    public IEnumerable<IGrouping<string, (string Key, StudyDocument Pattern, DiagramModel Diagram)>> Patterns =>
        library
            .Patterns.Where(pattern => Shelf.Holds(pattern.Value, Search ?? ""))
            .Select(pattern => (pattern.Key, pattern.Value, patternPictures.Of(pattern.Key, pattern.Value)))
            .GroupBy(pattern => pattern.Value.Tags.FirstOrDefault() ?? "");

    /// <summary>Whether somebody is here who has not begun anything: the shelf holds no more than the demo studies.</summary>
    public bool IsNew => !Archived && string.IsNullOrWhiteSpace(Search) && PutAway == 0 && Studies.Count <= StudyLibrary.DemoStudies;

    /// <summary>Words that the studies shown all hold.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Search { get; set; }

    /// <summary>Whether the studies that were put away are shown.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Archived { get; set; }

    public int PutAway { get; private set; }

    public string? Notice { get; private set; }

    public string NewTitle { get; private set; } = "";

    /// <summary>The shelf is shown after this time at the latest; pictures that are not drawn yet come after it.</summary>
    private static readonly TimeSpan PicturesAreWaitedFor = TimeSpan.FromMilliseconds(200);

    public async Task OnGetAsync()
    {
        PutAway = shelf.Count(archived: true);
        var listings = shelf.List(Search ?? "", Archived);
        var drawn = listings.Select(listing => Picture(listing.Id, listing.Revision)).ToList();
        await Task.WhenAny(Task.WhenAll(drawn), Task.Delay(PicturesAreWaitedFor));
        Studies = [.. listings.Zip(drawn, (listing, picture) => (listing, picture.IsCompletedSuccessfully ? picture.Result : null))];
    }

    /// <summary>The picture of one study as it stands, when it is drawn: it may have been edited since the page was made.</summary>
    public async Task<IActionResult> OnGetPictureAsync(string id) =>
        shelf.RevisionOf(id) is { } revision ? Partial("_ShelfPicture", (id, (ShelfPicture?)await Picture(id, revision))) : NotFound();

    private Task<ShelfPicture> Picture(string id, long revision) => pictures.Of(id, revision, () => studies.Load(id)!.Document);

    public async Task<IActionResult> OnPostAsync(string? title)
    {
        NewTitle = title?.Trim() ?? "";
        // Who only wants to begin need not think of a title first; it can be changed beside it.
        var result = new SetQuestion(NewTitle.Length > 0 ? NewTitle : "Untitled study", "").Apply(settings.Load().Begin());
        return result.Document is { } document
            ? RedirectToPage("/Studies/Build", new { id = studies.Add(document) })
            : await Refuse(result.Refusal!);
    }

    public async Task<IActionResult> OnPostDuplicateAsync(string id) =>
        library.Duplicate(id) is not null ? Here() : await Refuse("This study is no longer on the shelf.");

    public async Task<IActionResult> OnPostArchiveAsync(string id) =>
        shelf.Archive(id, archived: true) ? Here() : await Refuse("This study is no longer on the shelf.");

    public async Task<IActionResult> OnPostRestoreAsync(string id) =>
        shelf.Archive(id, archived: false) ? Here() : await Refuse("This study is no longer on the shelf.");

    public async Task<IActionResult> OnPostDeleteAsync(string id) =>
        shelf.Delete(id) ? Here() : await Refuse("Only an archived study can be deleted, and this one is not in the archive.");

    public async Task<IActionResult> OnPostImport([FromForm] IFormFile? file)
    {
        if (file is null or { Length: 0 })
        {
            return await Refuse("Choose a file first: a study (*.study.json) or a model as SBML (*.xml, *.sbml).");
        }
        if (file.Length > UploadLimits.StudyBytes)
        {
            return await Refuse(
                $"{file.FileName} has {file.Length / 1e6:0.#} MB; a file that is imported has at most "
                    + $"{UploadLimits.StudyBytes / 1_000_000} MB."
            );
        }
        try
        {
            if (Path.GetExtension(file.FileName).ToLowerInvariant() is ".xml" or ".sbml")
                return ImportSbml(file);
            using var reader = new StreamReader(file.OpenReadStream());
            return RedirectToPage("/Studies/Build", new { id = library.Add(StudyFile.Read(await reader.ReadToEndAsync())) });
        }
        catch (Exception wrong) when (wrong is StudyFileException or SbmlException)
        {
            return await Refuse($"{file.FileName}: {wrong.Message}");
        }
    }

    /// <summary>A model that somebody else has written; its plates are arranged where the file does not say where they lie.</summary>
    private RedirectToPageResult ImportSbml(IFormFile file)
    {
        using var stream = file.OpenReadStream();
        var model = SbmlReader.Read(stream);
        var study = SbmlImport.Read(model, Path.GetFileNameWithoutExtension(file.FileName));
        var arrange = model.Species.All(species => species.Plate is null) && study.Compartments.Length > 1;
        return RedirectToPage("/Studies/Build", new { id = library.Add(new(study, [])), arrange = arrange ? "true" : null });
    }

    private RedirectToPageResult Here() => RedirectToPage(new { Search, archived = Archived ? "true" : null });

    private async Task<PageResult> Refuse(string sentence)
    {
        Notice = sentence;
        await OnGetAsync();
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
