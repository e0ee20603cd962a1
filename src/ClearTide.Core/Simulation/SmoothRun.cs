namespace ClearTide.Core.Simulation;

/// <summary>One run of a model whose law is one smooth formula between the changes of its values.</summary>
internal sealed class SmoothRun(
    CompiledModel model,
    double[] state,
    ParameterSchedule schedule,
    double[] times,
    SolverSettings settings,
    Rows rows,
    ISegmentObserver? observer
) : IRunInTime
{
    private readonly int _n = model.StateCount;
    private readonly int _width = model.OutputCount;
    private readonly DetailRule _details = new(times, rows == Rows.ForCurves && settings.IsAdaptive);
    private double[] _at = [];
    private double[] _states = [];
    private double[] _outputs = [];
    private int _count;
    private double[] _parameters = [];
    private readonly Stepper _stepper = Steppers.Create(
        model.RightHandSide,
        model.Jacobian,
        model.StateCount,
        model.Network.ParameterCount,
        settings
    );

    public Trajectory Run(CancellationToken cancel)
    {
        // Room for a usual number of rows between the output times, so that nothing is copied to make more.
        Make(times.Length + _details.Expected);
        var stepper = _stepper;
        var feed = observer is null ? null : new SegmentFeed(model, observer);
        var outputs = model.OutputFunction;
        var watched = new BelowZero(model.Network, settings);
        var (next, end) = (1, times[^1]);
        Span<double> between = new double[_n];
        // Asked of the schedule once for each stretch between its changes, not for each step.
        _parameters = schedule.At(times[0]);
        Sample(times[0], state);
        if (schedule.Give(times[0], state))
            SampleAfter(times[0], state);
        stepper.Start(times[0], state, _parameters);
        while (stepper.Time < end)
        {
            var change = schedule.NextChange(stepper.Time);
            var before = stepper.Time;
            stepper.Step(Math.Min(change, end));
            watched.Check(stepper, before, stepper.Time, _parameters);
            feed?.Take(stepper, before, stepper.Time, _parameters, outputs, null);
            while (next < times.Length && times[next] <= stepper.Time)
            {
                stepper.At(times[next], between);
                Sample(times[next++], between);
            }
            if (_details.Wants(before, stepper.Time, _at[_count - 1], next < times.Length ? times[next] : end))
                Sample(stepper.Time, stepper.State);
            if (stepper.Time == change)
                Change(change, between);
            if ((stepper.Steps & 255) == 0)
                cancel.ThrowIfCancellationRequested();
            if (stepper.Steps > settings.MaximumSteps)
            {
                throw new SimulationException(FailureReason.TooManySteps, stepper.Time, stepper.State.ToArray(), _parameters);
            }
        }
        feed?.End(end, stepper.State, _parameters, outputs);
        return Made(new(schedule.At(end), null));
    }

    /// <summary>At a time at which values change or amounts are given.</summary>
    private void Change(double time, Span<double> room)
    {
        _parameters = schedule.At(time);
        _stepper.State.CopyTo(room);
        if (!schedule.Give(time, room))
        {
            _stepper.ChangeParameters(_parameters);
            return;
        }
        if (rows != Rows.AtOutputTimes && _at[_count - 1] != time)
            Sample(time, _stepper.State);
        SampleAfter(time, room);
        _stepper.Start(time, room, _parameters);
    }

    /// <summary>The row behind what was given: beside the one before it, or in its place where there is one row for a time.</summary>
    private void SampleAfter(double time, ReadOnlySpan<double> y)
    {
        if (rows == Rows.AtOutputTimes)
        {
            if (_at[_count - 1] != time)
                return;
            _count--;
        }
        Sample(time, y);
    }

    private Trajectory Made(RunEnd? end)
    {
        Array.Resize(ref _at, _count);
        return new(model.Network, _at, _states, _outputs, _stepper.Steps, []) { End = end };
    }

    public Trajectory SoFar(SimulationException failure)
    {
        if (_count > 0 && failure.Time > _at[_count - 1] && failure.State.Length == _n && failure.State.All(double.IsFinite))
            Sample(failure.Time, failure.State);
        return Made(null);
    }

    /// <summary>Grows the buffers to a number of rows; existing rows are kept.</summary>
    private void Make(int rows)
    {
        Array.Resize(ref _at, rows);
        Array.Resize(ref _states, rows * _n);
        Array.Resize(ref _outputs, rows * _width);
    }

    private void Sample(double time, ReadOnlySpan<double> y)
    {
        if (_count == _at.Length)
            Make(_count + _count / 2 + 16);
        _at[_count] = time;
        y.CopyTo(_states.AsSpan(_count * _n, _n));
        model.Outputs(time, y, schedule.At(time), _outputs.AsSpan(_count * _width, _width));
        _count++;
    }
}
