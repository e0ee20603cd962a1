using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Interventions;

/// <summary>Turns a scenario's measures into what is laid over a run.</summary>
internal static class MeasurePlan
{
    private static readonly List<MeasureKind> Order = [MeasureKind.Set, MeasureKind.Scale, MeasureKind.Shift];

    /// <summary>Measures act where their windows overlap the future; before <paramref name="now"/> a scenario is the baseline.</summary>
    /// <param name="scenario">Its measures.</param>
    /// <param name="network">The model that the plan is laid over.</param>
    /// <param name="now">Where the future begins, or negative infinity.</param>
    /// <exception cref="ArgumentException">A measure's value is no longer in the model; the message says so.</exception>
    public static Plan Of(Scenario scenario, ReactionNetwork network, double now)
    {
        var acting = scenario.Measures.Select(measure => (Measure: measure, Index: network.IndexOf(measure.Address))).ToList();
        foreach (var (measure, index) in acting)
        {
            if (index < 0)
                throw new ArgumentException(
                    $"The measure “{measure.Label}” changes {measure.Address}, which is no longer a value of the model. Choose "
                        + "another value for it."
                );
        }
        PlannedChange At(double time) =>
            new(
                time,
                [
                    // Where measures of one value overlap it is set first, then scaled, then shifted.
                    .. acting
                        .Where(one => time >= Math.Max(one.Measure.From, now) && time < one.Measure.Until)
                        .OrderBy(one => Order.IndexOf(one.Measure.Kind))
                        .Select(one =>
                            one.Measure.Kind switch
                            {
                                MeasureKind.Set => new ValueChange(one.Index, 0, one.Measure.Factor),
                                MeasureKind.Shift => new(one.Index, 1, one.Measure.Factor),
                                _ => new(one.Index, one.Measure.Factor),
                            }
                        ),
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
