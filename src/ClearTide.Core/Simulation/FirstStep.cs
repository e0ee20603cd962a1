using ClearTide.Core.Formulas;

namespace ClearTide.Core.Simulation;

/// <summary>A first step from the sizes of y, y' and an estimate of y'' (Hairer, Nørsett, Wanner I, II.4, algorithm "starting step size").</summary>
internal static unsafe class FirstStep
{
    /// <param name="slope">f at the start.</param>
    /// <param name="moved">Work space for a state.</param>
    /// <param name="changed">Work space for a slope.</param>
    /// <param name="order">The order of the method.</param>
    public static double Of(VectorFunction f, double time, double* y, double* parameters, double* slope, double* moved, double* changed, int n, Tolerances tolerances, double limit, int order)
    {
        double d0 = 0, d1 = 0, d2 = 0;
        for (var i = 0; i < n; i++)
        {
            var scale = tolerances.Absolute(i) + tolerances.Relative * Math.Abs(y[i]);
            d0 += y[i] / scale * (y[i] / scale);
            d1 += slope[i] / scale * (slope[i] / scale);
        }
        var h0 = d0 <= 1e-10 || d1 <= 1e-10 ? 1e-6 : 0.01 * Math.Sqrt(d0 / d1);
        h0 = Math.Min(h0, limit - time);
        for (var i = 0; i < n; i++) moved[i] = y[i] + h0 * slope[i];
        f(time + h0, moved, parameters, changed);
        for (var i = 0; i < n; i++)
        {
            var difference = (changed[i] - slope[i]) / (tolerances.Absolute(i) + tolerances.Relative * Math.Abs(y[i]));
            d2 += difference * difference;
        }
        var most = Math.Max(Math.Sqrt(d1), Math.Sqrt(d2) / h0);
        var h1 = most <= 1e-15 || !double.IsFinite(most) ? Math.Max(1e-6, h0 * 1e-3) : Math.Pow(0.01 / most, 1.0 / order);
        return Math.Min(Math.Min(100 * h0, h1), limit - time);
    }
}
