namespace ClearTide.Core.Simulation;

/// <summary>Outcomes of one output within a stretch of a run. A step that reaches over an end of it is cut there, by its continuous
/// output.</summary>
/// <param name="output">Which of the outputs that are handed on.</param>
/// <param name="from">Where the stretch begins.</param>
/// <param name="until">Where it ends.</param>
/// <param name="levels">Levels that are looked at.</param>
internal sealed class WindowTally(int output, double from, double until, params double[] levels) : ISegmentObserver
{
    // It is handed the one output alone.
    private readonly OutcomeTally _tally = new([0], [.. levels.Select(level => (0, level))]);
    private readonly double[] _cut = new double[InterpolantSegment.NodeCount];

    /// <summary>Whether the run has reached the stretch.</summary>
    public bool IsReached { get; private set; }

    public Outcomes Outcomes => _tally.Of(0);

    /// <summary>The outcomes of a level, in the order in which they were given.</summary>
    public LevelOutcomes OfLevel(int index) => _tally.OfLevel(index);

    public void Take(double start, double end, ReadOnlySpan<double> values)
    {
        var (low, high) = (Math.Max(start, from), Math.Min(end, until));
        if (!(high > low))
            return;
        IsReached = true;
        var whole = values.Slice(output * InterpolantSegment.NodeCount, InterpolantSegment.NodeCount);
        if (low == start && high == end)
        {
            _tally.Take(start, end, whole);
            return;
        }
        var segment = new InterpolantSegment(start, end, whole);
        for (var node = 0; node < _cut.Length; node++)
            _cut[node] = segment.At(low + InterpolantSegment.Nodes[node] * (high - low));
        _tally.Take(low, high, _cut);
    }
}
