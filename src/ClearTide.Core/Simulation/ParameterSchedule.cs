namespace ClearTide.Core.Simulation;

/// <summary>
/// Parameter values that change at known times and are constant in between, and amounts that are added to states at known times. Each is a
/// discontinuity at which every solver ends a step.
/// </summary>
public sealed class ParameterSchedule
{
    private readonly double[] _times;
    private readonly double[][] _values;
    private readonly GivenAmount[] _given;

    /// <param name="values">The values before any change.</param>
    /// <param name="changes">Times of change, ascending, each with all values from then on.</param>
    /// <param name="given">What is added to states, in any order.</param>
    public ParameterSchedule(
        double[] values,
        IReadOnlyList<(double Time, double[] Values)> changes,
        IReadOnlyList<GivenAmount>? given = null
    )
    {
        _given = given is { Count: > 0 } ? [.. given.OrderBy(one => one.Time)] : [];
        for (var k = 1; k < changes.Count; k++)
        {
            if (changes[k].Time <= changes[k - 1].Time)
                throw new ArgumentException("Times of change must ascend.", nameof(changes));
        }
        _times = [.. changes.Select(change => change.Time)];
        _values = [values, .. changes.Select(change => change.Values)];
    }

    /// <summary>Values that never change.</summary>
    /// <param name="values">One value for each parameter of the network.</param>
    public static ParameterSchedule Constant(double[] values) => new(values, []);

    /// <summary>The values in force at this time; at a change, those after it.</summary>
    /// <param name="time">In the unit of the run.</param>
    public double[] At(double time)
    {
        var k = _times.Length;
        while (k > 0 && _times[k - 1] > time)
            k--;
        return _values[k];
    }

    /// <summary>
    /// Makes the change that is due at a time; false where none is. What an event has set meanwhile is scaled as the value before it would
    /// be, so that a measure acts on it and gives it back at its end.
    /// </summary>
    /// <param name="time">In the model's unit of time.</param>
    /// <param name="values">The values of the run, changed in place.</param>
    public bool Change(double time, Span<double> values)
    {
        var (before, after) = (At(Math.BitDecrement(time)), At(time));
        if (ReferenceEquals(before, after))
            return false;
        for (var k = 0; k < values.Length; k++)
        {
            if (before[k] == after[k])
                continue;
            values[k] = values[k] == before[k] || before[k] == 0 ? after[k] : values[k] * (after[k] / before[k]);
        }
        return true;
    }

    /// <summary>Adds to a state what is given at a time; false where nothing is.</summary>
    /// <param name="time">In the model's unit of time.</param>
    /// <param name="state">The state of the run, changed in place.</param>
    public bool Give(double time, Span<double> state)
    {
        var any = false;
        foreach (var one in _given)
        {
            if (one.Time != time)
                continue;
            state[one.State] += one.Amount;
            any = true;
        }
        return any;
    }

    /// <summary>The first change, or amount given, after this time, or positive infinity.</summary>
    internal double NextChange(double time)
    {
        var next = double.PositiveInfinity;
        foreach (var one in _given)
        {
            if (one.Time > time)
            {
                next = one.Time;
                break;
            }
        }
        foreach (var change in _times)
        {
            if (change > time)
                return Math.Min(change, next);
        }
        return next;
    }
}
