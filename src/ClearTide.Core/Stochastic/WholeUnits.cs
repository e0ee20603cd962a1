using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>Rounds fractional amounts at random to whole units so that their total holds.</summary>
public static class WholeUnits
{
    /// <summary>Rounds the amounts of a state that are counted, and leaves the others.</summary>
    /// <inheritdoc cref="Round(Span{double}, double)"/>
    public static void Round(ReactionNetwork network, double[] state, double uniform)
    {
        int[] counted = [.. Enumerable.Range(0, network.States.Count).Where(k => Propensities.IsWhole(network.States[k]))];
        var amounts = Array.ConvertAll(counted, k => state[k]);
        Round(amounts, uniform);
        for (var k = 0; k < counted.Length; k++)
            state[counted[k]] = amounts[k];
    }

    /// <summary>
    /// Systematic rounding: one uniform number shifts the running totals, which are then rounded down. Each amount keeps its expectation
    /// and
    /// is off by less than one; a whole total stays the same (Madow, Ann. Math. Statist. 20, 1949, pp. 333–354). Negative amounts count
    /// as zero.
    /// </summary>
    /// <param name="amounts">Rounded in place; none below zero.</param>
    /// <param name="uniform">From 0 up to, but not, 1.</param>
    public static void Round(Span<double> amounts, double uniform)
    {
        var running = 0.0;
        var before = 0.0;
        for (var i = 0; i < amounts.Length; i++)
        {
            // The last total is a whole number up to rounding errors; they must not turn into a missing unit.
            running += Math.Max(0, amounts[i]);
            var nearest = Math.Round(running);
            var exact = Math.Abs(running - nearest) < 1e-7 * Math.Max(1, running) ? nearest : running;
            var after = Math.Floor(exact + uniform);
            amounts[i] = after - before;
            before = after;
        }
    }
}
