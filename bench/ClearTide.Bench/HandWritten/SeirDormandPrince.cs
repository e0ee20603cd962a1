namespace ClearTide.Bench.HandWritten;

/// <summary>Dormand–Prince 5(4) with daily continuous output, written out for one model: the same method as the library's.</summary>
internal sealed unsafe class SeirDormandPrince
{
    private const int N = 4;
    private readonly double[] _memory = GC.AllocateArray<double>(12 * N, pinned: true);

    public double Run(double tolerance, double days, double[] output)
    {
        fixed (double* m = _memory)
        {
            double* y = m,
                before = m + 4,
                s = m + 8,
                k1 = m + 12,
                k2 = m + 16,
                k3 = m + 20,
                k4 = m + 24,
                k5 = m + 28,
                k6 = m + 32,
                k7 = m + 36,
                d5 = m + 40;
            var p = stackalloc double[3] { Seir.Beta, Seir.Sigma, Seir.Gamma };
            (y[0], y[1], y[2], y[3]) = (18388, 0, 12, 0);
            double t = 0,
                h = 0.1,
                last = 1e-4;
            var sampled = 0;
            for (var i = 0; i < N; i++)
                output[i] = y[i];
            sampled = 1;
            SeirRightHandSide.Evaluate(y, p, k1);
            while (t < days)
            {
                if (t + 1.01 * h >= days)
                    h = days - t;
                for (var i = 0; i < N; i++)
                    s[i] = y[i] + h * (1.0 / 5) * k1[i];
                SeirRightHandSide.Evaluate(s, p, k2);
                for (var i = 0; i < N; i++)
                    s[i] = y[i] + h * (3.0 / 40 * k1[i] + 9.0 / 40 * k2[i]);
                SeirRightHandSide.Evaluate(s, p, k3);
                for (var i = 0; i < N; i++)
                    s[i] = y[i] + h * (44.0 / 45 * k1[i] - 56.0 / 15 * k2[i] + 32.0 / 9 * k3[i]);
                SeirRightHandSide.Evaluate(s, p, k4);
                for (var i = 0; i < N; i++)
                    s[i] = y[i] + h * (19372.0 / 6561 * k1[i] - 25360.0 / 2187 * k2[i] + 64448.0 / 6561 * k3[i] - 212.0 / 729 * k4[i]);
                SeirRightHandSide.Evaluate(s, p, k5);
                for (var i = 0; i < N; i++)
                    s[i] =
                        y[i]
                        + h
                            * (
                                9017.0 / 3168 * k1[i]
                                - 355.0 / 33 * k2[i]
                                + 46732.0 / 5247 * k3[i]
                                + 49.0 / 176 * k4[i]
                                - 5103.0 / 18656 * k5[i]
                            );
                SeirRightHandSide.Evaluate(s, p, k6);
                for (var i = 0; i < N; i++)
                    s[i] =
                        y[i]
                        + h * (35.0 / 384 * k1[i] + 500.0 / 1113 * k3[i] + 125.0 / 192 * k4[i] - 2187.0 / 6784 * k5[i] + 11.0 / 84 * k6[i]);
                SeirRightHandSide.Evaluate(s, p, k7);
                var sum = 0.0;
                for (var i = 0; i < N; i++)
                {
                    var e =
                        h
                        * (
                            71.0 / 57600 * k1[i]
                            - 71.0 / 16695 * k3[i]
                            + 71.0 / 1920 * k4[i]
                            - 17253.0 / 339200 * k5[i]
                            + 22.0 / 525 * k6[i]
                            - 1.0 / 40 * k7[i]
                        );
                    var scaled = e / (tolerance + tolerance * Math.Max(Math.Abs(y[i]), Math.Abs(s[i])));
                    sum += scaled * scaled;
                }
                var error = Math.Sqrt(sum / N);
                if (!(error <= 1))
                {
                    h /= Math.Min(5, Math.Pow(error, 0.17) / 0.9);
                    continue;
                }
                for (var i = 0; i < N; i++)
                {
                    d5[i] =
                        h
                        * (
                            -12715105075.0 / 11282082432 * k1[i]
                            + 87487479700.0 / 32700410799 * k3[i]
                            - 10690763975.0 / 1880347072 * k4[i]
                            + 701980252875.0 / 199316789632 * k5[i]
                            - 1453857185.0 / 822651844 * k6[i]
                            + 69997945.0 / 29380423 * k7[i]
                        );
                    before[i] = y[i];
                    y[i] = s[i];
                }
                var start = t;
                t = t + h >= days ? days : t + h;
                while (sampled <= days && sampled <= t)
                {
                    var x = (sampled - start) / h;
                    for (var i = 0; i < N; i++)
                    {
                        var difference = y[i] - before[i];
                        var bulge = h * k1[i] - difference;
                        output[sampled * N + i] =
                            before[i] + x * (difference + (1 - x) * (bulge + x * (difference - h * k7[i] - bulge + (1 - x) * d5[i])));
                    }
                    sampled++;
                }
                var swap = k1;
                k1 = k7;
                k7 = swap;
                var factor = Math.Clamp(Math.Pow(error, 0.17) / Math.Pow(last, 0.04) / 0.9, 0.1, 5);
                last = Math.Max(error, 1e-4);
                h /= factor;
            }
            return y[3];
        }
    }
}
