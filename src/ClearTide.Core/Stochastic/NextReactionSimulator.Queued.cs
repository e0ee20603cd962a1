using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>A model of many processes: the time at which each will fire stands in a queue, and a firing changes the times of those alone
/// whose rates it changes (the next reaction method; Gibson and Bruck, J. Phys. Chem. A 104, 2000, pp. 1876–1889, section 3).</summary>
internal sealed unsafe partial class NextReactionSimulator
{
    private readonly DependencyGraph? _dependencies;
    private readonly IndexedPriorityQueue? _queue;

    /// <summary>Since when the clock of each process has run at its rate without being brought up to date, and when each fires.</summary>
    private readonly double[] _since = [],
        _firings = [];

    /// <summary>Runs to <paramref name="limit"/>. Clocks are up to date before and after, as in the other ways to run.</summary>
    private double Queued(double t, double limit)
    {
        _rates(t, _y, _p, _rate);
        for (var k = 0; k < _m; k++)
            (_since[k], _firings[k]) = (t, FiresAt(k, t));
        var (queue, affected, rates) = (_queue!, _dependencies!.Affected, _dependencies.Rates);
        double* y = _y,
            p = _p,
            current = _rate;
        queue.Fill(_firings);
        while (queue.Least < limit)
        {
            var next = queue.First;
            t = queue.Least;
            // The clock that has run out is drawn anew; what the other way has left is as it was.
            Fire(t, next, current[next] < 0);
            _since[next] = t;
            foreach (var k in affected[next])
            {
                var rate = rates.Of(k, t, y, p);
                if (k != next)
                {
                    if (rate == current[k])
                        continue;
                    UseClock(k, t);
                }
                current[k] = rate;
                queue.Change(k, FiresAt(k, t));
            }
            Look(t, held: true);
            if ((++_transitions & 0xffff) == 0)
                Guard(t);
        }
        for (var k = 0; k < _m; k++)
            UseClock(k, limit);
        return limit;
    }

    /// <summary>Takes off a clock what has passed on it since it was last looked at.</summary>
    private void UseClock(int k, double t)
    {
        var passed = _rate[k] * (t - _since[k]);
        if (passed >= 0)
            _left[k] = Math.Max(0, _left[k] - passed);
        else
            _leftReverse[k] = Math.Max(0, _leftReverse[k] + passed);
        _since[k] = t;
    }

    /// <summary>When a process fires if its rate stays; its clock is up to date.</summary>
    private double FiresAt(int k, double t)
    {
        var rate = _rate[k];
        if (rate > 0 && rate <= double.MaxValue)
            return t + _left[k] / rate;
        if (rate == 0)
            return double.PositiveInfinity;
        if (!double.IsFinite(rate))
            throw Failed(FailureReason.NotFinite, t);
        StartReverse(k);
        return t + _leftReverse[k] / -rate;
    }
}
