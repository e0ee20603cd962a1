using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Web.Curves;

/// <summary>What chance makes of curves, for charts: bands and a few runs, by the id of each part.</summary>
public static class FanData
{
    /// <summary>Runs by chance behind curves: some at once, so that there is something to see, then more.</summary>
    private static readonly int[] Runs = [32, 200];

    /// <param name="made">Makes a fan of so many runs within the time that there is.</param>
    /// <returns>What the first runs make of them, then what all do.</returns>
    public static IEnumerable<object> Of(LoweredModel lowered, Func<int, ChanceFan> made)
    {
        foreach (var runs in Runs)
        {
            var fan = Of(lowered, () => made(runs));
            yield return Shown(fan);
            // What cannot be shown of few cannot be of more.
            if (fan.Curves.Count == 0)
                yield break;
        }
    }

    private static ChanceFan Of(LoweredModel lowered, Func<ChanceFan> made)
    {
        try
        {
            return made();
        }
        catch (SimulationException failure)
        {
            return new([], [], [], RunFailure.Say(failure, lowered));
        }
    }

    private static object Shown(ChanceFan fan)
    {
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
