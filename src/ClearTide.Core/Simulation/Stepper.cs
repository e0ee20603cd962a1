using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>
/// The stepping base of all solvers of y' = f(t, y; p): holds state, parameters and work space in one pinned block, and the last step
/// taken,
/// over which each method offers continuous output. One stepper serves one thread.
/// </summary>
public abstract unsafe class Stepper
{
    private readonly double[] _memory;
    private readonly int _stride;

    /// <summary>The right-hand side.</summary>
    protected readonly VectorFunction F;

    /// <summary>Length of the state vector.</summary>
    protected readonly int N;

    /// <summary>State at <see cref="Time"/>.</summary>
    protected readonly double* Y;

    /// <summary>State at <see cref="StepStart"/>.</summary>
    protected readonly double* Before;

    /// <summary>The parameter vector of the present stretch.</summary>
    protected readonly double* P;
    private readonly double* _work;

    /// <param name="f">The right-hand side.</param>
    /// <param name="dimension">Number of states.</param>
    /// <param name="parameterCount">Number of parameters.</param>
    /// <param name="workVectors">How many vectors of work space the method needs.</param>
    protected Stepper(VectorFunction f, int dimension, int parameterCount, int workVectors)
    {
        F = f;
        N = dimension;
        ParameterCount = parameterCount;
        // Each vector begins where four numbers are read at once and ends with zeros up to the next four.
        _stride = (dimension + 3) & ~3;
        _memory = GC.AllocateArray<double>(_stride * (2 + workVectors) + parameterCount + 4, pinned: true);
        Y = (double*)(((nint)System.Runtime.CompilerServices.Unsafe.AsPointer(ref _memory[0]) + 31) & ~31);
        Before = Y + _stride;
        _work = Before + _stride;
        P = _work + workVectors * _stride;
    }

    /// <summary>Length of the parameter vector.</summary>
    protected int ParameterCount { get; }

    /// <summary>The time reached.</summary>
    public double Time { get; protected set; }

    /// <summary>Where the last step began.</summary>
    public double StepStart { get; protected set; }

    /// <summary>Accepted steps so far.</summary>
    public int Steps { get; protected set; }

    /// <summary>A work vector of length N.</summary>
    /// <param name="index">Counted from 0, below the number asked for at the making.</param>
    protected double* Work(int index) => _work + index * _stride;

    /// <summary>How many groups of four numbers a vector takes; what is behind its N numbers is zero as long as nobody writes
    /// there.</summary>
    protected int Fours => _stride / 4;

    /// <summary>Puts the stepper at a time and state; forgets everything before.</summary>
    /// <param name="time">The time to go on from.</param>
    /// <param name="state">One value for each state of the network.</param>
    /// <param name="parameters">One value for each parameter of the network.</param>
    public void Start(double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters)
    {
        Time = StepStart = time;
        state.CopyTo(new Span<double>(Y, N));
        parameters.CopyTo(new Span<double>(P, ParameterCount));
        new Span<double>(Y, N).CopyTo(new Span<double>(Before, N));
        Restart();
    }

    /// <summary>Changes the parameters at the time reached: a discontinuity of f.</summary>
    /// <param name="parameters">One value for each parameter of the network.</param>
    public virtual void ChangeParameters(ReadOnlySpan<double> parameters)
    {
        parameters.CopyTo(new Span<double>(P, ParameterCount));
        Restart();
    }

    /// <summary>Called where f has changed, so that nothing of the step before is carried over.</summary>
    protected abstract void Restart();

    /// <summary>Takes one step that does not go beyond <paramref name="limit"/>.</summary>
    /// <param name="limit">A time after the one reached.</param>
    /// <exception cref="SimulationException">The state became infinite or not a number, or no step is small enough.</exception>
    public abstract void Step(double limit);

    /// <summary>Writes the state at a time within the last step.</summary>
    /// <param name="time">Within the last step, its ends included.</param>
    /// <param name="state">Takes one value for each state.</param>
    public abstract void At(double time, Span<double> state);

    /// <summary>The state at <see cref="Time"/>.</summary>
    public virtual ReadOnlySpan<double> State => new(Y, N);

    /// <summary>The state at <see cref="Time"/>, for corrections as small as the solver's own error.</summary>
    internal virtual double* StateInPlace => Y;

    /// <summary>The failure of the present step, with where it stopped.</summary>
    /// <param name="reason">Why it stopped.</param>
    protected SimulationException Failed(FailureReason reason) =>
        new(reason, Time, State.ToArray(), new ReadOnlySpan<double>(P, ParameterCount).ToArray());

    /// <summary>Whether all entries of a vector are finite numbers.</summary>
    /// <param name="vector">The first of its entries.</param>
    /// <param name="count">How many there are.</param>
    protected static bool AllFinite(double* vector, int count)
    {
        // Zero times anything finite is zero; infinite and not-a-number leave a mark in the sum.
        var mark = 0.0;
        for (var i = 0; i < count; i++)
            mark += vector[i] * 0;
        return mark == 0;
    }
}
