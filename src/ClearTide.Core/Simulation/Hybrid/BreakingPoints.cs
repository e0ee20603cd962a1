namespace ClearTide.Core.Simulation;

/// <summary>
/// When jumps of the past come back through delays: each is a point where a step ends. A jump returns after one delay, its trace in the
/// first
/// derivative after two, and so on; from the sixth on the solution is as smooth as the solver's order asks for.
/// </summary>
internal sealed class BreakingPoints(SolutionHistory? past, double end)
{
    private const int Turns = 5;
    private const int Most = 2000;

    private readonly SortedSet<double> _times = [];

    /// <summary>Adds the echoes of a jump.</summary>
    public void Add(double time)
    {
        if (past is null)
            return;
        foreach (var first in past.BreakingPoints(time))
        {
            for (var turn = 1; turn <= Turns && time + turn * (first - time) < end && _times.Count < Most; turn++)
                _times.Add(time + turn * (first - time));
        }
    }

    /// <summary>The first echo after a time, or positive infinity; those before it are over.</summary>
    public double Next(double time)
    {
        while (_times.Count > 0 && _times.Min <= time)
            _times.Remove(_times.Min);
        return _times.Count > 0 ? _times.Min : double.PositiveInfinity;
    }

    public bool Contains(double time) => _times.Contains(time);
}
