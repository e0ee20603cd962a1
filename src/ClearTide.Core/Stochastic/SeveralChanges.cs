using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>What one firing of a reaction changes: several amounts at once, whole numbers of each, or nothing where one of them is not
/// there.</summary>
internal sealed unsafe class SeveralChanges(Process process)
{
    private readonly (int State, int Count)[] _changes = [.. process.Changes.Select(change => (change.State, change.Coefficient))];

    /// <summary>Whether a process moves more than one unit from one place to another.</summary>
    public static bool Needs(Process process) =>
        process.Changes.All(change => change.Share < 0)
        && (
            process.Changes.Any(change => Math.Abs(change.Coefficient) != 1)
            || process.Changes.Count(change => change.Coefficient < 0) > 1
            || process.Changes.Count(change => change.Coefficient > 0) > 1
        );

    /// <summary>Makes the changes, or the opposite ones; false where too little is there to take.</summary>
    public bool Happen(double* state, bool backwards)
    {
        var sign = backwards ? -1 : 1;
        foreach (var (place, count) in _changes)
        {
            if (state[place] + sign * count < 0)
                return false;
        }
        foreach (var (place, count) in _changes)
            state[place] += sign * count;
        return true;
    }
}
