using ClearTide.Core.Data;
using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>Doses that a model gives at times: one, or one again and again.</summary>
/// <param name="PartId">The line that says so.</param>
/// <param name="CompartmentId">Where they go.</param>
/// <param name="Time">Node of the first time, over parameters alone.</param>
/// <param name="Every">Node of the interval, or -1 for one dose.</param>
/// <param name="Until">Node of the last time at which there may be one, or -1.</param>
/// <param name="Amount">Node of the amount of one.</param>
/// <param name="Over">Node of its duration, or -1 for at once.</param>
public sealed record DoseSeries(string PartId, string CompartmentId, int Time, int Every, int Until, int Amount, int Over)
{
    /// <summary>Doses of one series at most; more are no plan that anybody reads.</summary>
    public const int Most = 10_000;

    /// <summary>The time before which none is given.</summary>
    public double NotBefore { get; init; } = double.NegativeInfinity;

    /// <summary>The time from which on none is given any more.</summary>
    public double NotAfter { get; init; } = double.PositiveInfinity;

    /// <summary>The doses that begin within a span, in order of time.</summary>
    /// <param name="graph">The expressions that the nodes belong to.</param>
    /// <param name="values">All parameters of the model.</param>
    /// <param name="start">Where the span begins, in the model's unit of time.</param>
    /// <param name="end">Where it ends.</param>
    public IReadOnlyList<Dose> Within(ExpressionGraph graph, double[] values, double start, double end)
    {
        double At(int node, double time) => graph.Evaluate(node, time, [], values);
        var first = At(Time, start);
        var every = Every < 0 ? 0 : At(Every, start);
        var last = Math.Min(end, Until < 0 ? double.PositiveInfinity : At(Until, start));
        var known = !graph.Reachable([Amount]).Index().Any(one => one.Item && graph[one.Index].Operation == Operation.State);
        var doses = new List<Dose>();
        // What lies before the span is passed over at once.
        var begin = Math.Max(start, NotBefore);
        var passed = every > 0 && first < begin ? Math.Max(0, Math.Floor((begin - first) / every) - 1) : 0;
        for (var k = passed; doses.Count < Most; k++)
        {
            var time = first + k * every;
            if (!(time <= last))
                break;
            if (time >= start && time >= NotBefore && time < NotAfter - 1e-9 * every)
                doses.Add(new(time, known ? At(Amount, time) : double.NaN, Over < 0 ? 0 : At(Over, time)));
            if (!(every > 0))
                break;
        }
        return doses;
    }
}
