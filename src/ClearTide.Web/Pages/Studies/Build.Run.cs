using System.Globalization;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Web.Hosting;
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

    /// <summary>Runs by chance behind the curves.</summary>
    private const int ChanceRuns = 200;

    /// <summary>What chance makes of the curves: bands and a few runs, by the id of each compartment.</summary>
    /// <summary>A point of a chart that was clicked.</summary>
    public IActionResult OnPostPoint(long version, string? observation, int row) => Changed(LeavePoint(version, observation, row));

    public IActionResult OnPostChance()
    {
        ChanceFan fan;
        try
        {
            fan = InTime(WorkTime.Run, cancel => ChanceFan.Of(Lowered(), ChanceRuns, cancel), why => new ChanceFan([], [], [], why));
        }
        catch (SimulationException failure)
        {
            fan = new([], [], [], RunFailure.Say(failure, Lowered()));
        }
        var places = fan.Curves.Select((curve, k) => (curve, k)).ToDictionary(one => one.curve, one => one.k);
        return new JsonResult(
            new
            {
                times = fan.Times,
                words = fan.Words,
                bands = fan.Curves.ToDictionary(
                    curve => curve.PartId,
                    curve => new
                    {
                        p5 = curve.Bands.Select(band => band.P5),
                        p25 = curve.Bands.Select(band => band.P25),
                        p75 = curve.Bands.Select(band => band.P75),
                        p95 = curve.Bands.Select(band => band.P95),
                        runs = fan.Runs.Select(run => run[places[curve]]),
                    }
                ),
            }
        );
    }

    public RunReport Report() =>
        ReportInTime(Run, Run.Lowered, Level is { } level && !string.IsNullOrEmpty(ReportOf) ? new(ReportOf, level) : null);

    public StepCheck StepCheck() => StepsInTime(Run, Digits == 0 ? 4 : Digits);
}
