using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>
/// The results of a run while it is made: rows at the output times, and where wanted for curves, on both sides of each jump and at the
/// ends of steps
/// that are far shorter than the spacing of output.
/// </summary>
internal sealed unsafe class RunRecord(CompiledModel model, double[] times, Rows rows, bool stepsAreAdaptive)
{
    private readonly DetailRule _details = new(times, rows == Rows.ForCurves && stepsAreAdaptive);

    /// <summary>Both sides of at most this many jumps are kept.</summary>
    private const int MostJumps = 20_000;

    /// <summary>A change by less than this share of the size of a number is the solver's error and no jump.</summary>
    private const double Visible = 1e-7;

    /// <summary>How far a switch may be found from where it is: amounts are good to about a hundred millionth, and so are the times at
    /// which they reach a value.</summary>
    public double SwitchError { get; } = 1e-10 * (times[^1] - times[0]);

    private readonly List<double> _times = new(times.Length);
    private readonly List<double> _states = new(times.Length * model.StateCount);
    private readonly List<double> _outputs = new(times.Length * model.OutputCount);
    private readonly double[] _row = new double[model.OutputCount + 1];
    private readonly double[] _before = new double[model.OutputCount + 1];
    private double[] _stateBefore = [];
    private double _pending = double.NaN;
    private int _next;
    private int _jumps;

    /// <summary>The next output time, or positive infinity.</summary>
    public double NextTime => _next < times.Length ? times[_next] : double.PositiveInfinity;

    public bool IsDue(double time) => NextTime <= time;

    /// <summary>Whether a step shows that the run moves faster than the output times could tell: its end is then a row too.</summary>
    public bool WantsDetail(double from, double until) => _times.Count > 0 && _details.Wants(from, until, _times[^1], NextTime);

    /// <summary>Takes a row between the output times.</summary>
    public void TakeDetail(double time, double[] state, double* parameters, VectorFunction outputs)
    {
        fixed (double* y = state)
        fixed (double* row = _row)
        {
            outputs(time, y, parameters, row);
        }
        Add(time, state, _row);
    }

    /// <summary>Takes the last row of a run that stops short of its span.</summary>
    public void TakeLast(double time, double[] state, double[] parameters, VectorFunction outputs)
    {
        if (_times.Count > 0 && time <= _times[^1])
            return;
        fixed (double* p = parameters)
            TakeDetail(time, state, p, outputs);
    }

    /// <summary>Takes a row. What is known to be the side before a possible jump is kept back until the other side comes.</summary>
    public void Take(double time, double[] state, double* parameters, VectorFunction outputs, bool beforeJump)
    {
        fixed (double* y = state)
        fixed (double* row = beforeJump ? _before : _row)
        {
            outputs(time, y, parameters, row);
        }
        // An output time that was waited with stands at its own time.
        var stamp = Math.Min(time, NextTime);
        if (beforeJump)
        {
            _pending = time;
            _stateBefore = [.. state];
            return;
        }
        if (_pending == time && rows != Rows.AtOutputTimes && _jumps < MostJumps && Jumped())
        {
            Add(stamp, _stateBefore, _before);
            Add(stamp, state, _row);
            _jumps++;
            if (IsDue(time))
                _next++;
        }
        else if (_times.Count > 0 && _times[^1] == time && !IsDue(time) && time == times[0])
        {
            // Something happened at the very start: both sides of it, or the side after.
            if (rows == Rows.AtOutputTimes)
                RemoveLast();
            Add(time, state, _row);
        }
        else if (_pending == time && rows == Rows.AtOutputTimes && _times.Count > 0 && !IsDue(time) && time - _times[^1] <= SwitchError)
        {
            // A step ended at the output time, and the switch was found within its own error behind it.
            var last = _times[^1];
            RemoveLast();
            Add(last, state, _row);
        }
        else if (IsDue(time))
        {
            Add(stamp, state, _row);
            _next++;
        }
        _pending = double.NaN;
    }

    private bool Jumped()
    {
        for (var k = 0; k < model.OutputCount; k++)
        {
            if (Math.Abs(_row[k] - _before[k]) > Visible * (Math.Abs(_row[k]) + Math.Abs(_before[k])))
                return true;
        }
        return false;
    }

    private void Add(double time, double[] state, double[] row)
    {
        _times.Add(time);
        _states.AddRange(state.AsSpan(0, model.StateCount));
        _outputs.AddRange(row.AsSpan(0, model.OutputCount));
    }

    private void RemoveLast()
    {
        _times.RemoveAt(_times.Count - 1);
        _states.RemoveRange(_states.Count - model.StateCount, model.StateCount);
        _outputs.RemoveRange(_outputs.Count - model.OutputCount, model.OutputCount);
    }

    /// <param name="steps">How many steps the run took.</param>
    /// <param name="notes">What the run has to say.</param>
    /// <param name="acts">What events did.</param>
    /// <param name="end">Where another run can go on, or null.</param>
    public Trajectory Finish(int steps, IReadOnlyList<RunNote> notes, IReadOnlyList<EventAct> acts, RunEnd? end = null) =>
        new(model.Network, [.. _times], [.. _states], [.. _outputs], steps, notes) { End = end, Acts = acts };
}
