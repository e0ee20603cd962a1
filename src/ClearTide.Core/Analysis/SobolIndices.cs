using ClearTide.Core.Sampling;

namespace ClearTide.Core.Analysis;

/// <summary>The share of the variance of an outcome that belongs to one input by itself, and with all it acts together with, each with a
/// 95% interval.</summary>
/// <param name="Alone">First-order index.</param>
/// <param name="AloneLow">Lower end of the first-order index's interval.</param>
/// <param name="AloneHigh">Its upper end.</param>
/// <param name="InAll">Total index.</param>
/// <param name="InAllLow">Lower end of the total index's interval.</param>
/// <param name="InAllHigh">Its upper end.</param>
public sealed record SobolIndex(double Alone, double AloneLow, double AloneHigh, double InAll, double InAllLow, double InAllHigh);

/// <summary>
/// Variance-based sensitivity from pick-freeze samples: matrices A and B, and for each input A with one column of B. First-order indices
/// by Saltelli's
/// estimator, total indices by Jansen's (Saltelli et al., Computer Physics Communications 181, 2010, pp. 259–270, table 2, rows b and f);
/// intervals from
/// resampled rows (percentiles of a bootstrap).
/// </summary>
public sealed class SobolIndices
{
    private const int Resamples = 400;

    private readonly double[,] _a,
        _b;

    /// <param name="inputs">How many inputs there are.</param>
    /// <param name="rows">Rows of each matrix: the design has rows · (inputs + 2) points.</param>
    /// <param name="seed">Of the shift that is laid over the design.</param>
    public SobolIndices(int inputs, int rows, long seed)
    {
        (Inputs, Rows) = (inputs, rows);
        _a = SampleDesign.LatinHypercube(rows, inputs, seed, "sobol a");
        _b = SampleDesign.LatinHypercube(rows, inputs, seed, "sobol b");
    }

    /// <summary>How many values are varied.</summary>
    public int Inputs { get; }

    /// <summary>Rows of each of the two sample matrices.</summary>
    public int Rows { get; }

    /// <summary>Runs in all: both matrices, and one more for each value.</summary>
    public int Count => Rows * (Inputs + 2);

    /// <summary>The point of the unit cube with a number: first all of A, then all of B, then A with each column of B in turn.</summary>
    /// <param name="number">From 0 to one less than the number of points.</param>
    public double[] Point(int number)
    {
        var (block, row) = (number / Rows, number % Rows);
        var source = block == 1 ? _b : _a;
        var point = new double[Inputs];
        for (var k = 0; k < Inputs; k++)
            point[k] = block - 2 == k ? _b[row, k] : source[row, k];
        return point;
    }

    /// <summary>The indices from the outcomes at all points; rows of which any outcome is not a number are left out.</summary>
    /// <param name="outcomes">One for each point, in the order of their numbers.</param>
    /// <param name="seed">Of the resampling that gives intervals.</param>
    /// <returns>Null where fewer than ten rows are left, or the outcome does not vary.</returns>
    public IReadOnlyList<SobolIndex>? Of(ReadOnlySpan<double> outcomes, long seed)
    {
        var all = outcomes.ToArray();
        var rows = Enumerable
            .Range(0, Rows)
            .Where(row => Enumerable.Range(0, Inputs + 2).All(block => double.IsFinite(all[block * Rows + row])))
            .ToArray();
        if (rows.Length < 10)
            return null;
        // The mean is taken off first: it would cost digits in the products.
        var mean = rows.Average(row => 0.5 * (all[row] + all[Rows + row]));
        for (var k = 0; k < all.Length; k++)
            all[k] -= mean;
        var own = Estimate(all, rows);
        if (own is null)
            return null;
        var stream = new RandomStream(seed, 0, "sobol bootstrap", "rows");
        var (alone, inAll) = (new double[Inputs][], new double[Inputs][]);
        for (var k = 0; k < Inputs; k++)
            (alone[k], inAll[k]) = (new double[Resamples], new double[Resamples]);
        var picked = new int[rows.Length];
        for (var resample = 0; resample < Resamples; resample++)
        {
            for (var row = 0; row < rows.Length; row++)
                picked[row] = rows[(int)(stream.NextUniform() * rows.Length)];
            var again = Estimate(all, picked) ?? own;
            for (var k = 0; k < Inputs; k++)
                (alone[k][resample], inAll[k][resample]) = again[k];
        }
        return
        [
            .. Enumerable
                .Range(0, Inputs)
                .Select(k =>
                {
                    var (first, total) = (Quantiles.Of(alone[k], 0.025, 0.975), Quantiles.Of(inAll[k], 0.025, 0.975));
                    return new SobolIndex(own[k].Alone, first[0], first[1], own[k].InAll, total[0], total[1]);
                }),
        ];
    }

    private (double Alone, double InAll)[]? Estimate(double[] f, int[] rows)
    {
        double sum = 0,
            squares = 0;
        foreach (var row in rows)
        {
            sum += f[row] + f[Rows + row];
            squares += f[row] * f[row] + f[Rows + row] * f[Rows + row];
        }
        var n = 2.0 * rows.Length;
        var variance = squares / n - sum / n * (sum / n);
        if (!(variance > 0))
            return null;
        var indices = new (double, double)[Inputs];
        for (var k = 0; k < Inputs; k++)
        {
            double together = 0,
                apart = 0;
            foreach (var row in rows)
            {
                var (a, b, mixed) = (f[row], f[Rows + row], f[(k + 2) * Rows + row]);
                together += b * (mixed - a);
                apart += (a - mixed) * (a - mixed);
            }
            indices[k] = (together / rows.Length / variance, apart / (2.0 * rows.Length) / variance);
        }
        return indices;
    }
}
