namespace ClearTide.Bench.HandWritten;

/// <summary>Classic Runge–Kutta at a fixed step, written out for one model.</summary>
internal static unsafe class SeirRungeKutta
{
    private const int N = 4;

    public static double Run(double h, double days)
    {
        var m = stackalloc double[6 * N];
        var p = stackalloc double[3] { Seir.Beta, Seir.Sigma, Seir.Gamma };
        double* y = m,
            s = m + 4,
            k1 = m + 8,
            k2 = m + 12,
            k3 = m + 16,
            k4 = m + 20;
        (y[0], y[1], y[2], y[3]) = (18388, 0, 12, 0);
        var steps = (int)Math.Round(days / h);
        for (var step = 0; step < steps; step++)
        {
            SeirRightHandSide.Evaluate(y, p, k1);
            for (var i = 0; i < N; i++)
                s[i] = y[i] + 0.5 * h * k1[i];
            SeirRightHandSide.Evaluate(s, p, k2);
            for (var i = 0; i < N; i++)
                s[i] = y[i] + 0.5 * h * k2[i];
            SeirRightHandSide.Evaluate(s, p, k3);
            for (var i = 0; i < N; i++)
                s[i] = y[i] + h * k3[i];
            SeirRightHandSide.Evaluate(s, p, k4);
            for (var i = 0; i < N; i++)
                y[i] += h / 6 * (k1[i] + 2 * (k2[i] + k3[i]) + k4[i]);
        }
        return y[3];
    }
}
