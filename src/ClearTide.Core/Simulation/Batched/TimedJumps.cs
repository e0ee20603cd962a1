using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>A jump of all lanes at one time.</summary>
/// <param name="Time">In the model's unit of time.</param>
/// <param name="To">Computes what the states become, over lanes.</param>
/// <param name="States">Which states these are.</param>
internal readonly record struct LaneJump(double Time, VectorFunction To, int[] States);

/// <summary>
/// The jumps of a model whose events all happen at times that are known before a run and only set states, as doses at once do. Lanes that
/// jump at the same times can go in step.
/// </summary>
internal sealed class TimedJumps
{
    private readonly ReactionNetwork _network;
    private readonly List<(ModelEvent Event, VectorFunction To, int[] States)> _events = [];

    private TimedJumps(ReactionNetwork network) => _network = network;

    /// <summary>Those of a model; null where it has events of another kind, or more than a smooth law beside them.</summary>
    public static TimedJumps? Of(ReactionNetwork network)
    {
        var jumps = new TimedJumps(network);
        if (network.Events.Count == 0)
            return null;
        foreach (var one in network.Events)
        {
            if (
                one.Condition >= 0
                || one.Delay >= 0
                || one.Priority >= 0
                || one.Withdrawals.Count > 0
                || one.Actions is not [var action]
                || action.Any(set => !set.IsState || set.Adds)
                || GraphCompiler.CompileLanes(network.Graph, [.. action.Select(set => set.Node)]) is not { } to
            )
                return null;
            jumps._events.Add((one, to, [.. action.Select(set => set.Index)]));
        }
        return HybridModel.Of(network with { Events = [] }) is null ? jumps : null;
    }

    /// <summary>The jumps of several runs, in order; null where the runs do not jump at the same times.</summary>
    /// <param name="lanes">The parameters of each.</param>
    /// <param name="start">Where the span begins, in the model's unit of time.</param>
    /// <param name="end">Where it ends.</param>
    public IReadOnlyList<LaneJump>? At(double[][] lanes, double start, double end)
    {
        var when = When(lanes[0], start, end);
        for (var lane = 1; lane < lanes.Length; lane++)
        {
            if (!ReferenceEquals(lanes[lane], lanes[0]) && !When(lanes[lane], start, end).AsSpan().SequenceEqual(when))
                return null;
        }
        // As a rule all runs of many jump at the same times: what was worked out last holds for the next ones too.
        if (_last is { } known && known.When.AsSpan().SequenceEqual(when))
            return known.Jumps;
        var all = new List<LaneJump>();
        foreach (var (one, to, states) in _events)
        {
            var times = Times(one, lanes[0], start, end);
            if (times.Count >= EventAct.Most)
                return null;
            all.AddRange(times.Select(time => new LaneJump(time, to, states)));
        }
        // A stable order: what happens at one time happens in the order of the events.
        IReadOnlyList<LaneJump> jumps = [.. all.OrderBy(jump => jump.Time)];
        _last = new(when, jumps);
        return jumps;
    }

    private sealed record Known(double[] When, IReadOnlyList<LaneJump> Jumps);

    private Known? _last;

    /// <summary>The numbers that say when events happen.</summary>
    private double[] When(double[] parameters, double start, double end)
    {
        var when = new double[2 + 3 * _events.Count];
        (when[0], when[1]) = (start, end);
        for (var k = 0; k < _events.Count; k++)
        {
            var one = _events[k].Event;
            double Value(int node) => node < 0 ? -1 : _network.Graph.Evaluate(node, start, [], parameters);
            (when[2 + 3 * k], when[3 + 3 * k], when[4 + 3 * k]) = (Value(one.Time), Value(one.Every), Value(one.Until));
        }
        return when;
    }

    private List<double> Times(ModelEvent one, double[] parameters, double start, double end)
    {
        // The queue of a run alone says when events are due, so that both say the same.
        var queue = new EventQueue(_network with { Events = [one with { Actions = [] }] }, start, parameters);
        var times = new List<double>();
        while (queue.Next is var next && next <= end && times.Count < EventAct.Most)
        {
            times.Add(next);
            queue.TakeDue(next, [], parameters);
            while (queue.TakeNext(next, [], parameters) is not null) { }
        }
        return times;
    }
}
