using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Simulation;

/// <summary>
/// The polynomial of degree 4 through the values at the nodes of a <see cref="InterpolantSegment"/>, by the powers of the place from 0 to
/// 1.
/// </summary>
internal readonly struct Quartic
{
    /// <summary>
    /// Coefficients of the powers for the value at each node: the inverse of the Vandermonde matrix of the nodes, row by row.
    /// </summary>
    private static readonly double[] Inverse = Powers();

    private readonly double _c0,
        _c1,
        _c2,
        _c3,
        _c4;

    /// <param name="values">The values at the five nodes.</param>
    public Quartic(ReadOnlySpan<double> values)
    {
        var (v0, v1, v2, v3, v4) = (values[0], values[1], values[2], values[3], values[4]);
        var m = Inverse;
        _c0 = v0;
        _c1 = m[5] * v0 + m[6] * v1 + m[7] * v2 + m[8] * v3 + m[9] * v4;
        _c2 = m[10] * v0 + m[11] * v1 + m[12] * v2 + m[13] * v3 + m[14] * v4;
        _c3 = m[15] * v0 + m[16] * v1 + m[17] * v2 + m[18] * v3 + m[19] * v4;
        _c4 = m[20] * v0 + m[21] * v1 + m[22] * v2 + m[23] * v3 + m[24] * v4;
    }

    public double At(double s) => (((_c4 * s + _c3) * s + _c2) * s + _c1) * s + _c0;

    /// <summary>The derivative by the place.</summary>
    public double Slope(double s) => ((4 * _c4 * s + 3 * _c3) * s + 2 * _c2) * s + _c1;

    /// <summary>The integral from 0 to a place.</summary>
    public double Integral(double s) => ((((_c4 / 5 * s + _c3 / 4) * s + _c2 / 3) * s + _c1 / 2) * s + _c0) * s;

    private static double[] Powers()
    {
        var inverse = Matrix<double>
            .Build.Dense(InterpolantSegment.NodeCount, InterpolantSegment.NodeCount, (row, power) =>
                Math.Pow(InterpolantSegment.Nodes[row], power)
            )
            .Inverse();
        return
        [
            .. Enumerable
                .Range(0, InterpolantSegment.NodeCount * InterpolantSegment.NodeCount)
                .Select(k => inverse[k / InterpolantSegment.NodeCount, k % InterpolantSegment.NodeCount]),
        ];
    }
}
