using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Interventions;

/// <summary>Turns a scenario's measures into what is laid over a run.</summary>
internal static class MeasurePlan
{
    /// <summary>Measures act where their windows overlap the future; before <paramref name="now"/> a scenario is the baseline.</summary>
    /// <param name="now">Where the future begins, or negative infinity.</param>
    /// <exception cref="ArgumentException">A measure's value is no longer in the model; the message says so.</exception>
    public static Plan Of(Scenario scenario, ReactionNetwork network, double now)
    {
        var acting = scenario.Measures.Select(measure => (Measure: measure, Index: network.IndexOf(measure.Address))).ToList();
        foreach (var (measure, index) in acting)
        {
            if (index < 0)
                throw new ArgumentException(
                    $"The measure “{measure.Label}” scales {measure.Address}, which is no longer a value of the model. Choose "
                        + "another value for it."
                );
        }
        PlannedChange At(double time) =>
            new(
                time,
                [
                    .. acting
                        .Where(one => time >= Math.Max(one.Measure.From, now) && time < one.Measure.Until)
                        .Select(one => new ValueChange(one.Index, one.Measure.Factor)),
                ]
            );
        var times = acting
            .SelectMany(one => new[] { Math.Max(one.Measure.From, now), one.Measure.Until })
            .Where(time => time >= now && double.IsFinite(time))
            .Distinct()
            .Order();
        return new([.. times.Select(At)]);
    }
}
