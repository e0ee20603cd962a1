using ClearTide.Core.Models;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Scenarios;

/// <summary>Lays a scenario's measures over a model's values: a schedule of all values over time.</summary>
public static class MeasureSchedule
{
    /// <summary>Measures act where their windows overlap the future; before <paramref name="now"/> a scenario is the baseline.</summary>
    /// <param name="now">Where the future begins, or negative infinity.</param>
    /// <exception cref="ArgumentException">A measure's value is no longer in the model; the message says so.</exception>
    public static ParameterSchedule Of(Scenario scenario, GeneralForm form, double[] values, double now)
    {
        var acting = scenario.Measures.Select(measure => (Measure: measure, Index: form.IndexOf(measure.Address))).ToList();
        foreach (var (measure, index) in acting)
        {
            if (index < 0) throw new ArgumentException($"The measure “{measure.Label}” scales {measure.Address}, which is no longer a value of the model. Choose another value for it.");
        }
        double[] At(double time)
        {
            var changed = (double[])values.Clone();
            foreach (var (measure, index) in acting)
            {
                if (time >= Math.Max(measure.From, now) && time < measure.Until) changed[index] *= measure.Factor;
            }
            return changed;
        }
        var times = acting.SelectMany(pair => new[] { Math.Max(pair.Measure.From, now), pair.Measure.Until })
            .Where(time => time >= now && double.IsFinite(time)).Distinct().Order().ToList();
        return new(values, [.. times.Select(time => (time, At(time)))]);
    }
}
