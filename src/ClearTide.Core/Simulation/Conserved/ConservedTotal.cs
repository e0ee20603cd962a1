namespace ClearTide.Core.Simulation;

/// <summary>A weighted sum of amounts that no flow changes.</summary>
/// <param name="Weights">Index of each state that takes part, with its whole-numbered weight.</param>
internal sealed record ConservedTotal(IReadOnlyList<(int State, double Weight)> Weights)
{
    /// <summary>
    /// The totals that follow from the structure of a model alone: the left null space of its matrix of states by processes. A share of a
    /// fan-out counts as a whole unit that goes there, since the shares of a flow sum to one. States that rules move take part in none.
    /// </summary>
    public static IReadOnlyList<ConservedTotal> Of(ReactionNetwork network)
    {
        // What rules move, or factors that are no whole numbers, takes part in none.
        var ruled = network
            .Rules.Select(rule => rule.State)
            .Concat(
                network.Processes.SelectMany(process => process.Changes).Where(change => change.Factor >= 0).Select(change => change.State)
            )
            .ToHashSet();
        var columns = network
            .Processes.SelectMany(Columns)
            .Select(column => (IReadOnlyList<(int, int)>)[.. column.Where(entry => !ruled.Contains(entry.State))])
            .Concat(ruled.Select(state => (IReadOnlyList<(int, int)>)[(state, 1)]));
        return
        [
            .. LeftNullSpace
                .Of(network.States.Count, columns)
                .Select(vector => new ConservedTotal([.. vector.Select(pair => (pair.Row, (double)pair.Weight))])),
        ];
    }

    /// <summary>What one unit of a process does: for each end that takes a share, what it does if the unit goes there.</summary>
    private static IEnumerable<IReadOnlyList<(int State, int Entry)>> Columns(Process process)
    {
        var whole = process.Changes.Where(change => change.Share < 0).ToList();
        var shares = process.Changes.Where(change => change.Share >= 0).ToList();
        if (shares.Count == 0)
            return [Sum(whole)];
        var ends = shares.Select(share => Sum([.. whole, share]));
        return process.SharesSum ? ends : ends.Append(Sum(whole));
    }

    private static IReadOnlyList<(int State, int Entry)> Sum(IEnumerable<StateChange> changes) =>
        [
            .. changes
                .GroupBy(change => change.State)
                .Select(group => (group.Key, group.Sum(change => change.Coefficient)))
                .Where(pair => pair.Item2 != 0),
        ];

    /// <summary>The total at one time of a run.</summary>
    public double At(Trajectory run, int time) => Weights.Sum(pair => pair.Weight * run.State(time, pair.State));

    /// <summary>How well a run keeps it: the greatest departure from its first value, as a share of the amounts that make it up.</summary>
    /// <returns>The departure, and the first time at which it was more than rounding and the tolerance of a run can explain, if
    /// any.</returns>
    public (double Drift, double? ChangedAt) Drift(Trajectory run)
    {
        var first = At(run, 0);
        var (worst, changed) = (0.0, (double?)null);
        var size = 0.0;
        for (var k = 0; k < run.Times.Count; k++)
        {
            size = Math.Max(size, Weights.Sum(pair => Math.Abs(pair.Weight * run.State(k, pair.State))));
            if (size == 0)
                continue;
            var drift = Math.Abs(At(run, k) - first) / size;
            worst = Math.Max(worst, drift);
            // Linear totals hold to rounding in every method here; an event that adds or takes is far above this.
            if (drift > 1e-9)
                changed ??= run.Times[k];
        }
        return (worst, changed);
    }
}
