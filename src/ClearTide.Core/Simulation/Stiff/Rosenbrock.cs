using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>
/// An adaptive linearly implicit method for stiff systems: the stiffly accurate, L-stable Rosenbrock pair of order 4(3) with six stages by
/// Hairer and Wanner (Solving Ordinary Differential Equations II, 2nd rev. ed., IV.7, and their published code RODAS), with its continuous
/// output of order 3. Each step evaluates the Jacobian anew and factors one matrix; nothing is iterated, so that no convergence can fail.
/// </summary>
internal sealed unsafe class Rosenbrock : Stepper
{
    /// <summary>Coefficients in the form without products of matrix and vector, as in the published code.</summary>
    private static class Table
    {
        public const double Gamma = 0.25;
        public const double C2 = 0.386,
            C3 = 0.21,
            C4 = 0.63;
        public const double D1 = 0.25,
            D2 = -0.1043,
            D3 = 0.1035,
            D4 = -0.03620000000000023;
        public const double A21 = 1.544;
        public const double A31 = 0.9466785280815826,
            A32 = 0.2557011698983284;
        public const double A41 = 3.314825187068521,
            A42 = 2.896124015972201,
            A43 = 0.9986419139977817;
        public const double A51 = 1.221224509226641,
            A52 = 6.019134481288629,
            A53 = 12.53708332932087,
            A54 = -0.6878860361058950;
        public const double G21 = -5.6688;
        public const double G31 = -2.430093356833875,
            G32 = -0.2063599157091915;
        public const double G41 = -0.1073529058151375,
            G42 = -9.594562251023355,
            G43 = -20.47028614809616;
        public const double G51 = 7.496443313967647,
            G52 = -10.24680431464352,
            G53 = -33.99990352819905,
            G54 = 11.70890893206160;
        public const double G61 = 8.083246795921522,
            G62 = -7.981132988064893,
            G63 = -31.52159432874371,
            G64 = 16.31930543123136,
            G65 = -6.058818238834054;
    }

    private static class Dense
    {
        public const double H21 = 10.12623508344586,
            H22 = -7.487995877610167,
            H23 = -34.80091861555747,
            H24 = -7.992771707568823,
            H25 = 1.025137723295662;
        public const double H31 = -0.6762803392801253,
            H32 = 6.087714651680015,
            H33 = 16.43084320892478,
            H34 = 24.76722511418386,
            H35 = -6.594389125716872;
    }

    /// <summary>
    /// A step may make a tenth of the error that is asked for: on the slow curves of stiff problems the errors of many steps add up, and
    /// what
    /// a run ends with is then about what was asked.
    /// </summary>
    private const double Share = 0.1;

    private const double Safety = 0.9,
        Smallest = 1.0 / 6,
        Largest = 5;

    private readonly Tolerances _tolerances;
    private readonly Jacobian _jacobian;
    private readonly LinearSystem _system;
    private readonly double[] _entries;
    private readonly double* _k1,
        _k2,
        _k3,
        _k4,
        _k5,
        _k6,
        _slope,
        _byTime,
        _stage;
    private double _next,
        _lastStep,
        _lastError;
    private bool _fresh = true;

    /// <param name="f">The right-hand side.</param>
    /// <param name="jacobian">The Jacobian of <paramref name="f"/>; exact, or nearly so, for the order to hold.</param>
    /// <param name="dimension">How many states there are.</param>
    /// <param name="parameterCount">How many parameters there are.</param>
    /// <param name="tolerances">What error a step may have.</param>
    public Rosenbrock(VectorFunction f, Jacobian jacobian, int dimension, int parameterCount, Tolerances tolerances)
        : base(f, dimension, parameterCount, 9)
    {
        (_tolerances, _jacobian, _system) = (tolerances, jacobian, LinearSystem.For(jacobian, dimension));
        _entries = GC.AllocateArray<double>(jacobian.Entries.Count + 1, pinned: true);
        _k1 = Work(0);
        _k2 = Work(1);
        _k3 = Work(2);
        _k4 = Work(3);
        _k5 = Work(4);
        _k6 = Work(5);
        _slope = Work(6);
        _byTime = Work(7);
        _stage = Work(8);
    }

    /// <summary>How often a Jacobian was factored.</summary>
    public int Factorings { get; private set; }

    /// <summary>A bound of the largest rate of change of the linearised system at the last step: the greatest absolute row sum of the
    /// Jacobian.</summary>
    public double Stiffness { get; private set; }

    protected override void Restart()
    {
        _fresh = true;
        _lastError = 0;
    }

    public override void Step(double limit)
    {
        // A step always begins with the slope where the last one ended.
        F(Time, Y, P, _slope);
        if (!AllFinite(_slope, N))
            throw Failed(FailureReason.NotFinite);
        if (_fresh)
        {
            _tolerances.WriteAbsolute(_k2);
            _next = InitialStepSize.Of(
                F,
                Time,
                (OneLane*)Y,
                P,
                (OneLane*)_slope,
                (OneLane*)_stage,
                (OneLane*)_k1,
                N,
                (OneLane*)_k2,
                _tolerances.Relative,
                limit,
                order: 4
            );
            _fresh = false;
        }
        fixed (double* entries = _entries)
        {
            _jacobian.Evaluate(Time, Y, P, _slope, entries, _byTime);
            Stiffness = RowSum(entries);
            var rejected = false;
            while (true)
            {
                var h = StepControl.Fitted(_next, Time, limit);
                if (!(h > 0))
                    throw Failed(FailureReason.StepTooSmall);
                Factorings++;
                if (!_system.Factor(1 / (h * Table.Gamma), entries))
                {
                    if (!AllFinite(entries, _jacobian.Entries.Count))
                        throw Failed(FailureReason.NotFinite);
                    rejected = true;
                    _next = 0.5 * h;
                    continue;
                }
                var error = Try(h);
                if (!double.IsFinite(error))
                {
                    rejected = true;
                    _next = 0.1 * h;
                    continue;
                }
                var factor = Math.Clamp(Math.Pow(error, 0.25) / Safety, 1 / Largest, 1 / Smallest);
                if (error <= 1)
                {
                    // The predictive control of Gustafsson (II, IV.8, "predictive controller").
                    if (_lastError > 0)
                    {
                        var predicted = _lastStep / h * Math.Pow(error * error / _lastError, 0.25) / Safety;
                        factor = Math.Max(factor, Math.Clamp(predicted, 1 / Largest, 1 / Smallest));
                    }
                    (_lastStep, _lastError) = (h, Math.Max(error, 1e-2));
                    var proposal = h / factor;
                    _next = h < _next ? Math.Max(proposal, _next) : proposal;
                    if (rejected)
                        _next = Math.Min(_next, h);
                    Accept(h, limit);
                    return;
                }
                rejected = true;
                _next = h / factor;
            }
        }
    }

    private double RowSum(double* entries)
    {
        var sums = _k1;
        for (var i = 0; i < N; i++)
            sums[i] = 0;
        for (var k = 0; k < _jacobian.Entries.Count; k++)
            sums[_jacobian.Entries[k].Row] += Math.Abs(entries[k]);
        var most = 0.0;
        for (var i = 0; i < N; i++)
            most = Math.Max(most, sums[i]);
        return most;
    }

    /// <summary>Computes a step of length <paramref name="h"/> into the stage vector; returns its scaled error.</summary>
    private double Try(double h)
    {
        int n = N;
        double t = Time,
            r = 1 / h;
        double* y = Y,
            p = P,
            s = _stage,
            k1 = _k1,
            k2 = _k2,
            k3 = _k3,
            k4 = _k4,
            k5 = _k5,
            k6 = _k6,
            g = _byTime;
        for (var i = 0; i < n; i++)
            k1[i] = _slope[i] + h * Table.D1 * g[i];
        _system.Solve(k1);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + Table.A21 * k1[i];
        F(t + Table.C2 * h, s, p, k2);
        for (var i = 0; i < n; i++)
            k2[i] += r * (Table.G21 * k1[i]) + h * Table.D2 * g[i];
        _system.Solve(k2);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + Table.A31 * k1[i] + Table.A32 * k2[i];
        F(t + Table.C3 * h, s, p, k3);
        for (var i = 0; i < n; i++)
            k3[i] += r * (Table.G31 * k1[i] + Table.G32 * k2[i]) + h * Table.D3 * g[i];
        _system.Solve(k3);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + Table.A41 * k1[i] + Table.A42 * k2[i] + Table.A43 * k3[i];
        F(t + Table.C4 * h, s, p, k4);
        for (var i = 0; i < n; i++)
            k4[i] += r * (Table.G41 * k1[i] + Table.G42 * k2[i] + Table.G43 * k3[i]) + h * Table.D4 * g[i];
        _system.Solve(k4);
        for (var i = 0; i < n; i++)
            s[i] = y[i] + Table.A51 * k1[i] + Table.A52 * k2[i] + Table.A53 * k3[i] + Table.A54 * k4[i];
        F(t + h, s, p, k5);
        for (var i = 0; i < n; i++)
            k5[i] += r * (Table.G51 * k1[i] + Table.G52 * k2[i] + Table.G53 * k3[i] + Table.G54 * k4[i]);
        _system.Solve(k5);
        for (var i = 0; i < n; i++)
            s[i] += k5[i];
        F(t + h, s, p, k6);
        for (var i = 0; i < n; i++)
            k6[i] += r * (Table.G61 * k1[i] + Table.G62 * k2[i] + Table.G63 * k3[i] + Table.G64 * k4[i] + Table.G65 * k5[i]);
        _system.Solve(k6);
        for (var i = 0; i < n; i++)
            s[i] += k6[i];
        return AllFinite(s, n) ? _tolerances.Norm(k6, y, s, n) / Share : double.NaN;
    }

    private void Accept(double h, double limit)
    {
        for (var i = 0; i < N; i++)
        {
            Before[i] = Y[i];
            Y[i] = _stage[i];
        }
        StepStart = Time;
        Time = Time + h >= limit ? limit : Time + h;
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
        var s = (time - StepStart) / h;
        var rest = 1 - s;
        for (var i = 0; i < N; i++)
        {
            var second = Dense.H21 * _k1[i] + Dense.H22 * _k2[i] + Dense.H23 * _k3[i] + Dense.H24 * _k4[i] + Dense.H25 * _k5[i];
            var third = Dense.H31 * _k1[i] + Dense.H32 * _k2[i] + Dense.H33 * _k3[i] + Dense.H34 * _k4[i] + Dense.H35 * _k5[i];
            state[i] = Before[i] * rest + s * (Y[i] + rest * (second + s * third));
        }
    }
}
