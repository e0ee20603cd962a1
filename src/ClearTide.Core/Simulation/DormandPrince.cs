using System.Runtime.CompilerServices;
using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>
/// The adaptive Runge–Kutta pair 5(4) of Dormand and Prince (J. Comp. Appl. Math. 6, 1980, pp. 19–26; Hairer, Nørsett, Wanner, Solving
/// Ordinary Differential Equations I, 2nd ed., II.5, table 5.2), with their step control (II.4) and the continuous output of order 4
/// (II.6).
/// </summary>
internal sealed unsafe class DormandPrince : Stepper
{
    /// <summary>Up to this many components are taken one by one: numbers that were just written one by one are read four at a time with a
    /// delay.</summary>
    private const int Narrow = 8;

    private readonly double _relative;
    private readonly int _controlled;

    /// <summary>The vectors of the solver, an entry for each component.</summary>
    private DormandPrinceStages<OneLane> _stages;
    private StepControl _control;
    private bool _fresh = true;
    private bool _dense;

    /// <summary>A solver for one system; it holds its own memory and belongs to one thread.</summary>
    public DormandPrince(VectorFunction f, int dimension, int parameterCount, Tolerances tolerances)
        : base(f, dimension, parameterCount, 13)
    {
        (_relative, _controlled) = (tolerances.Relative, tolerances.Controlled);
        OneLane* At(int index) => (OneLane*)Work(index);
        _stages = new()
        {
            Y = (OneLane*)Y,
            Before = (OneLane*)Before,
            K1 = At(0),
            K2 = At(1),
            K3 = At(2),
            K4 = At(3),
            K5 = At(4),
            K6 = At(5),
            K7 = At(6),
            Stage = At(7),
            Absolute = At(8),
            Q1 = At(9),
            Q2 = At(10),
            Q3 = At(11),
            Q4 = At(12),
        };
        // Behind the last component any number that is not zero will do.
        new Span<double>(_stages.Absolute, 4 * Fours).Fill(1);
        tolerances.WriteAbsolute((double*)_stages.Absolute);
    }

    /// <summary>The same vectors, an entry for four components.</summary>
    private ref DormandPrinceStages<FourLanes> Wide =>
        ref Unsafe.As<DormandPrinceStages<OneLane>, DormandPrinceStages<FourLanes>>(ref _stages);

    /// <inheritdoc/>
    protected override void Restart()
    {
        _fresh = true;
        _dense = false;
    }

    /// <inheritdoc/>
    public override void Step(double limit)
    {
        if (_fresh)
        {
            F(Time, Y, P, (double*)_stages.K1);
            if (!AllFinite((double*)_stages.K1, N))
                throw Failed(FailureReason.NotFinite);
            _control = new(FirstLength(limit));
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

    private double FirstLength(double limit)
    {
        var of = _stages;
        return InitialStepSize.Of(F, Time, of.Y, P, of.K1, of.Stage, of.K2, N, of.Absolute, _relative, limit, order: 5);
    }

    /// <summary>Computes a step of length <paramref name="h"/> into the stage vector; returns its scaled error.</summary>
    private double Try(double h)
    {
        var sum =
            N <= Narrow ? OneLane.Sum(_stages.Try(F, Time, h, P, _relative, N)) : FourLanes.Sum(Wide.Try(F, Time, h, P, _relative, Fours));
        return N == 0 ? 0 : Math.Sqrt(sum / _controlled);
    }

    private void Accept(double h, double limit)
    {
        double* y = Y,
            before = Before,
            stage = (double*)_stages.Stage;
        var n = N;
        for (var i = 0; i < n; i++)
        {
            before[i] = y[i];
            y[i] = stage[i];
        }
        _stages.Swap();
        _dense = false;
        StepStart = Time;
        Time = Time + h >= limit ? limit : Time + h;
        Steps++;
        if (!AllFinite((double*)_stages.K1, N) || !AllFinite(Y, N))
            throw Failed(FailureReason.NotFinite);
    }

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
            if (N <= Narrow)
                _stages.Interpolate(h, N);
            else
                Wide.Interpolate(h, Fours);
            _dense = true;
        }
        fixed (double* values = state)
            _stages.At((time - StepStart) / h, (OneLane*)values, Math.Min(N, state.Length));
    }

    /// <summary>
    /// The step just taken times an estimate of the largest rate in the system: near 3.3, the edge of this method's stability, it is
    /// stability and not accuracy that holds the step down.
    /// </summary>
    internal double StepTimesRate()
    {
        var h = Time - StepStart;
        double change,
            distance;
        if (N <= Narrow)
        {
            var (turn, way) = _stages.Stiffness(h, N);
            (change, distance) = (OneLane.Sum(turn), OneLane.Sum(way));
        }
        else
        {
            var (turn, way) = Wide.Stiffness(h, Fours);
            (change, distance) = (FourLanes.Sum(turn), FourLanes.Sum(way));
        }
        return distance > 0 ? h * Math.Sqrt(change / distance) : 0;
    }
}
