using System.Runtime.CompilerServices;
using ClearTide.Core.Formulas;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// One exact chance run, recorded at given times: amounts, and how often each process has fired by then (reverse firings count as minus one).
/// </summary>
/// <param name="States">Amounts, time by time.</param>
/// <param name="Counts">Net firings since the start, time by time.</param>
/// <param name="Transitions">All firings.</param>
/// <param name="Blocked">Firings that did not act, because the compartment they leave held less than one unit.</param>
public sealed record ExactRun(double[] States, double[] Counts, long Transitions, long Blocked);

/// <summary>
/// The exact law of the chance process, by a unit-rate Poisson clock for each process and direction in its own internal time (the modified
/// next reaction method; Anderson, J. Chem. Phys. 127, 2007, 214107, section III). Each clock has its own random stream, so that two runs
/// with the same seed share their chance process by process. Rates that depend on time are integrated between transitions (section IV).
/// An instance serves one thread; a run depends on nothing but its arguments.
/// </summary>
public sealed unsafe class ExactSimulation
{
    private readonly CompiledModel _model;
    private readonly VectorFunction _rates;
    private readonly int _n;
    private readonly int _m;
    private readonly double[] _memory;
    private readonly double* _y, _p, _rate, _left, _leftReverse, _net;
    private readonly int[] _ends;
    private readonly int* _from, _to;
    private readonly RandomStream[] _forward;
    private readonly RandomStream[] _reverse;
    private readonly bool[] _reverseStarted;
    private readonly FanOut?[]? _fans;
    private readonly SeveralChanges?[]? _several;
    private readonly TimedRates? _timed;
    private readonly ClockStepFunction? _step;

    /// <summary>A run with more transitions than this is stopped.</summary>
    public long MaximumTransitions { get; init; } = MostTransitions;

    /// <summary>A run that takes more transitions than this is given up, unless it is told otherwise.</summary>
    public const long MostTransitions = 500_000_000;

    public ExactSimulation(CompiledModel model)
    {
        _model = model;
        _rates = model.ChanceRates.Function;
        _step = model.ChanceRates.Step;
        _n = model.StateCount;
        _m = model.Form.Processes.Count;
        var parameters = model.Form.ParameterCount + model.ChanceRates.SumCount;
        _memory = GC.AllocateArray<double>(_n + 1 + parameters + 4 * _m + 1, pinned: true);
        _y = (double*)Unsafe.AsPointer(ref _memory[0]);
        // One more state stands for the outside: it gives and takes without end.
        _p = _y + _n + 1;
        _rate = _p + parameters;
        _left = _rate + _m;
        _leftReverse = _left + _m;
        _net = _leftReverse + _m;
        _forward = GC.AllocateArray<RandomStream>(_m + 1, pinned: true);
        _reverse = new RandomStream[_m];
        _reverseStarted = new bool[_m];
        _ends = GC.AllocateArray<int>(2 * _m + 1, pinned: true);
        _from = (int*)Unsafe.AsPointer(ref _ends[0]);
        _to = _from + _m;
        for (var k = 0; k < _m; k++)
        {
            var changes = model.Form.Processes[k].Changes;
            if (SeveralChanges.Needs(model.Form.Processes[k])) (_several ??= new SeveralChanges[_m])[k] = new(model.Form.Processes[k]);
            _from[k] = changes.Where(change => change.Coefficient < 0).Select(change => change.State).FirstOrDefault(_n);
            _to[k] = changes.Where(change => change.Coefficient > 0).Select(change => change.State).FirstOrDefault(_n);
            if (changes.Any(change => change.Share >= 0)) (_fans ??= new FanOut[_m])[k] = new(model.Form, model.Form.Processes[k], _n);
        }
        if (model.ChanceRates.DependOnTime) _timed = new TimedRates(_rates, _m);
    }

    /// <param name="start">Amounts at the first of <paramref name="times"/>, whole numbers.</param>
    /// <param name="times">Ascending times at which the run is recorded.</param>
    /// <exception cref="SimulationException">A rate became infinite or not a number, or the run takes too many transitions.</exception>
    public ExactRun Run(ReadOnlySpan<double> start, ParameterSchedule schedule, double[] times, long seed, int replicate, CancellationToken cancel = default)
    {
        var states = new double[times.Length * _n];
        var counts = new double[times.Length * _m];
        new Span<double>(_net, _m).Clear();
        long transitions = 0, blocked = 0;
        start.CopyTo(new Span<double>(_y, _n));
        _y[_n] = double.PositiveInfinity;
        _model.ChanceRates.WriteSums(start, new Span<double>(_p + _model.Form.ParameterCount, _model.ChanceRates.SumCount));
        for (var k = 0; k < _m; k++)
        {
            _forward[k] = new RandomStream(seed, replicate, "transition", StreamId(k));
            _left[k] = _forward[k].NextExponential();
            _reverseStarted[k] = false;
            _fans?[k]?.Start(seed, replicate);
        }
        var t = times[0];
        UseParameters(schedule.At(t));
        var events = _model.Form.Events.Count > 0 ? new ScheduledEvents(_model.Form, t, schedule.At(t)) : null;
        var record = 0;
        var change = schedule.NextChange(t);
        while (true)
        {
            if (t >= change)
            {
                UseChanges(schedule, t);
                change = schedule.NextChange(t);
            }
            if (events is not null && events.Next <= t) events.Act(t, new Span<double>(_y, _n), new Span<double>(_p, _model.Form.ParameterCount));
            while (record < times.Length && times[record] <= t)
            {
                new Span<double>(_y, _n).CopyTo(states.AsSpan(record * _n, _n));
                new Span<double>(_net, _m).CopyTo(counts.AsSpan(record * _m, _m));
                record++;
            }
            if (record == times.Length) return new(states, counts, transitions, blocked);
            var limit = Math.Min(Math.Min(times[record], change), events?.Next ?? double.PositiveInfinity);
            t = _timed is null
                ? _step is not null ? Stepped(t, limit, ref transitions, ref blocked, seed, replicate, cancel) : Constant(t, limit, ref transitions, ref blocked, seed, replicate, cancel)
                : Varying(t, limit, ref transitions, ref blocked, seed, replicate, cancel);
        }
    }

    /// <summary>Each stage of a flow has streams of its own.</summary>
    private string StreamId(int k) => _model.Form.Processes[k] is { Stage: > 0 } later ? $"{later.Id}#{later.Stage}" : _model.Form.Processes[k].Id;

    private void UseParameters(double[] values) => values.CopyTo(new Span<double>(_p, values.Length));

    /// <summary>Takes over what a schedule changes at a time; what events have set stays.</summary>
    private void UseChanges(ParameterSchedule schedule, double time)
    {
        var (before, after) = (schedule.At(Math.BitDecrement(time)), schedule.At(time));
        for (var k = 0; k < after.Length; k++)
        {
            if (before[k] != after[k]) _p[k] = after[k];
        }
    }

    /// <summary>Runs to <paramref name="limit"/> by the compiled step; what is unusual for it goes the long way, one transition at a time.</summary>
    private double Stepped(double t, double limit, ref long transitions, ref long blocked, long seed, int replicate, CancellationToken cancel)
    {
        double* left = _left, y = _y, p = _p, net = _net;
        var streams = (RandomStream*)Unsafe.AsPointer(ref _forward[0]);
        var step = _step!;
        double reached;
        while (true)
        {
            var next = step(t, y, p, left, limit, &reached, streams, net);
            if (next == ClockStep.None) return limit;
            if (next == ClockStep.Unusual)
            {
                var before = transitions;
                reached = Constant(t, limit, ref transitions, ref blocked, seed, replicate, cancel, single: true);
                if (transitions == before) return limit;
                t = reached;
                continue;
            }
            if (next == ClockStep.Blocked) blocked++;
            t = reached;
            if ((++transitions & 0xffff) == 0) Guard(transitions, t, cancel);
        }
    }

    /// <summary>Runs to <paramref name="limit"/> with rates that change at transitions only, or past a single transition.</summary>
    private double Constant(double t, double limit, ref long transitions, ref long blocked, long seed, int replicate, CancellationToken cancel, bool single = false)
    {
        double* rate = _rate, left = _left, y = _y, p = _p;
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
                    ReverseWait(k, r, t, seed, replicate, ref wait, ref next);
                }
            }
            var fires = t + wait < limit;
            var elapsed = fires ? wait : limit - t;
            for (var k = 0; k < m; k++) left[k] -= rate[k] * elapsed;
            if (!oneWay) UseReverse(elapsed);
            if (!fires) return limit;
            if (wait == 0 && !double.IsFinite(rate[next])) throw Failed(FailureReason.NotFinite, t);
            t += wait;
            Fire(next, rate[next] < 0, ref blocked);
            if ((++transitions & 0xffff) == 0) Guard(transitions, t, cancel);
            if (single) return t;
        }
    }

    /// <summary>Puts back what a backwards rate took off the forward clock, and takes it off the reverse one.</summary>
    private void UseReverse(double elapsed)
    {
        for (var k = 0; k < _m; k++)
        {
            if (_rate[k] >= 0) continue;
            _left[k] += _rate[k] * elapsed;
            _leftReverse[k] += _rate[k] * elapsed;
        }
    }

    /// <summary>A net flow that runs backwards has a second clock, started when it is first needed.</summary>
    [MethodImpl(MethodImplOptions.NoInlining)]
    private void ReverseWait(int k, double rate, double t, long seed, int replicate, ref double wait, ref int next)
    {
        if (!double.IsFinite(rate)) throw Failed(FailureReason.NotFinite, t);
        StartReverse(k, seed, replicate);
        var until = _leftReverse[k] / -rate;
        if (until >= wait) return;
        wait = until;
        next = k;
    }

    private void StartReverse(int k, long seed, int replicate)
    {
        if (_reverseStarted[k]) return;
        _reverseStarted[k] = true;
        _reverse[k] = new RandomStream(seed, replicate, "transition", StreamId(k), 1);
        _leftReverse[k] = _reverse[k].NextExponential();
    }

    /// <summary>Runs to <paramref name="limit"/> with rates that also change with time.</summary>
    private double Varying(double t, double limit, ref long transitions, ref long blocked, long seed, int replicate, CancellationToken cancel)
    {
        var stretches = 0;
        while (t < limit)
        {
            var end = _timed!.Advance(t, limit, _y, _p);
            var used = _timed.Used;
            for (var k = 0; k < _m; k++)
            {
                if (!double.IsFinite(used[k])) throw Failed(FailureReason.NotFinite, t);
                if (used[k] < 0) StartReverse(k, seed, replicate);
            }
            var next = _timed.FirstToRunOut(_left, _leftReverse, ref end);
            for (var k = 0; k < _m; k++)
            {
                if (used[k] >= 0) _left[k] = Math.Max(0, _left[k] - used[k]);
                else _leftReverse[k] = Math.Max(0, _leftReverse[k] + used[k]);
            }
            if ((++stretches & 0xfff) == 0) cancel.ThrowIfCancellationRequested();
            var backwards = next >= 0 && used[next] < 0;
            t = end;
            if (next < 0) continue;
            Fire(next, backwards, ref blocked);
            if ((++transitions & 0xff) == 0) Guard(transitions, t, cancel);
        }
        return t;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Fire(int k, bool backwards, ref long blocked)
    {
        if (_several is not null && _several[k] is { } several)
        {
            FireSeveral(k, several, backwards, ref blocked);
            return;
        }
        var (source, target, sign) = (_from[k], _to[k], 1.0);
        if (_fans is not null && _fans[k] is { } fan) target = fan.Choose(_y, _p);
        if (backwards)
        {
            _leftReverse[k] = _reverse[k].NextExponential();
            (source, target, sign) = (target, source, -1.0);
        }
        else
        {
            _left[k] = _forward[k].NextExponential();
        }
        if (_y[source] < 1)
        {
            blocked++;
            return;
        }
        _y[source] -= 1;
        _y[target] += 1;
        _net[k] += sign;
    }

    private void FireSeveral(int k, SeveralChanges several, bool backwards, ref long blocked)
    {
        if (backwards) _leftReverse[k] = _reverse[k].NextExponential();
        else _left[k] = _forward[k].NextExponential();
        if (several.Happen(_y, backwards)) _net[k] += backwards ? -1 : 1;
        else blocked++;
    }

    private void Guard(long transitions, double t, CancellationToken cancel)
    {
        cancel.ThrowIfCancellationRequested();
        if (transitions > MaximumTransitions) throw Failed(FailureReason.TooManySteps, t);
    }

    private SimulationException Failed(FailureReason reason, double t) =>
        new(reason, t, new ReadOnlySpan<double>(_y, _n).ToArray(), new ReadOnlySpan<double>(_p, _model.Form.ParameterCount).ToArray());
}
