using System.Runtime.Intrinsics;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using static ClearTide.Core.Simulation.DormandPrinceTable;

namespace ClearTide.Core.Simulation;

/// <summary>
/// The adaptive Runge–Kutta pair 5(4) of Dormand and Prince (J. Comp. Appl. Math. 6, 1980, pp. 19–26; Hairer, Nørsett, Wanner, Solving
/// Ordinary Differential Equations I, 2nd ed., II.5, table 5.2), with their step control (II.4) and the continuous output of order 4
/// (II.6).
/// </summary>
public sealed unsafe partial class DormandPrince : Stepper
{
    private readonly Tolerances _tolerances;
    private readonly double _relative;
    private readonly double* _k1,
        _k2,
        _k3,
        _k4,
        _k5,
        _k6,
        _k7,
        _stage,
        _absolute;

    /// <summary>
    /// The continuous output of the last step, y0 + s (c1 + (1 - s) (c2 + s (c3 + (1 - s) c4))), once somebody has asked for it.
    /// </summary>
    private readonly double* _c1,
        _c2,
        _c3,
        _c4;
    private StepControl _control;
    private bool _fresh = true;
    private bool _dense;
    private bool _swapped;

    /// <summary>A solver for one system; it holds its own memory and belongs to one thread.</summary>
    public DormandPrince(VectorFunction f, int dimension, int parameterCount, Tolerances tolerances)
        : base(f, dimension, parameterCount, 13)
    {
        (_tolerances, _relative) = (tolerances, tolerances.Relative);
        _k1 = Work(0);
        _k2 = Work(1);
        _k3 = Work(2);
        _k4 = Work(3);
        _k5 = Work(4);
        _k6 = Work(5);
        _k7 = Work(6);
        _stage = Work(7);
        _absolute = Work(8);
        _c1 = Work(9);
        _c2 = Work(10);
        _c3 = Work(11);
        _c4 = Work(12);
        // Behind the last component any number that is not zero will do.
        for (var i = 0; i < 4 * Fours; i++)
            _absolute[i] = i < N ? tolerances.Absolute(i) : 1;
    }

    /// <inheritdoc/>
    protected override void Restart()
    {
        _fresh = true;
        _dense = false;
    }

    // k7 of one step is k1 of the next: the two change places instead of being copied.
    private double* First => _swapped ? _k7 : _k1;

    private double* Last => _swapped ? _k1 : _k7;

    /// <inheritdoc/>
    public override void Step(double limit)
    {
        if (_fresh)
        {
            F(Time, Y, P, First);
            if (!AllFinite(First, N))
                throw Failed(FailureReason.NotFinite);
            _control = new(InitialStepSize.Of(F, Time, Y, P, First, _stage, _k2, N, _tolerances, limit, order: 5));
            _fresh = false;
        }
        while (true)
        {
            var h = _control.Proposed(Time, limit);
            if (!(h > 0))
                throw Failed(FailureReason.StepTooSmall);
            if (!_control.Takes(h, Try(h)))
                continue;
            Accept(h, limit);
            return;
        }
    }

    /// <summary>Up to this many components are taken one by one: numbers that were just written one by one are read four at a time with a
    /// delay.</summary>
    private const int Narrow = 8;

    /// <summary>Computes a step of length <paramref name="h"/> into the stage vector; returns its scaled error.</summary>
    private double Try(double h) => N <= Narrow ? TryNarrow(h) : TryWide(h);

    private double TryNarrow(double h)
    {
        int n = N;
        double t = Time;
        double* y = Y,
            p = P,
            s = _stage,
            k1 = First,
            k2 = _k2,
            k3 = _k3,
            k4 = _k4,
            k5 = _k5,
            k6 = _k6,
            k7 = Last;
        for (var i = 0; i < n; i++)
            s[i] = y[i] + h * A21 * k1[i];
        F(t + C2 * h, s, p, k2);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + h * (A31 * k1[i] + A32 * k2[i]);
        F(t + C3 * h, s, p, k3);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + h * (A41 * k1[i] + A42 * k2[i] + A43 * k3[i]);
        F(t + C4 * h, s, p, k4);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + h * (A51 * k1[i] + A52 * k2[i] + A53 * k3[i] + A54 * k4[i]);
        F(t + C5 * h, s, p, k5);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + h * (A61 * k1[i] + A62 * k2[i] + A63 * k3[i] + A64 * k4[i] + A65 * k5[i]);
        F(t + h, s, p, k6);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + h * (B1 * k1[i] + B3 * k3[i] + B4 * k4[i] + B5 * k5[i] + B6 * k6[i]);
        F(t + h, s, p, k7);
        var (sum, relative) = (0.0, _relative);
        double* absolute = _absolute;
        for (var i = 0; i < n; i++)
        {
            var e = h * (E1 * k1[i] + E3 * k3[i] + E4 * k4[i] + E5 * k5[i] + E6 * k6[i] + E7 * k7[i]);
            var scaled = e / (absolute[i] + relative * Math.Max(Math.Abs(y[i]), Math.Abs(s[i])));
            sum += scaled * scaled;
        }
        return n == 0 ? 0 : Math.Sqrt(sum / _tolerances.Controlled);
    }

    /// <summary>The same with four components at a time: a solver with tangents spends most of its time here.</summary>
    private double TryWide(double h)
    {
        var (n, t, p) = (Fours, Time, (nint)P);
        double* stage = _stage;
        Vector256<double>* y = (Vector256<double>*)Y,
            s = (Vector256<double>*)_stage,
            absolute = (Vector256<double>*)_absolute;
        Vector256<double>* k1 = (Vector256<double>*)First,
            k2 = (Vector256<double>*)_k2,
            k3 = (Vector256<double>*)_k3,
            k4 = (Vector256<double>*)_k4;
        Vector256<double>* k5 = (Vector256<double>*)_k5,
            k6 = (Vector256<double>*)_k6,
            k7 = (Vector256<double>*)Last;
        var step = V(h);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + V(h * A21) * k1[i];
        F(t + C2 * h, stage, (double*)p, (double*)k2);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + step * (V(A31) * k1[i] + V(A32) * k2[i]);
        F(t + C3 * h, stage, (double*)p, (double*)k3);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + step * (V(A41) * k1[i] + V(A42) * k2[i] + V(A43) * k3[i]);
        F(t + C4 * h, stage, (double*)p, (double*)k4);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + step * (V(A51) * k1[i] + V(A52) * k2[i] + V(A53) * k3[i] + V(A54) * k4[i]);
        F(t + C5 * h, stage, (double*)p, (double*)k5);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + step * (V(A61) * k1[i] + V(A62) * k2[i] + V(A63) * k3[i] + V(A64) * k4[i] + V(A65) * k5[i]);
        F(t + h, stage, (double*)p, (double*)k6);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + step * (V(B1) * k1[i] + V(B3) * k3[i] + V(B4) * k4[i] + V(B5) * k5[i] + V(B6) * k6[i]);
        F(t + h, stage, (double*)p, (double*)k7);
        var (sum, relative) = (Vector256<double>.Zero, V(_relative));
        for (var i = 0; i < n; i++)
        {
            var e = step * (V(E1) * k1[i] + V(E3) * k3[i] + V(E4) * k4[i] + V(E5) * k5[i] + V(E6) * k6[i] + V(E7) * k7[i]);
            var scaled = e / (absolute[i] + relative * Vector256.Max(Vector256.Abs(y[i]), Vector256.Abs(s[i])));
            sum += scaled * scaled;
        }
        return Math.Sqrt(Vector256.Sum(sum) / _tolerances.Controlled);
    }

    private static Vector256<double> V(double value) => Vector256.Create(value);

    private void Accept(double h, double limit)
    {
        double* y = Y,
            before = Before,
            stage = _stage;
        var n = N;
        for (var i = 0; i < n; i++)
        {
            before[i] = y[i];
            y[i] = stage[i];
        }
        _swapped = !_swapped;
        _dense = false;
        StepStart = Time;
        Time = Time + h >= limit ? limit : Time + h;
        Steps++;
        if (!AllFinite(First, N) || !AllFinite(Y, N))
            throw Failed(FailureReason.NotFinite);
    }
}
