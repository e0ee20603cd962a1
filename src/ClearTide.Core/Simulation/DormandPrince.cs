using ClearTide.Core.Formulas;

namespace ClearTide.Core.Simulation;

/// <summary>
/// The adaptive Runge–Kutta pair 5(4) of Dormand and Prince (J. Comp. Appl. Math. 6, 1980, pp. 19–26; Hairer, Nørsett, Wanner, Solving
/// Ordinary Differential Equations I, 2nd ed., II.5, table 5.2), with their step control (II.4) and the continuous output of order 4 (II.6).
/// </summary>
public sealed unsafe class DormandPrince : Stepper
{
    /// <summary>Table 5.2.</summary>
    private static class Table
    {
        public const double C2 = 1.0 / 5, C3 = 3.0 / 10, C4 = 4.0 / 5, C5 = 8.0 / 9;
        public const double A21 = 1.0 / 5;
        public const double A31 = 3.0 / 40, A32 = 9.0 / 40;
        public const double A41 = 44.0 / 45, A42 = -56.0 / 15, A43 = 32.0 / 9;
        public const double A51 = 19372.0 / 6561, A52 = -25360.0 / 2187, A53 = 64448.0 / 6561, A54 = -212.0 / 729;
        public const double A61 = 9017.0 / 3168, A62 = -355.0 / 33, A63 = 46732.0 / 5247, A64 = 49.0 / 176, A65 = -5103.0 / 18656;
        public const double B1 = 35.0 / 384, B3 = 500.0 / 1113, B4 = 125.0 / 192, B5 = -2187.0 / 6784, B6 = 11.0 / 84;
        public const double E1 = 71.0 / 57600, E3 = -71.0 / 16695, E4 = 71.0 / 1920, E5 = -17253.0 / 339200, E6 = 22.0 / 525, E7 = -1.0 / 40;
    }

    /// <summary>Coefficients of the continuous output, II.6, as in the published code DOPRI5.</summary>
    private static class Dense
    {
        public const double D1 = -12715105075.0 / 11282082432, D3 = 87487479700.0 / 32700410799, D4 = -10690763975.0 / 1880347072;
        public const double D5 = 701980252875.0 / 199316789632, D6 = -1453857185.0 / 822651844, D7 = 69997945.0 / 29380423;
    }

    private const double Safety = 0.9, Smallest = 0.2, Largest = 10, Beta = 0.04, Exponent = 0.2 - 0.75 * Beta;

    private readonly Tolerances _tolerances;
    private readonly double _relative;
    private readonly double* _k1, _k2, _k3, _k4, _k5, _k6, _k7, _stage, _d5, _absolute;
    private double _next;
    private double _lastError;
    private bool _fresh = true;
    private bool _dense;
    private bool _swapped;

    public DormandPrince(VectorFunction f, int dimension, int parameterCount, Tolerances tolerances) : base(f, dimension, parameterCount, 10)
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
        _d5 = Work(8);
        _absolute = Work(9);
        for (var i = 0; i < N; i++) _absolute[i] = tolerances.Absolute(i);
    }

    protected override void Restart()
    {
        _fresh = true;
        _lastError = 1e-4;
        _dense = false;
    }

    // k7 of one step is k1 of the next: the two change places instead of being copied.
    private double* First => _swapped ? _k7 : _k1;

    private double* Last => _swapped ? _k1 : _k7;

    public override void Step(double limit)
    {
        if (_fresh)
        {
            F(Time, Y, P, First);
            if (!AllFinite(First, N)) throw Failed(FailureReason.NotFinite);
            _next = FirstStep.Of(F, Time, Y, P, First, _stage, _k2, N, _tolerances, limit, order: 5);
            _fresh = false;
        }
        var rejected = false;
        while (true)
        {
            var h = _next;
            if (Time + 1.01 * h >= limit) h = limit - Time;
            if (Math.Abs(h) <= 1e-15 * Math.Max(Math.Abs(Time), 1e-300) || h <= 0) throw Failed(FailureReason.StepTooSmall);
            var error = Try(h);
            if (error <= 1)
            {
                var factor = Math.Pow(error, Exponent) / Math.Pow(_lastError, Beta) / Safety;
                factor = Math.Clamp(factor, 1 / Largest, 1 / Smallest);
                // A step cut short by the limit says little about the next one: keep the longer proposal.
                var proposal = h / factor;
                _next = h < _next ? Math.Max(proposal, _next) : proposal;
                if (rejected) _next = Math.Min(_next, h);
                _lastError = Math.Max(error, 1e-4);
                Accept(h, limit);
                return;
            }
            rejected = true;
            _next = double.IsFinite(error) ? h / Math.Min(1 / Smallest, Math.Pow(error, Exponent) / Safety) : 0.1 * h;
        }
    }

    /// <summary>Computes a step of length <paramref name="h"/> into the stage vector; returns its scaled error.</summary>
    private double Try(double h)
    {
        int n = N;
        double t = Time;
        double* y = Y, p = P, s = _stage, k1 = First, k2 = _k2, k3 = _k3, k4 = _k4, k5 = _k5, k6 = _k6, k7 = Last;
        for (var i = 0; i < n; i++) s[i] = y[i] + h * Table.A21 * k1[i];
        F(t + Table.C2 * h, s, p, k2);
        for (var i = 0; i < n; i++) s[i] = y[i] + h * (Table.A31 * k1[i] + Table.A32 * k2[i]);
        F(t + Table.C3 * h, s, p, k3);
        for (var i = 0; i < n; i++) s[i] = y[i] + h * (Table.A41 * k1[i] + Table.A42 * k2[i] + Table.A43 * k3[i]);
        F(t + Table.C4 * h, s, p, k4);
        for (var i = 0; i < n; i++) s[i] = y[i] + h * (Table.A51 * k1[i] + Table.A52 * k2[i] + Table.A53 * k3[i] + Table.A54 * k4[i]);
        F(t + Table.C5 * h, s, p, k5);
        for (var i = 0; i < n; i++) s[i] = y[i] + h * (Table.A61 * k1[i] + Table.A62 * k2[i] + Table.A63 * k3[i] + Table.A64 * k4[i] + Table.A65 * k5[i]);
        F(t + h, s, p, k6);
        for (var i = 0; i < n; i++) s[i] = y[i] + h * (Table.B1 * k1[i] + Table.B3 * k3[i] + Table.B4 * k4[i] + Table.B5 * k5[i] + Table.B6 * k6[i]);
        F(t + h, s, p, k7);
        var sum = 0.0;
        for (var i = 0; i < N; i++)
        {
            var e = h * (Table.E1 * k1[i] + Table.E3 * k3[i] + Table.E4 * k4[i] + Table.E5 * k5[i] + Table.E6 * k6[i] + Table.E7 * k7[i]);
            var scaled = e / (_absolute[i] + _relative * Math.Max(Math.Abs(y[i]), Math.Abs(s[i])));
            sum += scaled * scaled;
        }
        return n == 0 ? 0 : Math.Sqrt(sum / n);
    }

    private void Accept(double h, double limit)
    {
        for (var i = 0; i < N; i++)
        {
            Before[i] = Y[i];
            Y[i] = _stage[i];
        }
        _swapped = !_swapped;
        _dense = false;
        StepStart = Time;
        Time = Time + h >= limit ? limit : Time + h;
        Steps++;
        if (!AllFinite(First, N) || !AllFinite(Y, N)) throw Failed(FailureReason.NotFinite);
    }

    public override void At(double time, Span<double> state)
    {
        var h = Time - StepStart;
        if (h == 0 || time == Time)
        {
            State.CopyTo(state);
            return;
        }
        // After acceptance the step's k1 stands in Last and its k7 in First.
        double* k1 = Last, k7 = First;
        if (!_dense)
        {
            for (var i = 0; i < N; i++)
            {
                _d5[i] = h * (Dense.D1 * k1[i] + Dense.D3 * _k3[i] + Dense.D4 * _k4[i] + Dense.D5 * _k5[i] + Dense.D6 * _k6[i] + Dense.D7 * k7[i]);
            }
            _dense = true;
        }
        var s = (time - StepStart) / h;
        var rest = 1 - s;
        for (var i = 0; i < N; i++)
        {
            var difference = Y[i] - Before[i];
            var bulge = h * k1[i] - difference;
            state[i] = Before[i] + s * (difference + rest * (bulge + s * (difference - h * k7[i] - bulge + rest * _d5[i])));
        }
    }

    /// <summary>
    /// The step just taken times an estimate of the largest rate in the system (Hairer and Wanner, Solving Ordinary Differential Equations II,
    /// 2nd rev. ed., IV.2, formula 2.8): near 3.3, the edge of this method's stability, it is stability and not accuracy that holds the step down.
    /// </summary>
    internal double StepTimesRate()
    {
        double h = Time - StepStart, change = 0, distance = 0;
        double* k1 = Last, k7 = First;
        for (var i = 0; i < N; i++)
        {
            var stage = Before[i] + h * (Table.A61 * k1[i] + Table.A62 * _k2[i] + Table.A63 * _k3[i] + Table.A64 * _k4[i] + Table.A65 * _k5[i]);
            change += (k7[i] - _k6[i]) * (k7[i] - _k6[i]);
            distance += (Y[i] - stage) * (Y[i] - stage);
        }
        return distance > 0 ? h * Math.Sqrt(change / distance) : 0;
    }
}
