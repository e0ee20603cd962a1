namespace ClearTide.Core.Analysis;

/// <summary>A family of curves as bands: at each time the values below which a share of the curves lie.</summary>
/// <param name="Levels">Shares in ascending order; between the first and the last, the second and the last but one, and so on lie the
/// bands.</param>
/// <param name="Lines">For each level a value at each time; not a number where no curve has one.</param>
public sealed record FamilyBands(IReadOnlyList<double> Levels, IReadOnlyList<double[]> Lines)
{
    private static readonly double[] Usual = [0, 0.1, 0.25, 0.5, 0.75, 0.9, 1];

    /// <summary>All of the curves, the middle eight tenths, the middle half, and the median.</summary>
    /// <param name="curves">Curves at the same times; failed ones are left out before.</param>
    /// <remarks>Quantiles by linear interpolation between order statistics (definition 7 of Hyndman and Fan, The American Statistician
    /// 50, 1996).</remarks>
    public static FamilyBands Of(IReadOnlyList<double[]> curves)
    {
        var times = curves.Count == 0 ? 0 : curves[0].Length;
        var lines = Usual.Select(_ => new double[times]).ToArray();
        for (var row = 0; row < times; row++)
        {
            var values = curves.Select(curve => curve[row]).Where(double.IsFinite).Order().ToArray();
            for (var level = 0; level < Usual.Length; level++)
                lines[level][row] = At(values, Usual[level]);
        }
        return new(Usual, lines);
    }

    private static double At(double[] sorted, double share)
    {
        if (sorted.Length == 0)
            return double.NaN;
        var place = share * (sorted.Length - 1);
        var below = (int)Math.Floor(place);
        return below + 1 >= sorted.Length ? sorted[^1] : sorted[below] + (place - below) * (sorted[below + 1] - sorted[below]);
    }
}
