using System.Runtime.CompilerServices;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>How a run gets from one instant to the next: with rates that stand still, that vary in time, or with amounts that
/// flow.</summary>
internal sealed unsafe partial class NextReactionSimulator
{
    /// <summary>Runs to <paramref name="limit"/> by the compiled step; what is unusual for it goes the long way, one transition at a
    /// time.</summary>
    private double Stepped(double t, double limit)
    {
        double* left = _left,
            y = _y,
            p = _p,
            net = _net;
        var streams = (RandomStream*)Unsafe.AsPointer(ref _forward[0]);
        var step = _step!;
        // Counted here and not in the field: this is the innermost loop of all runs by chance.
        long transitions = _transitions,
            blocked = 0;
        double reached;
        while (true)
        {
            var next = step(t, y, p, left, limit, &reached, streams, net);
            if (next == ClockStep.None)
                break;
            if (next == ClockStep.Unusual)
            {
                _transitions = transitions;
                reached = Constant(t, limit, single: true);
                if (_transitions == transitions)
                    break;
                (t, transitions) = (reached, _transitions);
                continue;
            }
            if (next == ClockStep.Blocked)
                blocked++;
            t = reached;
            Look(t, held: true);
            if ((++transitions & 0xffff) != 0)
                continue;
            _transitions = transitions;
            Guard(t);
        }
        _transitions = transitions;
        _blocked += blocked;
        return limit;
    }

    /// <summary>Runs to <paramref name="limit"/> with rates that change at transitions only, or past a single transition.</summary>
    private double Constant(double t, double limit, bool single)
    {
        double* rate = _rate,
            left = _left,
            y = _y,
            p = _p;
        var m = _m;
        var rates = _rates;
        while (true)
        {
            rates(t, y, p, rate);
            var wait = double.PositiveInfinity;
            var next = -1;
            var oneWay = true;
            for (var k = 0; k < m; k++)
            {
                var r = rate[k];
                if (r > 0)
                {
                    var until = left[k] / r;
                    if (until < wait)
                    {
                        wait = until;
                        next = k;
                    }
                }
                else if (!(r == 0))
                {
                    oneWay = false;
                    ReverseWait(k, r, t, ref wait, ref next);
                }
            }
            var fires = t + wait < limit;
            var elapsed = fires ? wait : limit - t;
            for (var k = 0; k < m; k++)
                left[k] -= rate[k] * elapsed;
            if (!oneWay)
                UseReverse(elapsed);
            if (!fires)
                return limit;
            if (wait == 0 && !double.IsFinite(rate[next]))
                throw Failed(FailureReason.NotFinite, t);
            t += wait;
            Fire(t, next, rate[next] < 0);
            Look(t, held: true);
            if ((++_transitions & 0xffff) == 0)
                Guard(t);
            if (single)
                return t;
        }
    }

    /// <summary>Puts back what a backwards rate took off the forward clock, and takes it off the reverse one.</summary>
    private void UseReverse(double elapsed)
    {
        for (var k = 0; k < _m; k++)
        {
            if (_rate[k] >= 0)
                continue;
            _left[k] += _rate[k] * elapsed;
            _leftReverse[k] += _rate[k] * elapsed;
        }
    }

    /// <summary>A net flow that runs backwards has a second clock, started when it is first needed.</summary>
    [MethodImpl(MethodImplOptions.NoInlining)]
    private void ReverseWait(int k, double rate, double t, ref double wait, ref int next)
    {
        if (!double.IsFinite(rate))
            throw Failed(FailureReason.NotFinite, t);
        StartReverse(k);
        var until = _leftReverse[k] / -rate;
        if (until >= wait)
            return;
        wait = until;
        next = k;
    }

    private void StartReverse(int k)
    {
        if (_reverseStarted[k])
            return;
        _reverseStarted[k] = true;
        _reverse[k] = new RandomStream(_seed, _replicate, "transition", StreamId(k), 1);
        _leftReverse[k] = _reverse[k].NextExponential();
    }

    /// <summary>Runs to <paramref name="limit"/>, past one transition, or to where a condition turns, with amounts that flow
    /// meanwhile.</summary>
    private double Flowing(double t, double limit, StochasticInstants instants)
    {
        _flow!.Start(t, _state, _parameters.AsSpan(0, _model.Network.ParameterCount));
        double LeftReverse(int k)
        {
            StartReverse(k);
            return _leftReverse[k];
        }
        t = _flow.Advance(limit, _left, LeftReverse, instants, _state, _cancel, out var next, out var backwards);
        var forwards = _flow.Forwards;
        var reverse = _flow.Backwards;
        for (var k = 0; k < _m; k++)
        {
            if (!_byChance[k])
            {
                _net[k] += forwards[k];
                continue;
            }
            _left[k] = Math.Max(0, _left[k] - forwards[k]);
            if (_reverseStarted[k])
                _leftReverse[k] = Math.Max(0, _leftReverse[k] - reverse[k]);
        }
        if (next < 0)
            return t;
        Look(t, held: false);
        Fire(t, next, backwards);
        if ((++_transitions & 0xff) == 0)
            Guard(t);
        return t;
    }

    /// <summary>Runs to <paramref name="limit"/> with rates that also change with time.</summary>
    private double Varying(double t, double limit, bool single)
    {
        var stretches = 0;
        while (t < limit)
        {
            var end = _timed!.Advance(t, limit, _y, _p);
            var used = _timed.Used;
            for (var k = 0; k < _m; k++)
            {
                if (!double.IsFinite(used[k]))
                    throw Failed(FailureReason.NotFinite, t);
                if (used[k] < 0)
                    StartReverse(k);
            }
            var next = _timed.FirstToRunOut(_left, _leftReverse, ref end);
            for (var k = 0; k < _m; k++)
            {
                if (used[k] >= 0)
                    _left[k] = Math.Max(0, _left[k] - used[k]);
                else
                    _leftReverse[k] = Math.Max(0, _leftReverse[k] + used[k]);
            }
            if ((++stretches & 0xfff) == 0)
                _cancel.ThrowIfCancellationRequested();
            var backwards = next >= 0 && used[next] < 0;
            t = end;
            if (next < 0)
                continue;
            Fire(t, next, backwards);
            Look(t, held: true);
            if ((++_transitions & 0xff) == 0)
                Guard(t);
            if (single)
                return t;
        }
        return t;
    }
}
