using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>A switch that depends on time alone takes this value from this time on.</summary>
internal readonly record struct SwitchTime(double Time, int Switch, double Value);

/// <summary>Finds beforehand when switches that depend on time alone change, so that every solver ends a step there.</summary>
internal static class SwitchTimes
{
    /// <summary>Points at which a switch without a closed form is looked at, so that a window of a two-thousandth of the span is not
    /// missed.</summary>
    private const int Scan = 4000;

    /// <summary>Changes of one switch beyond this number are left to the step control.</summary>
    private const int MostTimes = 20_000;

    /// <param name="graph">The network's own graph.</param>
    /// <param name="rewriting">The switches of the model, and what they are made from.</param>
    /// <param name="start">Where the span begins, in the model's unit of time.</param>
    /// <param name="end">Where it ends.</param>
    /// <param name="parameters">The parameter vector at the start.</param>
    /// <returns>The values at the start by switch (not a number for switches that depend on more), and all later changes,
    /// ascending.</returns>
    public static (double[] First, List<SwitchTime> Changes) Find(
        ExpressionGraph graph,
        SwitchRewriting rewriting,
        double start,
        double end,
        double[] parameters
    )
    {
        var first = new double[rewriting.Count];
        var changes = new List<SwitchTime>();
        for (var k = 0; k < rewriting.Count; k++)
        {
            first[k] = double.NaN;
            if (!rewriting.Switches[k].TimeOnly)
                continue;
            var node = rewriting.Switches[k].Raw;
            var reader = new NodeReader(graph, node);
            double At(double time) => reader.Value(time, [], parameters);
            var times = Known(graph, node, start, end, parameters) ?? Scanned(At, start, end);
            var edges = times.Take(MostTimes).Append(end).ToList();
            // Between two changes the value is that of the middle: at a change itself rounding decides.
            var value = first[k] = At(0.5 * (start + edges[0]));
            for (var edge = 0; edge + 1 < edges.Count; edge++)
            {
                var next = At(0.5 * (edges[edge] + edges[edge + 1]));
                if (next != value)
                    changes.Add(new(edges[edge], k, next));
                value = next;
            }
        }
        changes.Sort((a, b) => a.Time.CompareTo(b.Time));
        return (first, changes);
    }

    /// <summary>Changes that have a closed form: knots of a table at the time itself, crossings of straight lines. Null where there is
    /// none.</summary>
    private static List<double>? Known(ExpressionGraph graph, int node, double start, double end, double[] parameters)
    {
        var here = graph[node];
        if (here.Operation == Operation.LookupPiece && graph[here.A].Operation == Operation.Time)
        {
            return [.. graph.Tables[(int)here.Value].Knots(start, end).Take(MostTimes)];
        }
        if (here.Operation is not (Operation.Less or Operation.LessOrEqual))
            return null;
        var (left, right) = (new NodeReader(graph, here.A), new NodeReader(graph, here.B));
        double Gap(double time) => left.Value(time, [], parameters) - right.Value(time, [], parameters);
        var (low, high) = (Gap(start), Gap(end));
        var slope = (high - low) / (end - start);
        if (slope == 0 || !double.IsFinite(slope))
            return null;
        foreach (var share in (double[])[0.137, 0.311, 0.497, 0.713, 0.889])
        {
            var time = start + share * (end - start);
            if (Math.Abs(Gap(time) - low - slope * (time - start)) > 1e-10 * (Math.Abs(low) + Math.Abs(high)))
                return null;
        }
        var root = start - low / slope;
        return root > start && root < end ? [root] : [];
    }

    private static List<double> Scanned(Func<double, double> at, double start, double end)
    {
        var times = new List<double>();
        var (before, value) = (start, at(start));
        for (var k = 1; k <= Scan; k++)
        {
            var here = start + k * (end - start) / Scan;
            var next = at(here);
            var guard = 0;
            while (next != value && guard++ < 1000)
            {
                var (low, high) = (before, here);
                while (high - low > 1e-14 * Math.Max(Math.Abs(high), end - start))
                {
                    var middle = 0.5 * (low + high);
                    if (middle <= low || middle >= high)
                        break;
                    if (at(middle) == value)
                        low = middle;
                    else
                        high = middle;
                }
                if (high < end)
                    times.Add(high);
                before = high;
                value = at(high);
            }
            (before, value) = (here, next);
        }
        return times;
    }
}
