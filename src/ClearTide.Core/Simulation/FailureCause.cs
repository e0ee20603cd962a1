namespace ClearTide.Core.Simulation;

/// <summary>What stands behind a run that could not take another step, read from where it stopped and what it came to before.</summary>
public static class FailureCause
{
    /// <summary>An amount that is this many times what anything was half the way before has grown without bound.</summary>
    private const double Growth = 1000;

    /// <summary>The state that has grown beyond all that the run knew before, or -1.</summary>
    /// <param name="failure">Why the run stopped, and where.</param>
    /// <param name="network">The network.</param>
    public static int Grown(SimulationException failure, ReactionNetwork network)
    {
        if (failure.State.Length == 0)
            return -1;
        double Size(double value) => double.IsFinite(value) ? Math.Abs(value) : double.PositiveInfinity;
        var largest = Enumerable.Range(0, failure.State.Length).MaxBy(state => Size(failure.State[state]));
        if (!double.IsFinite(failure.State[largest]))
            return largest;
        var slope = Slope(failure, network, largest);
        if (slope * failure.State[largest] < 0 || failure.Before is not { Times.Count: > 0 } before)
            return -1;
        var half = before.Times[0] + 0.5 * (failure.Time - before.Times[0]);
        var known = 0.0;
        for (var row = 0; row < before.Times.Count && (row == 0 || before.Times[row] <= half); row++)
        {
            for (var state = 0; state < failure.State.Length; state++)
                known = Math.Max(known, Size(before.State(row, state)));
        }
        return Size(failure.State[largest]) > Growth * known ? largest : -1;
    }

    /// <summary>
    /// The state that changes fastest for its size where the run stopped, and by how much per unit of time; -1 where nothing moves.
    /// </summary>
    /// <param name="failure">Why the run stopped, and where.</param>
    /// <param name="network">The network.</param>
    public static (int State, double Slope) Fastest(SimulationException failure, ReactionNetwork network)
    {
        var (fastest, slope, most) = (-1, 0.0, 0.0);
        for (var state = 0; state < failure.State.Length; state++)
        {
            var own = Slope(failure, network, state);
            var share = double.IsFinite(own) ? Math.Abs(own) / (Math.Abs(failure.State[state]) + 1e-9) : double.PositiveInfinity;
            if (share > most)
                (fastest, slope, most) = (state, own, share);
        }
        return (fastest, slope);
    }

    private static double Slope(SimulationException failure, ReactionNetwork network, int state) =>
        network.Graph.Evaluate(network.Derivatives()[state], failure.Time, failure.State, failure.Parameters);

    /// <summary>The same failure extrapolated a moment ahead: what stopped the run may still have a value where it stopped.</summary>
    internal static SimulationException JustAhead(SimulationException failure, ReactionNetwork network)
    {
        var moment =
            1e-6 * (failure.Before is { Times.Count: > 0 } before && failure.Time > before.Times[0] ? failure.Time - before.Times[0] : 1);
        var state = failure.State.Select((value, k) => value + moment * Slope(failure, network, k)).ToArray();
        return new(failure.Reason, failure.Time + moment, state, failure.Parameters);
    }

    /// <summary>What of a run can be read before it stopped; null where there is nothing.</summary>
    internal static Trajectory? Readable(SimulationException failure, ReactionNetwork network)
    {
        if (failure.Before is not { Times.Count: > 1 } before)
            return null;
        return Grown(failure, network) is var grown and >= 0 ? before.First(ReadableRows(before, grown)) : before;
    }

    /// <summary>
    /// How many of a run's first rows can be read on one scale: those before an amount has left the others' scale for good.
    /// </summary>
    private static int ReadableRows(Trajectory before, int grown)
    {
        var late = before.Times[0] + 0.98 * (before.Times[^1] - before.Times[0]);
        var scale = 0.0;
        for (var row = 0; row < before.Times.Count; row++)
        {
            var size = Math.Abs(before.State(row, grown));
            if (before.Times[row] <= late)
                scale = Math.Max(scale, size);
            else if (row > 1 && size > 20 * scale)
                return row;
        }
        return before.Times.Count;
    }
}
