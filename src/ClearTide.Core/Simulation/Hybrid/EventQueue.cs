namespace ClearTide.Core.Simulation;

/// <summary>An event that is to act now.</summary>
/// <param name="Rule">The event.</param>
/// <param name="Values">For each action the values of its assignments where they were taken at the trigger; else null.</param>
internal sealed record Firing(ModelEvent Rule, double[][]? Values);

/// <summary>
/// The events of one run: those at times as they fall due, those with a condition whenever it becomes true, each after its delay. What is
/// to act
/// at one instant waits in the order of arrival and is taken by priority.
/// </summary>
internal sealed class EventQueue
{
    private readonly ReactionNetwork _network;
    private readonly double[] _first;
    private readonly double[] _every;
    private readonly double[] _until;
    private readonly long[] _count;
    private readonly int[] _conditional;
    private readonly bool[] _true;
    private readonly int[] _triggered;
    private readonly List<(double Time, int Event, Firing Firing)> _pending;
    private readonly List<(int Event, Firing Firing)> _waiting;

    public EventQueue(ReactionNetwork network, double start, double[] parameters)
    {
        _network = network;
        (_pending, _waiting) = ([], []);
        var n = network.Events.Count;
        (_first, _every, _until, _count, _triggered) = (new double[n], new double[n], new double[n], new long[n], new int[n]);
        double Value(int node, double otherwise) => node < 0 ? otherwise : network.Graph.Evaluate(node, start, [], parameters);
        for (var k = 0; k < n; k++)
        {
            var rule = network.Events[k];
            _first[k] = Value(rule.Time, double.PositiveInfinity);
            _every[k] = Value(rule.Every, 0);
            _until[k] = Value(rule.Until, double.PositiveInfinity);
            // What lies before the start is over, and so is what may not happen yet.
            if (double.IsNaN(_first[k]))
                _first[k] = double.PositiveInfinity;
            var begin = Math.Max(start, rule.NotBefore);
            if (_first[k] < begin)
                _count[k] = _every[k] > 0 ? (long)Math.Ceiling((begin - _first[k]) / _every[k]) : 1;
        }
        _conditional = [.. Enumerable.Range(0, n).Where(k => network.Events[k].Condition >= 0)];
        _true = new bool[_conditional.Length];
    }

    /// <summary>A queue that goes on where another one ended, of the same model or of one that has more events behind the same.</summary>
    /// <param name="before">The queue of the run before.</param>
    /// <param name="network">The model that goes on.</param>
    /// <param name="start">Where it goes on, and <paramref name="parameters"/> what holds there: they tell when the events that are new are
    /// due.</param>
    /// <param name="parameters">All parameters, where it goes on.</param>
    public EventQueue(EventQueue before, ReactionNetwork network, double start, double[] parameters)
        : this(network, start, parameters)
    {
        before._first.CopyTo(_first, 0);
        before._every.CopyTo(_every, 0);
        before._until.CopyTo(_until, 0);
        before._count.CopyTo(_count, 0);
        before._triggered.CopyTo(_triggered, 0);
        before._true.CopyTo(_true, 0);
        foreach (var (time, index, firing) in before._pending)
            _pending.Add((time, index, firing with { Rule = network.Events[index] }));
        foreach (var (index, firing) in before._waiting)
            _waiting.Add((index, firing with { Rule = network.Events[index] }));
    }

    /// <summary>How many events it holds.</summary>
    public int Count => _count.Length;

    public bool HasConditions => _conditional.Length > 0;

    /// <summary>When the next event is due, or positive infinity.</summary>
    public double Next
    {
        get
        {
            var next = double.PositiveInfinity;
            for (var k = 0; k < _count.Length; k++)
                next = Math.Min(next, Due(k));
            foreach (var (time, _, _) in _pending)
                next = Math.Min(next, time);
            return next;
        }
    }

    /// <summary>Whether an event has been triggered as often as it may be.</summary>
    private bool IsSpent(int index) => _network.Events[index].Most is > 0 and var most && _triggered[index] >= most;

    private double Due(int k)
    {
        if (IsSpent(k))
            return double.PositiveInfinity;
        var due =
            _every[k] > 0 ? _first[k] + _count[k] * _every[k]
            : _count[k] == 0 ? _first[k]
            : double.PositiveInfinity;
        // An end that is a whole number of intervals is reached, whatever the rounding.
        var rounding = 1e-9 * _every[k];
        return due > _until[k] + rounding || due >= _network.Events[k].NotAfter - rounding ? double.PositiveInfinity : due;
    }

    /// <summary>Lets everything that is due by a time wait for its turn; false where nothing is.</summary>
    public bool TakeDue(double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters)
    {
        var before = _waiting.Count;
        for (var k = 0; k < _count.Length; k++)
        {
            while (Due(k) <= time)
            {
                _count[k]++;
                Trigger(k, time, state, parameters);
            }
        }
        for (var k = 0; k < _pending.Count; k++)
        {
            if (_pending[k].Time > time)
                continue;
            _waiting.Add((_pending[k].Event, _pending[k].Firing));
            _pending.RemoveAt(k--);
        }
        return _waiting.Count > before;
    }

    /// <summary>Notes which conditions are true at the start without acting on those that have not become so.</summary>
    public void Note(ReadOnlySpan<double> conditions)
    {
        for (var k = 0; k < _true.Length; k++)
            _true[k] = conditions[k] != 0 && !_network.Events[_conditional[k]].ActsAtStart;
    }

    /// <summary>Lets the events whose condition has become true wait for their turn.</summary>
    public void TakeRisen(ReadOnlySpan<double> conditions, double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters)
    {
        for (var k = 0; k < _true.Length; k++)
        {
            var (rule, isTrue) = (_conditional[k], conditions[k] != 0);
            if (isTrue && !_true[k] && !IsSpent(rule))
                Trigger(rule, time, state, parameters);
            if (!isTrue && _network.Events[rule].IsDroppedWhenFalse)
            {
                _pending.RemoveAll(pending => pending.Event == rule);
                _waiting.RemoveAll(waiting => waiting.Event == rule);
            }
            _true[k] = isTrue;
        }
    }

    private void Trigger(int index, double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters)
    {
        var rule = _network.Events[index];
        _triggered[index]++;
        double[][]? values = null;
        if (rule.ValuesAtTrigger)
        {
            values = new double[rule.Actions.Count][];
            for (var k = 0; k < values.Length; k++)
            {
                values[k] = new double[rule.Actions[k].Count];
                for (var j = 0; j < values[k].Length; j++)
                    values[k][j] = _network.Graph.Evaluate(rule.Actions[k][j].Node, time, state, parameters);
            }
        }
        var delay = rule.Delay < 0 ? 0 : _network.Graph.Evaluate(rule.Delay, time, state, parameters);
        if (!(delay > 0))
            _waiting.Add((index, new(rule, values)));
        else if (double.IsFinite(delay))
            _pending.Add((time + delay, index, new(rule, values)));
    }

    /// <summary>The next event to act at this instant, or null.</summary>
    public Firing? TakeNext(double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters)
    {
        if (_waiting.Count == 0)
            return null;
        var (best, highest) = (0, double.NegativeInfinity);
        for (var k = 0; k < _waiting.Count; k++)
        {
            var node = _waiting[k].Firing.Rule.Priority;
            var priority = node < 0 ? double.NegativeInfinity : _network.Graph.Evaluate(node, time, state, parameters);
            if (priority > highest)
                (best, highest) = (k, priority);
        }
        var firing = _waiting[best].Firing;
        _waiting.RemoveAt(best);
        return firing;
    }
}
