using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Web.Curves;

/// <summary>What chance makes of curves, for charts: bands and a few runs, by the id of each part.</summary>
public static class FanData
{
    /// <summary>Runs by chance behind curves.</summary>
    private const int Runs = 200;

    /// <param name="made">Makes a fan of so many runs within the time that there is.</param>
    public static object Of(LoweredModel lowered, Func<int, ChanceFan> made)
    {
        ChanceFan fan;
        try
        {
            fan = made(Runs);
        }
        catch (SimulationException failure)
        {
            fan = new([], [], [], RunFailure.Say(failure, lowered));
        }
        var places = fan.Curves.Select((curve, k) => (curve, k)).ToDictionary(one => one.curve, one => one.k);
        return new
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
        };
    }
}
