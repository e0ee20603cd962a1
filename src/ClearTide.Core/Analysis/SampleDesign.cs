using ClearTide.Core.Sampling;

namespace ClearTide.Core.Analysis;

/// <summary>
/// Points in the unit cube by Latin hypercube sampling: each coordinate has one point in each of n equal parts (McKay, Beckman and Conover,
/// Technometrics 21, 1979, pp. 239–245).
/// </summary>
public static class SampleDesign
{
    /// <summary>One sample of n points; the same for the same seed and purpose.</summary>
    /// <param name="n">Number of points, at least 1.</param>
    /// <param name="k">Number of coordinates, at least 1.</param>
    /// <param name="seed">The seed of the study.</param>
    /// <param name="purpose">Sets the stream apart from others of the same seed.</param>
    /// <returns>Row by row, n points of k coordinates.</returns>
    public static double[,] LatinHypercube(int n, int k, long seed, string purpose)
    {
        var points = new double[n, k];
        for (var column = 0; column < k; column++)
        {
            var stream = new RandomStream(seed, column, purpose, "order");
            var order = Enumerable.Range(0, n).ToArray();
            for (var row = n - 1; row > 0; row--)
            {
                var other = (int)(stream.NextUniform() * (row + 1));
                (order[row], order[other]) = (order[other], order[row]);
            }
            for (var row = 0; row < n; row++)
                points[row, column] = (order[row] + stream.NextUniform()) / n;
        }
        return points;
    }
}
