using ClearTide.Core.Sampling;

namespace ClearTide.Bench.HandWritten;

/// <summary>Exact simulation with one internal clock for each flow, written out for one model.</summary>
internal static class SeirExact
{
    public static long Run(double population, long seed, int replicate)
    {
        double s = population - 12,
            e = 0,
            i = 12,
            r = 0,
            t = 0;
        var infection = new RandomStream(seed, replicate, "transition", "f3");
        var onset = new RandomStream(seed, replicate, "transition", "f5");
        var recovery = new RandomStream(seed, replicate, "transition", "f7");
        double left0 = infection.NextExponential(),
            left1 = onset.NextExponential(),
            left2 = recovery.NextExponential();
        long transitions = 0;
        while (true)
        {
            double a0 = Seir.Beta * s * i / (s + e + i + r),
                a1 = Seir.Sigma * e,
                a2 = Seir.Gamma * i;
            var wait = double.PositiveInfinity;
            var next = -1;
            if (a0 > 0 && left0 / a0 < wait)
                (wait, next) = (left0 / a0, 0);
            if (a1 > 0 && left1 / a1 < wait)
                (wait, next) = (left1 / a1, 1);
            if (a2 > 0 && left2 / a2 < wait)
                (wait, next) = (left2 / a2, 2);
            if (next < 0 || t + wait >= Seir.Days)
                return transitions;
            t += wait;
            left0 -= a0 * wait;
            left1 -= a1 * wait;
            left2 -= a2 * wait;
            switch (next)
            {
                case 0:
                    s--;
                    e++;
                    left0 = infection.NextExponential();
                    break;
                case 1:
                    e--;
                    i++;
                    left1 = onset.NextExponential();
                    break;
                default:
                    i--;
                    r++;
                    left2 = recovery.NextExponential();
                    break;
            }
            transitions++;
        }
    }
}
