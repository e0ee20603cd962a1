namespace ClearTide.Core.Simulation;

/// <summary>What happens at one instant of a run: changes of values, draws, switches of time, and events that set off one
/// another.</summary>
internal sealed unsafe partial class HybridRun
{
    /// <summary>Does everything that is due at a time: changes of values, draws, switches of time, events; true where anything
    /// was.</summary>
    private bool Happen(double time)
    {
        var any = time != _start && _schedule.Change(time, _p.AsSpan(0, _network.ParameterCount));
        any |= _schedule.Give(time, _y);
        any |= _draws.Make(time, _p);
        while (_nextChange < _changes.Count && _changes[_nextChange].Time <= time)
        {
            _switches.Turn(_changes[_nextChange].Switch, _changes[_nextChange].Value);
            _nextChange++;
            any = true;
        }
        FillIn(time);
        any |= _events.TakeDue(time, _y, _p);
        if (!any)
            return false;
        UpdateLimits(time);
        SettleSwitches(time);
        Rise(time);
        _breakingPoints.Add(time);
        return true;
    }

    private void UpdateLimits(double time, bool atStart = false)
    {
        fixed (double* y = _y)
        fixed (double* p = _p)
        {
            _limits?.Update(time, y, p, atStart);
        }
    }

    private void FillIn(double time)
    {
        Search(time);
        fixed (double* y = _y)
        fixed (double* p = _p)
        {
            Fill(time, y, p);
        }
    }

    private ReadOnlySpan<double> Conditions(double time)
    {
        if (!_events.HasConditions)
            return [];
        fixed (double* y = _y)
        fixed (double* p = _p)
        fixed (double* values = _conditions)
        {
            _hybrid.Conditions(time, y, p, values);
        }
        return _conditions;
    }

    /// <summary>What waits acts one by one, together with the events whose condition that makes true.</summary>
    private void Rise(double time)
    {
        _actions.Begin();
        while (true)
        {
            FillIn(time);
            _events.TakeRisen(Conditions(time), time, _y, _p);
            if (_events.TakeNext(time, _y, _p) is not { } firing)
                return;
            _actions.Act(firing, time, _y, _p);
            UpdateLimits(time, atStart: true);
            SettleSwitches(time);
        }
    }
}
