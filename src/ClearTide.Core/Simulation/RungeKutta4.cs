using ClearTide.Core.Formulas;

namespace ClearTide.Core.Simulation;

/// <summary>
/// The classic fourth-order Runge–Kutta method at a fixed step (Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I, 2nd ed.,
/// II.1, table 1.2). Steps are cut where a limit asks for it. Continuous output is the cubic Hermite interpolant (II.6), of order 3.
/// </summary>
public sealed unsafe class RungeKutta4 : Stepper
{
    private readonly double _step;
    private readonly double* _k1;
    private readonly double* _k2;
    private readonly double* _k3;
    private readonly double* _k4;
    private readonly double* _stage;
    private double _origin;
    private long _count;

    /// <param name="step">The step of calculation, in units of time; positive.</param>
    public RungeKutta4(VectorFunction f, int dimension, int parameterCount, double step) : base(f, dimension, parameterCount, 5)
    {
        if (!(step > 0) || !double.IsFinite(step)) throw new ArgumentOutOfRangeException(nameof(step), step, "The step must be positive.");
        _step = step;
        _k1 = Work(0);
        _k2 = Work(1);
        _k3 = Work(2);
        _k4 = Work(3);
        _stage = Work(4);
    }

    protected override void Restart()
    {
        _origin = Time;
        _count = 0;
    }

    public override void Step(double limit)
    {
        // Step ends are multiples of the step from the last discontinuity, so that no rounding piles up.
        var end = _origin + (_count + 1) * _step;
        if (end >= limit - 1e-9 * _step) end = limit;
        var t = Time;
        var h = end - t;
        int n = N;
        double* y = Y, k1 = _k1, k2 = _k2, k3 = _k3, k4 = _k4, stage = _stage, before = Before, p = P;
        var half = 0.5 * h;
        F(t, y, p, k1);
        for (var i = 0; i < n; i++) stage[i] = y[i] + half * k1[i];
        F(t + half, stage, p, k2);
        for (var i = 0; i < n; i++) stage[i] = y[i] + half * k2[i];
        F(t + half, stage, p, k3);
        for (var i = 0; i < n; i++) stage[i] = y[i] + h * k3[i];
        F(end, stage, p, k4);
        var sixth = h / 6;
        var mark = 0.0;
        for (var i = 0; i < n; i++)
        {
            var old = y[i];
            before[i] = old;
            var next = old + sixth * (k1[i] + 2 * (k2[i] + k3[i]) + k4[i]);
            y[i] = next;
            mark += next * 0;
        }
        if (mark != 0)
        {
            new Span<double>(before, n).CopyTo(new Span<double>(y, n));
            throw Failed(FailureReason.NotFinite);
        }
        StepStart = t;
        Time = end;
        _count++;
        Steps++;
    }

    public override void At(double time, Span<double> state)
    {
        var h = Time - StepStart;
        if (h == 0 || time == Time)
        {
            State.CopyTo(state);
            return;
        }
        F(Time, Y, P, _stage);
        var s = (time - StepStart) / h;
        for (var i = 0; i < N; i++)
        {
            var difference = Y[i] - Before[i];
            state[i] = (1 - s) * Before[i] + s * Y[i]
                + s * (s - 1) * ((1 - 2 * s) * difference + (s - 1) * h * _k1[i] + s * h * _stage[i]);
        }
    }
}
