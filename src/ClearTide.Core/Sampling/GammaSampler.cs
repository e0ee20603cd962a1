using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Sampling;

/// <summary>An exact sampler of the gamma law (Marsaglia and Tsang, ACM Trans. Math. Softw. 26, 2000, pp. 363–372; section 6 for shapes
/// below one).</summary>
internal static class GammaSampler
{
    /// <summary>A gamma variate with a scale of one.</summary>
    /// <param name="stream">Where the random numbers come from; it moves on.</param>
    /// <param name="shape">Above zero: its mean and its variance.</param>
    public static double Next(ref RandomStream stream, double shape)
    {
        if (shape < 1)
        {
            var lifted = Next(ref stream, shape + 1);
            return lifted * Math.Pow(1 - stream.NextUniform(), 1 / shape);
        }
        var d = shape - 1.0 / 3;
        var c = 1 / Math.Sqrt(9 * d);
        while (true)
        {
            var x = Normal.InvCDF(0, 1, stream.NextUniform() + 1e-17);
            var v = 1 + c * x;
            if (v <= 0)
                continue;
            v = v * v * v;
            var u = 1 - stream.NextUniform();
            if (Math.Log(u) < 0.5 * x * x + d - d * v + d * Math.Log(v))
                return d * v;
        }
    }
}
