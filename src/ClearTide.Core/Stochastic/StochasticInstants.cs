using System.Runtime.CompilerServices;
using ClearTide.Core.Expressions;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// What happens at one instant of a run by chance: changes of values, draws of random inputs, and events, from the same queue as without
/// chance.
/// Amounts that events set are rounded so that the total of what one action changes stays.
/// </summary>
internal sealed unsafe class StochasticInstants
{
    /// <summary>Places at which a condition is looked at within a stretch of time, beside its end.</summary>
    private const int Looks = 16;

    /// <summary>The conditions of a model's events, compiled once for all of its runs.</summary>
    private static readonly ConditionalWeakTable<ReactionNetwork, VectorFunction> Compiled = [];

    private readonly ReactionNetwork _network;
    private readonly ParameterSchedule _schedule;
    private readonly double[] _state,
        _parameters;
    private readonly Draws _draws;
    private readonly EventQueue _queue;
    private readonly EventActions _actions;
    private readonly VectorFunction? _conditions;
    private readonly double[] _true,
        _before;
    private readonly double _start;
    private readonly bool _goesOn,
        _hasMore;

    /// <param name="network">The model.</param>
    /// <param name="schedule">What is laid over the run.</param>
    /// <param name="start">Where the run begins.</param>
    /// <param name="replicate">Number of the run, from 0.</param>
    /// <param name="state">The amounts of the run, changed in place.</param>
    /// <param name="parameters">The parameters of the run, changed in place.</param>
    /// <param name="after">The end of the run that this one goes on from, or null.</param>
    public StochasticInstants(
        ReactionNetwork network,
        ParameterSchedule schedule,
        double start,
        int replicate,
        double[] state,
        double[] parameters,
        RunEnd? after
    )
    {
        (_network, _schedule, _start, _state, _parameters) = (network, schedule, start, state, parameters);
        var own = parameters[..network.ParameterCount];
        _draws = new(network, start, replicate, own);
        _draws.Make(start, _parameters);
        var now = parameters[..network.ParameterCount];
        _queue = after?.Queue is { } before ? new(before, network, start, now) : new(network, start, now);
        _goesOn = after is not null;
        _hasMore = _goesOn && network.Events.Count > (after!.Queue?.Count ?? 0);
        _actions = new(network, Round);
        var nodes = Conditions(network);
        (_true, _before) = (new double[nodes.Length + 1], new double[nodes.Length + 1]);
        if (nodes.Length == 0)
            return;
        _conditions = Compiled.GetValue(network, static known => GraphCompiler.Compile(known.Graph, Conditions(known)));
        var reached = network.Graph.Reachable(nodes);
        ConditionsMove = Enumerable.Range(0, reached.Length).Any(node => reached[node] && Moves(network, network.Graph[node]));
    }

    private static int[] Conditions(ReactionNetwork network) =>
        [.. network.Events.Where(rule => rule.Condition >= 0).Select(rule => rule.Condition)];

    /// <summary>Whether any event waits for a condition.</summary>
    public bool HasConditions => _conditions is not null;

    /// <summary>Whether a condition may become true between two transitions, by time or by amounts that flow.</summary>
    public bool ConditionsMove { get; }

    /// <summary>What there is to say of actions.</summary>
    public IReadOnlyList<RunNote> Notes => _actions.Notes;

    /// <summary>What events did.</summary>
    public IReadOnlyList<EventAct> Acts => _actions.Acts;

    /// <summary>When the next change of a value, draw or event is due after a time, or positive infinity.</summary>
    public double Next(double time) => Math.Min(_schedule.NextChange(time), Math.Min(_draws.Next, _queue.Next));

    /// <summary>The run begins: conditions that are true at the start have not become so.</summary>
    public void Begin()
    {
        if (!_goesOn)
            _queue.Note(Conditions(_start, _state));
        // What a scenario adds may hold from the first moment on.
        if (!Happen(_start) && (_hasMore || (!_goesOn && _network.Events.Any(rule => rule.ActsAtStart))))
            Rise(_start);
    }

    /// <summary>Does everything that is due at a time; false where nothing is.</summary>
    public bool Happen(double time)
    {
        var any = time != _start && _schedule.Change(time, _parameters.AsSpan(0, _network.ParameterCount));
        any |= !(_goesOn && time == _start) && _schedule.Give(time, _state);
        any |= _draws.Make(time, _parameters);
        any |= _queue.TakeDue(time, _state, _parameters);
        if (any)
            Rise(time);
        return any;
    }

    /// <summary>What waits acts one by one, together with the events whose condition has become true.</summary>
    public void Rise(double time)
    {
        _actions.Begin();
        while (true)
        {
            _queue.TakeRisen(Conditions(time, _state), time, _state, _parameters);
            if (_queue.TakeNext(time, _state, _parameters) is not { } firing)
                return;
            _actions.Act(firing, time, _state, _parameters);
        }
    }

    /// <summary>The first time in a stretch at which a condition turns, or not a number.</summary>
    /// <param name="from">Where the stretch begins, in the model's unit of time.</param>
    /// <param name="until">Where it ends.</param>
    /// <param name="at">Writes the amounts at a time of the stretch.</param>
    /// <param name="state">Room for the amounts.</param>
    public double FirstTurn(double from, double until, Action<double, double[]> at, double[] state)
    {
        if (_conditions is null)
            return double.NaN;
        at(from, state);
        Conditions(from, state).CopyTo(_before);
        var low = from;
        for (var look = 1; look <= Looks; look++)
        {
            var here = look == Looks ? until : from + look * (until - from) / Looks;
            if (!HasTurned(here, at, state))
            {
                low = here;
                continue;
            }
            var high = here;
            while (high - low > 1e-13 * Math.Max(Math.Abs(high), until - from))
            {
                var middle = 0.5 * (low + high);
                if (middle <= low || middle >= high)
                    break;
                if (HasTurned(middle, at, state))
                    high = middle;
                else
                    low = middle;
            }
            return high;
        }
        return double.NaN;
    }

    private bool HasTurned(double time, Action<double, double[]> at, double[] state)
    {
        at(time, state);
        var now = Conditions(time, state);
        for (var k = 0; k < now.Length; k++)
        {
            if ((now[k] != 0) != (_before[k] != 0))
                return true;
        }
        return false;
    }

    private static bool Moves(ReactionNetwork network, GraphNode node) =>
        node.Operation switch
        {
            Operation.Time => true,
            Operation.State => !Propensities.IsWhole(network.States[node.A]),
            _ => false,
        };

    private ReadOnlySpan<double> Conditions(double time, double[] state)
    {
        if (_conditions is null)
            return [];
        fixed (double* y = state)
        fixed (double* p = _parameters)
        fixed (double* values = _true)
        {
            _conditions(time, y, p, values);
        }
        return _true.AsSpan(0, _true.Length - 1);
    }

    private void Round(IReadOnlyList<Assignment> action, double[] values)
    {
        var whole = Enumerable
            .Range(0, action.Count)
            .Where(k => action[k].IsState && Propensities.IsWhole(_network.States[action[k].Index]))
            .ToList();
        var rounded = whole.Select(k => values[k]).ToArray();
        WholeUnits.Round(rounded, 0.5);
        for (var k = 0; k < rounded.Length; k++)
            values[whole[k]] = rounded[k];
    }
}
