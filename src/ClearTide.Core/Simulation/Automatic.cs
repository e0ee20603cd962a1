using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>
/// Dormand–Prince as long as accuracy sets its steps, the stiff method when stability does, and back when the linearised system has become
/// tame at the steps taken (<see cref="StiffnessWatch"/>).
/// </summary>
public sealed unsafe class Automatic : Stepper
{
    /// <summary>At this product of step and rate the explicit method would take the same step with room to spare.</summary>
    private const double Tame = 1;

    private const int TameSteps = 10;

    private readonly DormandPrince _explicit;
    private readonly Func<Rosenbrock> _make;
    private Rosenbrock? _stiff;
    private bool _isStiff;

    /// <summary>A change of method waits for the next step: continuous output belongs to the one just taken.</summary>
    private bool _change;
    private StiffnessWatch _watch;
    private int _tame;

    /// <param name="f">The right-hand side.</param>
    /// <param name="jacobian">Makes the Jacobian when it is first wanted.</param>
    /// <param name="dimension">How many states there are.</param>
    /// <param name="parameterCount">How many parameters there are.</param>
    /// <param name="tolerances">What error a step may have.</param>
    public Automatic(VectorFunction f, Func<Jacobian> jacobian, int dimension, int parameterCount, Tolerances tolerances)
        : base(f, dimension, parameterCount, 0)
    {
        _explicit = new(f, dimension, parameterCount, tolerances);
        _make = () => new(f, jacobian(), dimension, parameterCount, tolerances);
    }

    /// <summary>Whether the stiff method is in use.</summary>
    public bool IsStiff => _isStiff;

    /// <summary>How many of the steps were taken by the stiff method.</summary>
    public int StiffSteps { get; private set; }

    private Stepper Active => _isStiff ? _stiff! : _explicit;

    /// <inheritdoc/>
    public override ReadOnlySpan<double> State => Active.State;

    internal override double* StateInPlace => Active.StateInPlace;

    /// <summary>What has been seen of stiffness stays: in a run with many events no stretch may be long enough to see it anew.</summary>
    protected override void Restart()
    {
        Active.Start(Time, new ReadOnlySpan<double>(Y, N), new ReadOnlySpan<double>(P, ParameterCount));
    }

    /// <inheritdoc/>
    public override void ChangeParameters(ReadOnlySpan<double> parameters)
    {
        State.CopyTo(new Span<double>(Y, N));
        base.ChangeParameters(parameters);
    }

    /// <inheritdoc/>
    public override void Step(double limit)
    {
        if (_change)
            Change();
        Active.Step(limit);
        (StepStart, Time) = (Active.StepStart, Active.Time);
        Steps++;
        if (_isStiff)
            WatchTame();
        else
            WatchStiffness();
    }

    private void Change()
    {
        State.CopyTo(new Span<double>(Y, N));
        _isStiff = !_isStiff;
        if (_isStiff)
            _stiff ??= _make();
        (_change, _watch, _tame) = (false, default, 0);
        Restart();
    }

    private void WatchStiffness() => _change |= _watch.Takes(_explicit.StepTimesRate() > StiffnessWatch.Suspicious);

    private void WatchTame()
    {
        StiffSteps++;
        _tame = _stiff!.Stiffness * (Time - StepStart) < Tame ? _tame + 1 : 0;
        _change = _tame >= TameSteps;
    }

    /// <inheritdoc/>
    public override void At(double time, Span<double> state) => Active.At(time, state);
}
