using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Ensembles;

/// <summary>
/// Large numbers follow their mean (the law of large numbers), so that the mean-field model tells beforehand how many transitions a
/// replicate takes: one that cannot end is refused at once, and not after it has taken all that it may.
/// </summary>
internal static class ExpectedTransitions
{
    /// <summary>How many transitions a replicate takes; null where the model cannot be run without chance.</summary>
    /// <param name="model">The compiled model.</param>
    /// <param name="values">All parameters.</param>
    /// <param name="state">What a run starts with.</param>
    /// <param name="from">Where it begins, in the model's unit of time.</param>
    /// <param name="until">Where it ends.</param>
    public static double? Of(CompiledModel model, double[] values, double[] state, double from, double until)
    {
        var tally = new OutcomeTally(model.OutputCount, []);
        try
        {
            var grid = OutputTimes.Every(from, until, (until - from) / 100);
            Engines.Run(new(model, values, grid) { Start = state, ScaleToStart = true }, tally);
        }
        catch (SimulationException)
        {
            // A replicate finds the same, and tells it with its time.
            return null;
        }
        var network = model.Network;
        return Enumerable.Range(network.Amounts.Count, network.Flows.Count).Sum(column => Math.Abs(tally.Of(column).Integral));
    }

    /// <returns>Why a replicate would never end, in a sentence; null where it does.</returns>
    public static string? Refusal(CompiledModel model, double[] values, double[] state, double from, double until) =>
        Of(model, values, state, from, until) is not { } expected || expected <= NextReactionSimulator.MostTransitions
            ? null
            : $"Chance counts one by one, and a replicate would take about {NumberWords.About(expected)} transitions; "
                + $"{NextReactionSimulator.MostTransitions:N0} is the limit. Count in larger units, as in thousands of people, or "
                + "shorten the span.";
}
