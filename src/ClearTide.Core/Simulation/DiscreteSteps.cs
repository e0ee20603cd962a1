using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>
/// Difference equations y(k + 1) = y(k) + f(t(k), y(k)): what f gives is the change over a whole step, fixed where the step begins and
/// made where
/// it ends. In between the state is held. Steps are counted from where the run starts; a limit between two of them does not move the grid.
/// </summary>
internal sealed unsafe class DiscreteSteps : Stepper
{
    private readonly double _step;
    private readonly double* _change;
    private double _origin = double.NaN;
    private long _count;
    private bool _isFixed;

    /// <param name="f">The right-hand side.</param>
    /// <param name="dimension">How many states there are.</param>
    /// <param name="parameterCount">How many parameters there are.</param>
    /// <param name="step">Length of a step, in units of time; positive.</param>
    public DiscreteSteps(VectorFunction f, int dimension, int parameterCount, double step)
        : base(f, dimension, parameterCount, 1)
    {
        if (!(step > 0) || !double.IsFinite(step))
            throw new ArgumentOutOfRangeException(nameof(step), step, "The step must be positive.");
        _step = step;
        _change = Work(0);
    }

    protected override void Restart()
    {
        if (double.IsNaN(_origin))
            _origin = Time;
    }

    public override void Step(double limit)
    {
        if (!_isFixed)
        {
            F(Time, Y, P, _change);
            _isFixed = true;
        }
        State.CopyTo(new Span<double>(Before, N));
        StepStart = Time;
        var end = _origin + (_count + 1) * _step;
        if (limit < end - 1e-9 * _step)
        {
            Time = limit;
            return;
        }
        // The end and a limit that stands there may differ by rounding; the limit is what others look for.
        Time = Math.Abs(limit - end) <= 1e-9 * _step ? limit : end;
        for (var i = 0; i < N; i++)
            Y[i] += _change[i];
        _count++;
        Steps++;
        _isFixed = false;
        if (!AllFinite(Y, N))
        {
            new Span<double>(Before, N).CopyTo(new Span<double>(Y, N));
            throw Failed(FailureReason.NotFinite);
        }
    }

    public override void At(double time, Span<double> state) => new ReadOnlySpan<double>(time >= Time ? Y : Before, N).CopyTo(state);
}
