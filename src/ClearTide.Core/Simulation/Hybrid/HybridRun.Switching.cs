namespace ClearTide.Core.Simulation;

/// <summary>
/// Where switches turn on the way of a run: found on the continuous output, crossed, or held where they turn without end.
/// </summary>
internal sealed unsafe partial class HybridRun
{
    /// <summary>
    /// Places within a step at which switches are looked at: one that turns and turns back in between is found if it lasts that long.
    /// </summary>
    private static readonly double[] Looks = [0.25, 0.5, 0.75, 1];

    /// <summary>The first time in a step at which a switch should have turned, or not a number.</summary>
    private double Crossing(double from, double until)
    {
        if (_switches.Count == 0 && _limits is null)
            return double.NaN;
        var low = from;
        foreach (var share in Looks)
        {
            var here = share == 1 ? until : from + share * (until - from);
            if (!Turned(here))
            {
                low = here;
                continue;
            }
            var high = here;
            // To the last digit of time: what turns at an output time turns before it is written.
            var least = Math.Max(Math.BitIncrement(Math.Abs(high)) - Math.Abs(high), 1e-18 * (_end - _start));
            while (high - low > least)
            {
                var middle = 0.5 * (low + high);
                if (middle <= low || middle >= high)
                    break;
                if (Turned(middle))
                    high = middle;
                else
                    low = middle;
            }
            return high;
        }
        return double.NaN;
    }

    private bool Turned(double time)
    {
        _stepper.At(time, _y);
        fixed (double* y = _y)
        fixed (double* p = _p)
        {
            Fill(time, y, p);
            return _limits?.Changes(time, y, p) == true || (_switches.Count > 0 && _switches.Turned(time, y, p));
        }
    }

    /// <summary>Puts switches to what they should be, until one no longer turns another; true where any turned.</summary>
    private bool SettleSwitches(double time)
    {
        var any = false;
        for (var round = 0; round <= _switches.Count + 1; round++)
        {
            fixed (double* y = _y)
            fixed (double* p = _p)
            {
                Fill(time, y, p);
                if (!_switches.Put(time, y, p))
                    return any;
            }
            any = true;
        }
        return any;
    }

    /// <summary>Ends the step at a switch and begins anew behind it.</summary>
    private void Cross(double before, double time)
    {
        Follow(before, time);
        // Where a switch is found within its own error behind an output time, the row there is that after it.
        SampleUntil(time - _record.SwitchError);
        _stepper.At(time, _y);
        Emit(time, ifJump: true);
        UpdateLimits(time);
        SettleSwitches(time);
        Rise(time);
        // What is due at just this time must not be passed over by ending the step here.
        Happen(time);
        Emit(time);
        _chatter.Take(time);
        // What switches without end is no jump that would be felt again later.
        if (_chatter.IsCalm(time))
            _breakingPoints.Add(time);
        Restart(time);
    }

    private void Hold(double time)
    {
        if (!SettleSwitches(time))
            return;
        _chatter.Hold(time);
        Restart(time);
    }
}
