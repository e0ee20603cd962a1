using ClearTide.Core.Model;

namespace ClearTide.Core.Ensembles;

/// <summary>What a run by chance comes to, by its values at output times.</summary>
internal static class SampledOutcome
{
    /// <param name="column">At the times.</param>
    /// <param name="times">Ascending.</param>
    /// <param name="level">What a time above a level or a crossing is about.</param>
    /// <param name="from">What lies before is not looked at.</param>
    /// <returns>Not a number where the run has no such outcome.</returns>
    /// <exception cref="ArgumentException">It is an outcome of smooth curves; the message says what to choose.</exception>
    public static double Of(
        IReadOnlyList<double> column,
        IReadOnlyList<double> times,
        OutcomeKind kind,
        double level = 0,
        double from = double.NegativeInfinity
    )
    {
        var first = 0;
        while (first + 1 < column.Count && times[first] < from)
            first++;
        var (peak, at, least, total, above, crossing) = (double.NegativeInfinity, 0.0, double.PositiveInfinity, 0.0, 0.0, double.NaN);
        for (var row = first; row < column.Count; row++)
        {
            var value = column[row];
            if (value > peak)
                (peak, at) = (value, times[row]);
            least = Math.Min(least, value);
            if (row == first)
                continue;
            var (h, before) = (times[row] - times[row - 1], column[row - 1]);
            total += 0.5 * h * (value + before);
            above += before > level ? h : 0;
            if (double.IsNaN(crossing) && (before < level) != (value < level))
                crossing = times[row];
        }
        return kind switch
        {
            OutcomeKind.Maximum => peak,
            OutcomeKind.MaximumTime => at,
            OutcomeKind.Final => column[^1],
            OutcomeKind.Initial => column[first],
            OutcomeKind.Minimum => least,
            OutcomeKind.Mean => total / (times[^1] - times[first]),
            OutcomeKind.Total => total,
            OutcomeKind.TimeAbove => above,
            OutcomeKind.FirstCrossing => crossing,
            _ => throw new ArgumentException(
                "A doubling time or a half-life is that of a smooth curve. By chance choose a peak, a time, a total or a level."
            ),
        };
    }
}
