using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>
/// Explicit methods at a fixed step of calculation. Steps are cut where a limit asks for it. Continuous output is the cubic Hermite
/// interpolant (Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I, 2nd ed., II.6), of order 3.
/// </summary>
public abstract unsafe class FixedStep : Stepper
{
    private readonly double _step;
    private readonly double* _after;
    private double _origin;
    private long _count;
    private bool _hasAfter;

    /// <summary>The slope where the last step began.</summary>
    protected readonly double* First;

    /// <summary>Work space for the argument of a stage.</summary>
    protected readonly double* Stage;

    /// <param name="f">The right-hand side.</param>
    /// <param name="dimension">How many states there are.</param>
    /// <param name="parameterCount">How many parameters there are.</param>
    /// <param name="step">The step of calculation, in units of time; positive.</param>
    /// <param name="stages">How many slopes the method needs besides the first.</param>
    protected FixedStep(VectorFunction f, int dimension, int parameterCount, double step, int stages)
        : base(f, dimension, parameterCount, 3 + stages)
    {
        if (!(step > 0) || !double.IsFinite(step))
            throw new ArgumentOutOfRangeException(nameof(step), step, "The step must be positive.");
        _step = step;
        First = Work(0);
        Stage = Work(1);
        _after = Work(2);
    }

    /// <summary>A slope of a stage after the first, counted from 0.</summary>
    /// <param name="index">Counted from 0.</param>
    protected double* Slope(int index) => Work(3 + index);

    /// <inheritdoc/>
    protected override void Restart()
    {
        _origin = Time;
        _count = 0;
    }

    /// <inheritdoc/>
    public sealed override void Step(double limit)
    {
        // Step ends are multiples of the step from the last discontinuity, so that no rounding piles up.
        var end = _origin + (_count + 1) * _step;
        if (end >= limit - 1e-9 * _step)
            end = limit;
        var start = Time;
        F(start, Y, P, First);
        if (Advance(start, end) != 0)
        {
            new Span<double>(Before, N).CopyTo(new Span<double>(Y, N));
            throw Failed(FailureReason.NotFinite);
        }
        _hasAfter = false;
        StepStart = start;
        Time = end;
        _count++;
        Steps++;
    }

    /// <summary>Moves the state from one time to another, and what it was to <see cref="Stepper.Before"/>; <see cref="First"/> holds the
    /// slope at the start.</summary>
    /// <param name="start">The time reached.</param>
    /// <param name="end">The time to reach, at most a step later.</param>
    /// <returns>Zero; infinite or not a number where the new state is so.</returns>
    protected abstract double Advance(double start, double end);

    /// <summary>Adds an increment to a component of the state and keeps what it was. The pointers are the caller's own locals, which stay
    /// in registers.</summary>
    /// <param name="state">The state, one value for each component.</param>
    /// <param name="before">Takes what the component was.</param>
    /// <param name="index">Of the component, from 0.</param>
    /// <param name="increment">What is added.</param>
    protected static double Take(double* state, double* before, int index, double increment)
    {
        var old = state[index];
        before[index] = old;
        var next = old + increment;
        state[index] = next;
        return next * 0;
    }

    /// <inheritdoc/>
    public sealed override void At(double time, Span<double> state)
    {
        var h = Time - StepStart;
        if (h == 0 || time == Time)
        {
            State.CopyTo(state);
            return;
        }
        if (!_hasAfter)
            F(Time, Y, P, _after);
        _hasAfter = true;
        var s = (time - StepStart) / h;
        for (var i = 0; i < N; i++)
        {
            var difference = Y[i] - Before[i];
            state[i] =
                (1 - s) * Before[i] + s * Y[i] + s * (s - 1) * ((1 - 2 * s) * difference + (s - 1) * h * First[i] + s * h * _after[i]);
        }
    }
}
