namespace ClearTide.Core.Expressions;

/// <summary>
/// Slopes at points through which a cubic Hermite curve goes without leaving the range of its neighbours: none at a turning point, else
/// the weighted harmonic mean of the chords on both sides (Fritsch and Butland, SIAM J. Sci. Stat. Comput. 5, 1984, pp. 300–304). At
/// the ends it is the slope of the chord.
/// </summary>
internal static class MonotoneSlopes
{
    /// <summary>One slope for each point; zero for a single one.</summary>
    /// <param name="x">Places, in rising order.</param>
    /// <param name="y">Values, one for each place.</param>
    public static double[] Of(double[] x, double[] y)
    {
        var n = x.Length;
        var slopes = new double[n];
        if (n < 2)
            return slopes;
        var chords = new double[n - 1];
        for (var k = 0; k < n - 1; k++)
            chords[k] = (y[k + 1] - y[k]) / (x[k + 1] - x[k]);
        (slopes[0], slopes[n - 1]) = (chords[0], chords[n - 2]);
        for (var k = 1; k < n - 1; k++)
        {
            if (chords[k - 1] * chords[k] <= 0)
                continue;
            var (left, right) = (x[k] - x[k - 1], x[k + 1] - x[k]);
            // Weighted harmonic mean of the chords on both sides.
            var (a, b) = (2 * right + left, right + 2 * left);
            slopes[k] = (a + b) / (a / chords[k - 1] + b / chords[k]);
        }
        return slopes;
    }
}
