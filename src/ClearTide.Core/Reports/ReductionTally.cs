namespace ClearTide.Core.Reports;

/// <summary>What a curve or a condition comes to, summed up while its run is followed.</summary>
/// <param name="kind">What of it.</param>
/// <param name="keepsPath">Whether all its values are kept, for a time that is known only when the run has ended.</param>
internal sealed class ReductionTally(RunReduction kind, bool keepsPath = false)
{
    private readonly List<(double Time, double Value)>? _path = keepsPath ? [] : null;
    private double _from = double.NaN,
        _time,
        _value,
        _start,
        _most = double.NaN,
        _mostTime = double.NaN,
        _least = double.PositiveInfinity,
        _integral,
        _held,
        _first = double.NaN,
        _turn = double.NaN,
        _at = double.NaN;
    private bool _always = true;

    /// <summary>The time that <see cref="RunReduction.Value"/> is about, where it is known beforehand.</summary>
    public double At { private get; init; }

    /// <summary>The curve has got to a time.</summary>
    /// <param name="time">Not before that of the call before.</param>
    /// <param name="value">A condition is 1 where it holds and 0 where not.</param>
    /// <param name="held">Whether the value before stayed until this time; else the curve went straight from there to here.</param>
    public void Take(double time, double value, bool held)
    {
        if (double.IsNaN(_from))
        {
            (_from, _start) = (time, value);
        }
        else if (time > _time)
        {
            var h = time - _time;
            _integral += h * (held ? _value : 0.5 * (_value + value));
            if (_value != 0)
                _held += h;
        }
        switch (kind)
        {
            // The first of several places is the one that counts.
            case RunReduction.Peak or RunReduction.PeakTime when value > _most || double.IsNaN(_most):
                (_most, _mostTime) = (value, time);
                break;
            case RunReduction.Lowest when !(value >= _least):
                _least = value;
                break;
            case RunReduction.Always when value == 0:
                _always = false;
                break;
            case RunReduction.Ever or RunReduction.FirstTime when value != 0 && double.IsNaN(_first):
                _first = time;
                break;
            case RunReduction.Turn when value != _start && double.IsNaN(_turn):
                _turn = time;
                break;
            case RunReduction.Value when time <= At:
                _at = value;
                break;
        }
        _path?.Add((time, value));
        (_time, _value) = (time, value);
    }

    /// <summary>What it has come to.</summary>
    /// <param name="at">The time of <see cref="RunReduction.Value"/>, where it was not known beforehand.</param>
    public double Value(double at = double.NaN) =>
        kind switch
        {
            RunReduction.Peak => _most,
            RunReduction.PeakTime => _mostTime,
            RunReduction.Lowest => _least,
            RunReduction.Mean => _integral / (_time - _from),
            RunReduction.Start => _start,
            RunReduction.End => _value,
            RunReduction.Total => _integral,
            RunReduction.Value when _path is not null => Along(at),
            RunReduction.Value => At >= _from && At <= _time ? _at : double.NaN,
            RunReduction.Ever => double.IsNaN(_first) ? 0 : 1,
            RunReduction.Always => _always ? 1 : 0,
            RunReduction.FirstTime => _first,
            RunReduction.Turn => _turn,
            _ => _held,
        };

    private double Along(double at) =>
        at >= _from && at <= _time ? _path![_path.FindLastIndex(place => place.Time <= at)].Value : double.NaN;
}
