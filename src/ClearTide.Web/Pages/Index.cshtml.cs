using ClearTide.Core.Models;
using ClearTide.Formats.Sbml;
using ClearTide.Formats.Studies;
using ClearTide.Storage;
using ClearTide.Web.Hosting;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace ClearTide.Web.Pages;

/// <summary>The shelf: all studies, and the way to a new one.</summary>
public sealed class IndexModel(StudyStore studies, Shelf shelf, StudyLibrary library, SettingsStore settings, ShelfPictures pictures) : PageModel
{
    public IReadOnlyList<(StudyListing Listing, ShelfPicture Picture)> Studies { get; private set; } = [];

    public IReadOnlyDictionary<string, StudyDocument> Patterns => library.Patterns;

    /// <summary>Words that the studies shown all hold.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Search { get; set; }

    /// <summary>Whether the studies that were put away are shown.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Archived { get; set; }

    public int PutAway { get; private set; }

    public string? Notice { get; private set; }

    public string NewTitle { get; private set; } = "";

    public void OnGet()
    {
        PutAway = shelf.Count(archived: true);
        Studies = [.. shelf.List(Search ?? "", Archived).Select(listing => (listing, pictures.Of(listing.Id, listing.Revision, () => studies.Load(listing.Id)!.Document)))];
    }

    public IActionResult OnPost(string? title)
    {
        NewTitle = title?.Trim() ?? "";
        var result = new SetQuestion(NewTitle, "").Apply(settings.Load().Begin());
        return result.Document is { } document ? RedirectToPage("/Studies/Build", new { id = studies.Add(document) }) : Refuse(result.Refusal!);
    }

    public IActionResult OnPostDuplicate(string id) => library.Duplicate(id) is not null ? Here() : Refuse("This study is no longer on the shelf.");

    public IActionResult OnPostArchive(string id) => shelf.Archive(id, archived: true) ? Here() : Refuse("This study is no longer on the shelf.");

    public IActionResult OnPostRestore(string id) => shelf.Archive(id, archived: false) ? Here() : Refuse("This study is no longer on the shelf.");

    public IActionResult OnPostDelete(string id) => shelf.Delete(id) ? Here() : Refuse("Only a study that was put away can be deleted, and this one is not there.");

    public async Task<IActionResult> OnPostImport([FromForm] IFormFile? file)
    {
        if (file is null or { Length: 0 }) return Refuse("Choose a file first: a study (*.study.json) or a model as SBML (*.xml, *.sbml).");
        if (file.Length > UploadLimits.StudyBytes) return Refuse($"{file.FileName} has {file.Length / 1e6:0.#} MB; a file that is imported has at most {UploadLimits.StudyBytes / 1_000_000} MB.");
        try
        {
            if (Path.GetExtension(file.FileName).ToLowerInvariant() is ".xml" or ".sbml") return ImportSbml(file);
            using var reader = new StreamReader(file.OpenReadStream());
            return RedirectToPage("/Studies/Build", new { id = library.Add(StudyFile.Read(await reader.ReadToEndAsync())) });
        }
        catch (Exception wrong) when (wrong is StudyFileException or SbmlException)
        {
            return Refuse($"{file.FileName}: {wrong.Message}");
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

    private PageResult Refuse(string sentence)
    {
        Notice = sentence;
        OnGet();
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
