using System.Globalization;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Web.Curves;
using ClearTide.Web.Hosting;
using ClearTide.Web.Studies;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>The ledger's view of the run: what it came to, what it keeps, and what its step is good for.</summary>
public sealed partial class BuildModel
{
    /// <summary>The part whose outcomes are shown in full, or empty.</summary>
    [BindProperty(Name = "of", SupportsGet = true)]
    public string? ReportOf { get; set; }

    /// <summary>The level that it is looked at against, as typed.</summary>
    [BindProperty(Name = "level", SupportsGet = true)]
    public string? ReportLevel { get; set; }

    /// <summary>The digits that a fixed step is asked for.</summary>
    [BindProperty(Name = "digits", SupportsGet = true)]
    public int Digits { get; set; }

    public double? Level => TypedNumber.Read(ReportLevel);

    public bool LevelIsWrong => !string.IsNullOrWhiteSpace(ReportLevel) && Level is null;

    /// <summary>A point of a chart that was clicked.</summary>
    public IActionResult OnPostPoint(long version, string? observation, int row) => Changed(LeavePoint(version, observation, row));

    /// <summary>What chance makes of the curves.</summary>
    public IActionResult OnPostChance() =>
        new LineAnswer(
            FanData.Of(Lowered(), runs =>
                InTime(WorkTime.Run, cancel => ChanceFan.Of(Lowered(), runs, cancel), why => new ChanceFan([], [], [], why))
            )
        );

    public RunReport Report() =>
        ReportInTime(Run, Run.Lowered, Level is { } level && !string.IsNullOrEmpty(ReportOf) ? new(ReportOf, level) : null);

    public StepCheck StepCheck() => StepsInTime(Run, Digits == 0 ? 4 : Digits);
}
