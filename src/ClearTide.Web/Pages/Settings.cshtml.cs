using System.Globalization;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Storage;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace ClearTide.Web.Pages;

/// <summary>What somebody's new studies begin with: unit of time, span, units and spellings.</summary>
public sealed class SettingsModel(SettingsStore settings) : PageModel
{
    /// <summary>The version of the application.</summary>
    public static string Version { get; } = typeof(SettingsModel).Assembly.GetName().Version?.ToString(3) ?? "";

    public string TimeUnit { get; private set; } = "";

    public string End { get; private set; } = "";

    public string Units { get; private set; } = "";

    public string? Notice { get; private set; }

    public bool Kept { get; private set; }

    public void OnGet() => Show(settings.Load());

    public IActionResult OnPost(string? timeUnit, string? end, string? units)
    {
        (TimeUnit, End, Units) = (timeUnit ?? "", end ?? "", units ?? "");
        var (read, problem) = StudyDefaults.Read(TimeUnit, End, Units);
        if (read is null)
        {
            Notice = problem;
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        settings.Save(read);
        Show(read);
        Kept = true;
        return Page();
    }

    private void Show(StudyDefaults kept)
    {
        TimeUnit = kept.TimeUnit;
        End = kept.End.ToString(CultureInfo.InvariantCulture);
        Units = string.Join("\n", kept.Units.Select(rule => rule.Meaning.Length == 0 ? rule.Word : $"{rule.Word} = {rule.Meaning}"));
    }
}
