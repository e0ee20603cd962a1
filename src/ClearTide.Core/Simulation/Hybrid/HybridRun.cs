using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>
/// One run of a model with switches, limits, delays, draws or events. Between two of them the law is smooth and any stepper takes it;
/// what is
/// due at a known time ends a step there, and what depends on the state is located on the continuous output by bisection, where the run
/// begins anew.
/// </summary>
internal sealed unsafe partial class HybridRun : IRunInTime
{
    private readonly CompiledModel _model;
    private readonly HybridModel _hybrid;
    private readonly ReactionNetwork _network;
    private readonly ParameterSchedule _schedule;
    private readonly SolverSettings _settings;
    private readonly RunRecord _record;
    private readonly double[] _p;
    private readonly double[] _y;
    private readonly SwitchState _switches;
    private readonly double[] _conditions;
    private readonly Limits? _limits;
    private readonly Draws _draws;
    private readonly EventQueue _events;
    private readonly EventActions _actions;
    private readonly SolutionHistory? _past;
    private readonly ImplicitValues? _implicit;
    private readonly List<SwitchTime> _changes;
    private readonly BreakingPoints _breakingPoints;
    private readonly Chatter _chatter;
    private readonly SegmentFeed? _feed;
    private readonly BelowZero _belowZero;
    private readonly Stepper _stepper;
    private readonly double _start,
        _end;
    private int _nextChange;

    public HybridRun(
        CompiledModel model,
        double[] state,
        ParameterSchedule schedule,
        double[] times,
        SolverSettings settings,
        Rows rows,
        int replicate,
        ISegmentObserver? observer
    )
    {
        _model = model;
        _hybrid = model.Hybrid!;
        _network = model.Network;
        _schedule = schedule;
        _settings = settings;
        (_start, _end) = (times[0], times[^1]);
        _y = [.. state];
        _p = new double[_hybrid.ParameterCount + 1];
        schedule.At(_start).AsSpan(0, _network.ParameterCount).CopyTo(_p);
        _switches = new(_hybrid, _p);
        _conditions = new double[_network.Events.Count + 1];
        model.SolveStart(_start, _p);
        _draws = new(_network, _start, replicate, _p);
        _draws.Make(_start, _p);
        // What was found for the start is what histories before it read.
        foreach (var start in _network.Equilibria)
            _p[start.Slot] = _y[start.State];
        if (_hybrid.Implicit is not null)
        {
            _implicit = new(_hybrid.Implicit);
            _implicit.Begin(_start, _p);
            Search(_start);
        }
        _past = _network.Delays.Count == 0 ? null : new(_network, _hybrid.Delayed, _hybrid.Implicit, _start, _y, _p);
        _breakingPoints = new(_past, _end);
        _chatter = new(_start, _end);
        _events = new(_network, _start, _p);
        _actions = new(_network);
        _limits = _hybrid.Limits is { } limits ? new(limits) : null;
        (var first, _changes) = SwitchTimes.Find(_hybrid.Network.Graph, _hybrid.Switches, _start, _end, _p);
        _switches.Begin(first);
        var law = Law();
        // Delayed values and limits are filled in by more than formulas.
        _stepper = Steppers.Create(
            law,
            () => !Fills ? model.Jacobian() : new DifferenceJacobian(law, _model.StateCount, settings.AbsoluteTolerance),
            _model.StateCount,
            _hybrid.ParameterCount,
            settings
        );
        _record = new(model, times, rows, settings.IsAdaptive);
        _belowZero = new(_network, settings);
        _feed = observer is null ? null : new(model, observer);
    }

    /// <summary>The law with delayed values and limits filled in before each call.</summary>
    private VectorFunction Law()
    {
        var smooth = _hybrid.RightHandSide;
        if (!Fills)
            return smooth;
        return (time, y, p, results) =>
        {
            _side = time == _stepper!.Time ? 1 : -1;
            Fill(time, y, p);
            _side = 1;
            smooth(time, y, p, results);
        };
    }

    /// <summary>Whether a law reads more from its parameters than values and switches.</summary>
    private bool Fills => _past is not null || _limits is not null || _implicit is not null;

    private void Fill(double time, double* y, double* p)
    {
        _past?.Fill(time, _side * Nudge, y, p);
        _implicit?.Fill(time, y, p);
        _limits?.Fill(time, y, p);
    }

    /// <summary>Where a delayed quantity jumps, a step that begins there sees the far side and one that ends there the near side.</summary>
    private int _side = 1;

    private double _stretch;

    private double Nudge => 1e-12 * (_end - _start);

    public Trajectory Run(CancellationToken cancel)
    {
        SettleSwitches(_start);
        UpdateLimits(_start, atStart: true);
        _events.Note(Conditions(_start));
        _breakingPoints.Add(_start);
        Emit(_start);
        var acted = Happen(_start);
        if (!acted && _network.Events.Any(rule => rule.ActsAtStart))
        {
            Rise(_start);
            acted = true;
        }
        if (acted)
            Emit(_start);
        Restart(_start);
        while (_stepper.Time < _end)
        {
            var before = _stepper.Time;
            var stop = NextStop(before);
            if (_chatter.HeldUntil > before)
                stop = Math.Min(stop, _chatter.HeldUntil);
            Step(Math.Min(stop, _past is null ? double.PositiveInfinity : before + _past.Shortest));
            var crossing = _stepper.Time <= _chatter.HeldUntil ? double.NaN : Crossing(before, _stepper.Time);
            if (!double.IsNaN(crossing))
                Cross(before, crossing);
            else
                Advance(before, stop);
            Guard(cancel);
        }
        _limits?.End(_end);
        _feed?.End(_end, _stepper.State, _p, _hybrid.Outputs);
        return _record.Finish(_stepper.Steps, Notes, _actions.Acts, new(_p[.._network.ParameterCount], _events));
    }

    private IReadOnlyList<RunNote> Notes => [.. _chatter.Notes, .. _limits?.Notes ?? [], .. _actions.Notes];

    public Trajectory SoFar(SimulationException failure)
    {
        _limits?.End(failure.Time);
        if (failure.State.Length == _y.Length && failure.State.All(double.IsFinite))
            _record.TakeLast(failure.Time, failure.State, _p, _hybrid.Outputs);
        return _record.Finish(_stepper.Steps, Notes, _actions.Acts);
    }

    private double NextStop(double time)
    {
        var stop = Math.Min(Math.Min(_schedule.NextChange(time), _end), Math.Min(_draws.Next, _events.Next));
        if (_nextChange < _changes.Count)
            stop = Math.Min(stop, _changes[_nextChange].Time);
        return Math.Max(Math.Min(stop, _breakingPoints.Next(time)), Math.BitIncrement(time));
    }

    /// <summary>One step; where a branch cannot be continued to the place of its own switch, the switches are looked at just
    /// ahead.</summary>
    private void Step(double limit)
    {
        try
        {
            _stepper.Step(limit);
        }
        catch (SimulationException failure) when (failure.Reason is FailureReason.StepTooSmall or FailureReason.NotFinite)
        {
            var time = _stepper.Time;
            _stepper.State.CopyTo(_y);
            var ahead = Math.Min(limit, time + 1e-9 * (_end - _start));
            var slope = new double[_y.Length];
            fixed (double* y = _y)
            fixed (double* p = _p)
            fixed (double* f = slope)
            {
                _hybrid.RightHandSide(time, y, p, f);
                for (var i = 0; i < slope.Length; i++)
                    y[i] += (ahead - time) * f[i];
            }
            if (!_y.All(double.IsFinite))
                throw;
            var settled = SettleSwitches(ahead);
            CheckSolved(ahead);
            if (!settled)
                throw;
            // The first time both sides of the switch are in reach; the jump over it is as short as the solver's own last step.
            Restart(ahead);
        }
    }

    /// <summary>Keeps what is needed of a smooth stretch that the run has passed.</summary>
    private void Follow(double before, double time)
    {
        _belowZero.Check(_stepper, before, time, _p);
        if (_implicit is not null)
            FollowImplicit(before, time);
        _past?.Keep(_stepper, before, time);
        _stretch = before;
        _feed?.Take(_stepper, before, time, _p, _hybrid.Outputs, Fills ? FillWithin : null);
    }

    /// <summary>Where a stretch begins it sees the far side of a jump of what is delayed, everywhere else the near side.</summary>
    private void FillWithin(double time, double* y, double* p)
    {
        _side = time > _stretch ? -1 : 1;
        Fill(time, y, p);
        _side = 1;
    }

    /// <summary>Takes up a whole step, and what is due at its end.</summary>
    private void Advance(double before, double stop)
    {
        var time = _stepper.Time;
        Follow(before, time);
        _limits?.Hold(_stepper.StateInPlace);
        SampleUntil(time);
        _stepper.State.CopyTo(_y);
        // While a state of the switches is held they may turn without ending steps, but not for longer.
        if (time <= _chatter.HeldUntil && time == stop)
            Hold(time);
        if (time < stop)
        {
            if (_record.IsDue(time))
                Emit(time);
            else if (_record.WantsDetail(before, time))
                Emit(time, isDetail: true);
            return;
        }
        Emit(time, ifJump: true);
        if (Happen(time) || _breakingPoints.Contains(time))
            Restart(time);
        Emit(time);
    }

    private void Restart(double time)
    {
        _past?.KeepParameters(time, _p);
        _stepper.Start(time, _y, _p.AsSpan(0, _hybrid.ParameterCount));
    }

    private void Guard(CancellationToken cancel)
    {
        var time = _stepper.Time;
        if ((_stepper.Steps & 63) == 0)
            cancel.ThrowIfCancellationRequested();
        if (_stepper.Steps > _settings.MaximumSteps)
            throw Failed(FailureReason.TooManySteps, -1);
    }

    private SimulationException Failed(FailureReason reason, int index) =>
        new(reason, _stepper.Time, _stepper.State.ToArray(), _p[.._network.ParameterCount]) { Index = index };
}
