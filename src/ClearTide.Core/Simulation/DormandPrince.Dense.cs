using System.Runtime.Intrinsics;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using static ClearTide.Core.Simulation.DormandPrinceTable;

namespace ClearTide.Core.Simulation;

/// <summary>Continuous output over the last step, and the estimate of stiffness.</summary>
public sealed unsafe partial class DormandPrince
{
    /// <inheritdoc/>
    public override void At(double time, Span<double> state)
    {
        var h = Time - StepStart;
        if (h == 0 || time == Time)
        {
            State.CopyTo(state);
            return;
        }
        if (!_dense)
        {
            if (N > Narrow)
                DenseWide(h);
            else
                DenseNarrow(h);
            _dense = true;
        }
        var s = (time - StepStart) / h;
        var rest = 1 - s;
        double* before = Before,
            c1 = _c1,
            c2 = _c2,
            c3 = _c3,
            c4 = _c4;
        var n = Math.Min(N, state.Length);
        fixed (double* values = state)
        {
            for (var i = 0; i < n; i++)
                values[i] = before[i] + s * (c1[i] + rest * (c2[i] + s * (c3[i] + rest * c4[i])));
        }
    }

    private void DenseNarrow(double h)
    {
        // After acceptance the step's k1 stands in Last and its k7 in First.
        double* y = Y,
            before = Before,
            k1 = Last,
            k3 = _k3,
            k4 = _k4,
            k5 = _k5,
            k6 = _k6,
            k7 = First,
            c1 = _c1,
            c2 = _c2,
            c3 = _c3,
            c4 = _c4;
        var n = N;
        for (var i = 0; i < n; i++)
        {
            var difference = y[i] - before[i];
            var bulge = h * k1[i] - difference;
            c1[i] = difference;
            c2[i] = bulge;
            c3[i] = difference - h * k7[i] - bulge;
            c4[i] = h * (D1 * k1[i] + D3 * k3[i] + D4 * k4[i] + D5 * k5[i] + D6 * k6[i] + D7 * k7[i]);
        }
    }

    /// <summary>
    /// The step just taken times an estimate of the largest rate in the system (Hairer and Wanner, Solving Ordinary Differential
    /// Equations II,
    /// 2nd rev. ed., IV.2, formula 2.8): near 3.3, the edge of this method's stability, it is stability and not accuracy that holds the
    /// step down.
    /// </summary>
    internal double StepTimesRate()
    {
        double h = Time - StepStart,
            change = 0,
            distance = 0;
        if (N > Narrow)
            return StepTimesRateWide(h);
        double* y = Y,
            before = Before,
            k1 = Last,
            k2 = _k2,
            k3 = _k3,
            k4 = _k4,
            k5 = _k5,
            k6 = _k6,
            k7 = First;
        var n = N;
        for (var i = 0; i < n; i++)
        {
            var stage = before[i] + h * (A61 * k1[i] + A62 * k2[i] + A63 * k3[i] + A64 * k4[i] + A65 * k5[i]);
            var (turn, way) = (k7[i] - k6[i], y[i] - stage);
            change += turn * turn;
            distance += way * way;
        }
        return distance > 0 ? h * Math.Sqrt(change / distance) : 0;
    }

    private void DenseWide(double h)
    {
        var (n, step) = (Fours, V(h));
        Vector256<double>* y = (Vector256<double>*)Y,
            before = (Vector256<double>*)Before,
            k1 = (Vector256<double>*)Last,
            k3 = (Vector256<double>*)_k3,
            k4 = (Vector256<double>*)_k4,
            k5 = (Vector256<double>*)_k5,
            k6 = (Vector256<double>*)_k6,
            k7 = (Vector256<double>*)First;
        Vector256<double>* c1 = (Vector256<double>*)_c1,
            c2 = (Vector256<double>*)_c2,
            c3 = (Vector256<double>*)_c3,
            c4 = (Vector256<double>*)_c4;
        for (var i = 0; i < n; i++)
        {
            var difference = y[i] - before[i];
            var bulge = step * k1[i] - difference;
            c1[i] = difference;
            c2[i] = bulge;
            c3[i] = difference - step * k7[i] - bulge;
            c4[i] = step * (V(D1) * k1[i] + V(D3) * k3[i] + V(D4) * k4[i] + V(D5) * k5[i] + V(D6) * k6[i] + V(D7) * k7[i]);
        }
    }

    private double StepTimesRateWide(double h)
    {
        var (n, step) = (Fours, V(h));
        Vector256<double>* y = (Vector256<double>*)Y,
            before = (Vector256<double>*)Before,
            k1 = (Vector256<double>*)Last,
            k2 = (Vector256<double>*)_k2,
            k3 = (Vector256<double>*)_k3,
            k4 = (Vector256<double>*)_k4,
            k5 = (Vector256<double>*)_k5,
            k6 = (Vector256<double>*)_k6,
            k7 = (Vector256<double>*)First;
        var (change, distance) = (Vector256<double>.Zero, Vector256<double>.Zero);
        for (var i = 0; i < n; i++)
        {
            var stage = before[i] + step * (V(A61) * k1[i] + V(A62) * k2[i] + V(A63) * k3[i] + V(A64) * k4[i] + V(A65) * k5[i]);
            var (turn, way) = (k7[i] - k6[i], y[i] - stage);
            change += turn * turn;
            distance += way * way;
        }
        var (turned, gone) = (Vector256.Sum(change), Vector256.Sum(distance));
        return gone > 0 ? h * Math.Sqrt(turned / gone) : 0;
    }
}
