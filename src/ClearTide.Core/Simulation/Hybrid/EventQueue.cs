using ClearTide.Core.Formulas;

namespace ClearTide.Core.Simulation;

/// <summary>The events of one run: those at times in the order they fall due, those with a condition whenever it becomes true.</summary>
internal sealed class EventQueue
{
    /// <summary>Events that set off one another at one instant are stopped after this many.</summary>
    private const int MostAtOnce = 1000;

    private readonly GeneralForm _form;
    private readonly double[] _first;
    private readonly double[] _every;
    private readonly long[] _count;
    private readonly int[] _conditional;
    private readonly bool[] _true;
    private readonly bool[] _spent;
    private readonly Queue<int> _risen = [];

    public EventQueue(GeneralForm form, double start, double[] parameters)
    {
        _form = form;
        var n = form.Events.Count;
        (_first, _every, _count, _spent) = (new double[n], new double[n], new long[n], new bool[n]);
        for (var k = 0; k < n; k++)
        {
            var rule = form.Events[k];
            _first[k] = rule.Time < 0 ? double.PositiveInfinity : form.Graph.Evaluate(rule.Time, start, [], parameters);
            _every[k] = rule.Every < 0 ? 0 : form.Graph.Evaluate(rule.Every, start, [], parameters);
            // What lies before the start is over.
            if (double.IsNaN(_first[k])) _first[k] = double.PositiveInfinity;
            if (_first[k] < start) _count[k] = _every[k] > 0 ? (long)Math.Ceiling((start - _first[k]) / _every[k]) : 1;
        }
        _conditional = [.. Enumerable.Range(0, n).Where(k => form.Events[k].Condition >= 0)];
        _true = new bool[_conditional.Length];
    }

    public bool HasConditions => _conditional.Length > 0;

    private double Due(int k) => _every[k] > 0 ? _first[k] + _count[k] * _every[k] : _count[k] == 0 ? _first[k] : double.PositiveInfinity;

    /// <summary>When the next event at a time is due.</summary>
    public double Next => Enumerable.Range(0, _count.Length).Select(Due).DefaultIfEmpty(double.PositiveInfinity).Min();

    /// <summary>The events that are due by a time, in stored order.</summary>
    public IEnumerable<ModelEvent> TakeDue(double time)
    {
        for (var k = 0; k < _count.Length; k++)
        {
            while (Due(k) <= time)
            {
                _count[k]++;
                yield return _form.Events[k];
            }
        }
    }

    /// <summary>Notes which conditions are true without acting: those true at the start have not become so.</summary>
    public void Note(ReadOnlySpan<double> conditions)
    {
        for (var k = 0; k < _true.Length; k++) _true[k] = conditions[k] != 0;
    }

    /// <summary>The next event whose condition has become true, or null: those of one moment in stored order, then those they set off.</summary>
    public ModelEvent? TakeRisen(ReadOnlySpan<double> conditions)
    {
        for (var k = 0; k < _true.Length; k++)
        {
            if (conditions[k] != 0 && !_true[k]) _risen.Enqueue(k);
            _true[k] = conditions[k] != 0;
        }
        while (_risen.TryDequeue(out var k))
        {
            if (_spent[k]) continue;
            _spent[k] = _form.Events[_conditional[k]].Once;
            return _form.Events[_conditional[k]];
        }
        return null;
    }

    /// <summary>Does what an event says to state and parameters.</summary>
    /// <exception cref="SimulationException">Too many events have set off one another.</exception>
    public static void Act(ModelEvent rule, ExpressionGraph graph, double time, double[] state, double[] parameters, ref int atOnce)
    {
        if (++atOnce > MostAtOnce) throw new SimulationException(FailureReason.EventsWithoutEnd, time, [.. state], [.. parameters]);
        foreach (var action in rule.Actions)
        {
            var values = action.Select(assignment => graph.Evaluate(assignment.Node, time, state, parameters)).ToList();
            for (var k = 0; k < action.Count; k++) (action[k].IsState ? state : parameters)[action[k].Index] = values[k];
        }
        if (state.Any(value => !double.IsFinite(value))) throw new SimulationException(FailureReason.NotFinite, time, [.. state], [.. parameters]);
    }
}
