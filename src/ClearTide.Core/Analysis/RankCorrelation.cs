using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Analysis;

/// <summary>
/// Partial rank correlation: how an outcome rises or falls with one input once the others are taken out, by ranks, from -1 to 1 (Marino
/// et al., Journal of
/// Theoretical Biology 254, 2008, pp. 178–196, section 3.2). Sound where the outcome goes one way with each input.
/// </summary>
public static class RankCorrelation
{
    /// <param name="inputs">Row by row, one column for each input.</param>
    /// <param name="outcomes">One for each row; rows that are not a number are left out.</param>
    /// <returns>One for each input; null where there are too few rows, or inputs or outcome do not vary.</returns>
    public static double[]? Partial(double[,] inputs, ReadOnlySpan<double> outcomes)
    {
        var k = inputs.GetLength(1);
        var rows = new List<int>();
        for (var row = 0; row < outcomes.Length; row++)
        {
            if (double.IsFinite(outcomes[row]))
                rows.Add(row);
        }
        if (rows.Count < k + 5)
            return null;
        var ranks = Matrix<double>.Build.Dense(rows.Count, k + 1);
        var column = new double[rows.Count];
        for (var j = 0; j <= k; j++)
        {
            for (var row = 0; row < rows.Count; row++)
                column[row] = j < k ? inputs[rows[row], j] : outcomes[rows[row]];
            if (Ranked(column) is not { } ranked)
                return null;
            ranks.SetColumn(j, ranked);
        }
        var correlation = ranks.TransposeThisAndMultiply(ranks);
        if (correlation.ConditionNumber() > 1e12)
            return null;
        var inverse = correlation.Inverse();
        return [.. Enumerable.Range(0, k).Select(j => -inverse[j, k] / Math.Sqrt(inverse[j, j] * inverse[k, k]))];
    }

    /// <summary>Ranks with mean zero and length one, ties sharing the mean of theirs; null where all are equal.</summary>
    private static double[]? Ranked(double[] values)
    {
        var order = Enumerable.Range(0, values.Length).OrderBy(row => values[row]).ToArray();
        var ranks = new double[values.Length];
        for (var first = 0; first < order.Length; )
        {
            var last = first;
            while (last + 1 < order.Length && values[order[last + 1]] == values[order[first]])
                last++;
            for (var place = first; place <= last; place++)
                ranks[order[place]] = 0.5 * (first + last) - 0.5 * (values.Length - 1);
            first = last + 1;
        }
        var length = Math.Sqrt(ranks.Sum(rank => rank * rank));
        if (!(length > 0))
            return null;
        for (var row = 0; row < ranks.Length; row++)
            ranks[row] /= length;
        return ranks;
    }
}
