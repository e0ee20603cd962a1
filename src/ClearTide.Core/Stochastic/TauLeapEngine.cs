using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// Leaping: in a step in which no rate is expected to change by more than a share ε of itself, each process happens a Poisson number of
/// times,
/// or a binomial one of what it takes, so that nothing falls below zero. The step is chosen from the mean and the variance of the change of
/// each amount; processes that are within ten firings of using something up happen one at most in a step; where a step would hold few
/// firings,
/// they are drawn one by one by the exact law (Cao, Gillespie and Petzold, J. Chem. Phys. 124, 2006, 044109; binomial numbers after Tian
/// and
/// Burrage, J. Chem. Phys. 121, 2004, pp. 10356–10364). Rates that turn with time, or
/// with amounts that flow beside those that are counted, halve the step until they too stay within the share.
/// </summary>
/// <param name="model">The compiled model.</param>
/// <param name="share">How much rates may change within a step: ε, 0.03 in the paper.</param>
internal sealed class TauLeapEngine(CompiledModel model, double share = 0.03) : SteppedChance(model)
{
    /// <summary>Firings until something is used up, within which a process is critical.</summary>
    private const double Critical = 10;

    /// <summary>A leap of fewer firings than this is not worth it.</summary>
    private const double Worth = 10;

    /// <summary>Firings that rates which turn with time may add within a step whatever they are: they may begin from zero.</summary>
    private const double Hardly = 0.05;

    /// <summary>So many firings are drawn one by one before a leap is looked for again.</summary>
    private const int OneByOne = 100;

    private readonly double[] _mean = new double[model.StateCount + 1],
        _variance = new double[model.StateCount + 1];
    private readonly double[] _later = GC.AllocateArray<double>(model.Network.Processes.Count + 1, pinned: true);
    private readonly double[] _left = new double[model.StateCount + 1];

    /// <summary>How fast amounts flow that are not counted, where the step begins.</summary>
    private readonly double[] _slopes = new double[model.StateCount];
    private readonly double[] _now = new double[model.StateCount];
    private readonly bool[] _critical = new bool[model.Network.Processes.Count];

    /// <summary>The greatest number of units of each state that a rate may depend on in one product: rates change faster then.</summary>
    private readonly double[] _order = Orders(model.Network);
    private RandomStream _waits;
    private int _singly;

    protected override void Begin(long seed, int replicate)
    {
        _waits = new(seed, replicate, "steps", "waits");
        _singly = 0;
    }

    /// <summary>Whether rates turn within a step while nothing that is counted moves.</summary>
    private bool Turn => DependOnTime || HasFlow;

    protected override double Advance(double t, double limit)
    {
        WorkOutRates(t);
        Slopes(t, _slopes);
        var (all, critical) = (0.0, 0.0);
        for (var k = 0; k < Processes; k++)
        {
            if (IsPlanned(k))
                continue;
            all += Math.Abs(Rates[k]);
            _critical[k] = Source(k) < States && Math.Floor(State[Source(k)] / TakenBy(k)) < Critical;
            critical += _critical[k] ? Math.Abs(Rates[k]) : 0;
        }
        if (_singly > 0)
        {
            _singly--;
            return Single(t, limit, all);
        }
        var step = Longest();
        // Noise is that of a step: units that move one by one would know nothing of it.
        if (step < Worth / all && !HasNoise)
        {
            _singly = OneByOne - 1;
            return Single(t, limit, all);
        }
        step = Math.Min(step, limit - t);
        if (Turn)
            step = WithinTime(t, step);
        var wait = critical > 0 ? _waits.NextExponential() / critical : double.PositiveInfinity;
        var until =
            wait < step ? t + wait
            : t + step >= limit ? limit
            : t + step;
        var h = until - t;
        Middle(t, h);
        Shake(h, _critical);
        State.CopyTo(_left, 0);
        for (var k = 0; k < Processes; k++)
            Numbers[k] =
                IsPlanned(k) ? Planned(k, h)
                : _critical[k] ? 0
                : Leap(k, h);
        if (wait < step)
            Numbers[OneOf(critical, criticalOnly: true)]++;
        Flow(t, t + 0.5 * h);
        Move();
        Flow(t + 0.5 * h, until);
        return until;
    }

    /// <summary>Rates in the middle of a step, at the amounts that are expected there: what rates are where the step begins is off by
    /// half of
    /// their change (the estimated midpoint; Gillespie, J. Chem. Phys. 115, 2001, pp. 1716–1733, section V).</summary>
    private void Middle(double t, double h)
    {
        State.CopyTo(_left, 0);
        Rates.CopyTo(_later, 0);
        for (var state = 0; state < States; state++)
            State[state] = Math.Max(0, State[state] + 0.5 * h * (_mean[state] + _slopes[state]));
        WorkOutRates(t + 0.5 * h);
        _left.CopyTo(State, 0);
        // Which way a net flow runs, and what is critical, was judged where the step began.
        for (var k = 0; k < Processes; k++)
        {
            if (_critical[k] || Rates[k] * _later[k] < 0)
                Rates[k] = _later[k];
        }
    }

    /// <summary>How often a process that is far from using anything up happens: at most as often as there is something to take.</summary>
    private double Leap(int k, double h)
    {
        var (rate, source, taken) = (Math.Abs(Rates[k]), Source(k), TakenBy(k));
        if (rate == 0)
            return 0;
        if (source == States)
            return CountSampler.Poisson(ref Streams[k], rate * h);
        var most = Math.Floor(_left[source] / taken);
        var number = CountSampler.Binomial(ref Streams[k], most, Math.Min(1, rate * h / Math.Max(1, Math.Floor(State[source] / taken))));
        _left[source] -= number * taken;
        return number;
    }

    /// <summary>One firing by the exact law, or none before the limit. Rates that turn with time are thinned between the two
    /// ends.</summary>
    private double Single(double t, double limit, double all)
    {
        Array.Clear(Numbers);
        var bound = all;
        var until = limit;
        if (Turn)
        {
            // Over a stretch in which rates keep within their share, twice as much is above all of them.
            until = t + WithinTime(t, limit - t);
            bound = all * (1 + 2 * share) + 2 * Processes * Hardly / (until - t);
        }
        var wait = bound > 0 ? _waits.NextExponential() / bound : double.PositiveInfinity;
        var fires = t + wait < until;
        var end = fires ? t + wait : until;
        for (var k = 0; k < Processes; k++)
        {
            if (IsPlanned(k))
                Numbers[k] = Planned(k, end - t);
        }
        if (fires)
        {
            if (Turn)
            {
                WorkOutRatesAhead(t, end - t, Rates);
                var now = 0.0;
                for (var k = 0; k < Processes; k++)
                    now += IsPlanned(k) ? 0 : Math.Abs(Rates[k]);
                if (_waits.NextUniform() * bound < now)
                    Numbers[OneOf(now, criticalOnly: false)]++;
            }
            else
            {
                Numbers[OneOf(all, criticalOnly: false)]++;
            }
        }
        // What flows does so while units wait.
        Flow(t, end);
        Move();
        return end;
    }

    /// <summary>One of the processes, each as likely as its rate is large.</summary>
    private int OneOf(double sum, bool criticalOnly)
    {
        var left = _waits.NextUniform() * sum;
        var last = -1;
        for (var k = 0; k < Processes; k++)
        {
            if (IsPlanned(k) || criticalOnly && !_critical[k] || Rates[k] == 0)
                continue;
            last = k;
            left -= Math.Abs(Rates[k]);
            if (left < 0)
                break;
        }
        return last;
    }

    /// <summary>The longest step in which no amount changes so much that a rate leaves its share (equations 32 and 33 of the
    /// paper).</summary>
    private double Longest()
    {
        Array.Clear(_mean);
        Array.Clear(_variance);
        for (var k = 0; k < Processes; k++)
        {
            if (IsPlanned(k) || _critical[k])
                continue;
            var changes = Model.Network.Processes[k].Changes;
            foreach (var change in changes)
            {
                // Of several ends each is taken for as likely as another: a step may be longer or shorter for it, and stays right.
                var part = change.Share < 0 ? 1.0 : 1.0 / changes.Count(other => other.Share >= 0);
                _mean[change.State] += part * change.Coefficient * Rates[k];
                _variance[change.State] += change.Coefficient * change.Coefficient * Math.Abs(Rates[k]);
            }
        }
        var longest = double.PositiveInfinity;
        for (var state = 0; state < States; state++)
        {
            if (_variance[state] == 0 || _order[state] == 0)
                continue;
            var room = Math.Max(share * State[state] / _order[state], 1);
            longest = Math.Min(longest, Math.Min(room / Math.Abs(_mean[state]), room * room / _variance[state]));
        }
        return longest;
    }

    /// <summary>A step in which rates, of the amounts as they are, turn with time by no more than their share, or by next to no
    /// firing.</summary>
    private double WithinTime(double t, double step)
    {
        for (var halving = 0; halving < 40; halving++)
        {
            var within = true;
            foreach (var part in (ReadOnlySpan<double>)[0.5, 1])
            {
                WorkOutRatesAhead(t, part * step, _later);
                for (var k = 0; k < Processes && within; k++)
                    within = Math.Abs(_later[k] - Rates[k]) <= Math.Max(share * Math.Abs(Rates[k]), Hardly / step);
            }
            if (within)
                return step;
            step /= 2;
        }
        return step;
    }

    /// <summary>Rates some time ahead, where what flows is expected to be and what is counted stays.</summary>
    private void WorkOutRatesAhead(double t, double ahead, double[] into)
    {
        if (!HasFlow)
        {
            WorkOutRates(t + ahead, into);
            return;
        }
        State.AsSpan(0, States).CopyTo(_now);
        for (var state = 0; state < States; state++)
        {
            // What flows away is not expected below zero; what stands there may begin to flow.
            if (_slopes[state] != 0)
                State[state] = _now[state] >= 0 ? Math.Max(0, _now[state] + ahead * _slopes[state]) : _now[state] + ahead * _slopes[state];
        }
        WorkOutRates(t + ahead, into);
        _now.CopyTo(State, 0);
    }

    /// <summary>Two for a state that may stand in a product with itself or another, else one; zero where no rate reads it.</summary>
    private static double[] Orders(ReactionNetwork network)
    {
        var orders = new double[network.States.Count];
        foreach (var process in network.Processes)
        {
            var reached = network.Graph.Reachable([process.Rate]);
            var read = Enumerable
                .Range(0, reached.Length)
                .Where(node => reached[node] && network.Graph[node].Operation == Expressions.Operation.State)
                .Select(node => network.Graph[node].A)
                .Distinct()
                .ToList();
            foreach (var state in read)
                orders[state] = Math.Max(orders[state], read.Count > 1 ? 2 : 1);
        }
        return orders;
    }
}
