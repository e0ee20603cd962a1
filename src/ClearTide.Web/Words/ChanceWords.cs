using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;

namespace ClearTide.Web.Words;

/// <summary>An outcome over runs by chance, in words and as bars.</summary>
public static class ChanceWords
{
    /// <summary>A bar of a histogram.</summary>
    public sealed record Bar(double From, double To, int Count);

    public static string Of(ChanceOutcomes found, double? limit)
    {
        var words = $"{Runs(found)}. ";
        if (found.Values.IsEmpty)
            return words + "None of them has this outcome: what it asks for never comes.";
        var ends = found.Quantiles(0.05, 0.5, 0.95);
        words +=
            $"Half are below {NumberWords.Grouped(ends[1], 4)}, nine in ten between {NumberWords.Grouped(ends[0], 4)} and "
            + $"{NumberWords.Grouped(ends[2], 4)}.";
        if (found.Without > 0)
            words += $" {found.Without:N0} {(found.Without == 1 ? "run has" : "runs have")} no such outcome: what it asks for never comes.";
        if (limit is not { } above)
            return words;
        var share = found.Above(above);
        return words
            + $" Above {NumberWords.Grouped(above, 6)} in {Percent(share.Share)} of the runs "
            + $"({Percent(share.Low)} to {Percent(share.High)} at 95 %).";
    }

    /// <summary>In how many runs something is true.</summary>
    public static string OfStatement(ChanceOutcomes found)
    {
        var share = found.Above(0.5);
        return $"True in {Percent(share.Share)} of {Runs(found)} ({Percent(share.Low)} to {Percent(share.High)} at 95 %).";
    }

    private static string Runs(ChanceOutcomes found) =>
        $"{found.Runs:N0} runs by chance{(found.Method == ChanceMethod.Leap ? ", many units at a time" : "")}";

    private static string Percent(double share) => $"{100 * share:0.#} %";

    /// <summary>Bars of even width over all values.</summary>
    /// <param name="values">Ascending.</param>
    public static IReadOnlyList<Bar> Bars(IReadOnlyList<double> values, int most)
    {
        var bars = Histogram.Of([.. values.Select(value => (value, 1L))], most);
        return [.. bars.Counts.Select((count, k) => new Bar(bars.Low + k * bars.Width, bars.Low + (k + 1) * bars.Width, (int)count))];
    }
}
