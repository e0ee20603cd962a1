namespace ClearTide.Bench.HandWritten;

internal static unsafe class SeirRightHandSide
{
    public static void Evaluate(double* y, double* p, double* f)
    {
        double s = y[0],
            e = y[1],
            i = y[2],
            r = y[3];
        var infection = p[0] * s * i / (s + e + i + r);
        var onset = p[1] * e;
        var recovery = p[2] * i;
        f[0] = -infection;
        f[1] = infection - onset;
        f[2] = onset - recovery;
        f[3] = recovery;
    }
}
