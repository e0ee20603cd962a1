namespace ClearTide.Core.Simulation;

/// <summary>Outcomes of one output within a stretch of a run, whose ends are ends of steps.</summary>
/// <param name="output">Which of the outputs that are handed on.</param>
/// <param name="from">Where the stretch begins.</param>
/// <param name="until">Where it ends.</param>
/// <param name="levels">Levels that are looked at.</param>
internal sealed class WindowTally(int output, double from, double until, params double[] levels) : ISegmentObserver
{
    private readonly OutcomeTally _tally = new([output], [.. levels.Select(level => (output, level))]);
    private readonly double _rounding = 1e-9 * (1 + Math.Abs(until));

    /// <summary>Whether the run has reached the stretch.</summary>
    public bool IsReached { get; private set; }

    public Outcomes Outcomes => _tally.Of(output);

    /// <summary>The outcomes of a level, in the order in which they were given.</summary>
    public LevelOutcomes OfLevel(int index) => _tally.OfLevel(index);

    public void Take(double start, double end, ReadOnlySpan<double> values)
    {
        if (start < from - _rounding || end > until + _rounding)
            return;
        IsReached = true;
        _tally.Take(start, end, values);
    }
}
