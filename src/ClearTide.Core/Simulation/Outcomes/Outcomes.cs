namespace ClearTide.Core.Simulation;

/// <summary>
/// The outcomes of one curve over a run, from the continuous output of the solver, so that none depends on where results are sampled.
/// What does
/// not exist is not a number.
/// </summary>
/// <param name="Initial">Value at the start.</param>
/// <param name="Final">Value at the end.</param>
/// <param name="Minimum">The least value.</param>
/// <param name="MinimumTime">When it is reached first.</param>
/// <param name="Maximum">The greatest value.</param>
/// <param name="MaximumTime">When it is reached first.</param>
/// <param name="Integral">Its integral over the run: the total of a flow, the area under the curve of an amount.</param>
/// <param name="Duration">Length of the run, in units of time.</param>
/// <param name="DoublingTime">Time until it first reaches twice its starting value.</param>
/// <param name="HalfLife">ln 2 over the share by which it falls per unit of time at the end: how long a halving takes if it goes on
/// falling like that.</param>
public sealed record Outcomes(
    double Initial,
    double Final,
    double Minimum,
    double MinimumTime,
    double Maximum,
    double MaximumTime,
    double Integral,
    double Duration,
    double DoublingTime,
    double HalfLife
)
{
    /// <summary>The mean over time.</summary>
    public double Mean => Integral / Duration;
}

/// <summary>What one curve does about a level.</summary>
/// <param name="Level">In the curve's unit.</param>
/// <param name="TimeAbove">For how long it is above the level.</param>
/// <param name="TimeBelow">For how long it is below it.</param>
/// <param name="FirstCrossing">When it first passes the level, either way.</param>
public sealed record LevelOutcomes(double Level, double TimeAbove, double TimeBelow, double FirstCrossing);

/// <summary>Gathers outcomes of all outputs of a model along a run, in memory that does not grow with the run.</summary>
internal sealed class OutcomeTally : ISegmentObserver
{
    private readonly int[] _outputs;
    private readonly Curve[] _curves;
    private readonly (int Output, double Level, Crossings Found)[] _levels;
    private double _from = double.NaN,
        _until;

    /// <param name="outputs">How many outputs the model has: outcomes of all of them are gathered.</param>
    /// <param name="levels">Levels of outputs to be looked at.</param>
    public OutcomeTally(int outputs, params (int Output, double Level)[] levels)
        : this([.. Enumerable.Range(0, outputs)], levels) { }

    /// <param name="outputs">The outputs of which outcomes are gathered: of many runs only what is asked for.</param>
    /// <param name="levels">Levels that are watched, each with its output.</param>
    public OutcomeTally(IReadOnlyList<int> outputs, params (int Output, double Level)[] levels)
    {
        _outputs = [.. outputs];
        _curves = [.. _outputs.Select(_ => new Curve())];
        _levels = [.. levels.Select(level => (level.Output, level.Level, new Crossings()))];
    }

    public void Take(double from, double until, ReadOnlySpan<double> values)
    {
        if (double.IsNaN(_from))
            _from = from;
        _until = until;
        for (var k = 0; k < _curves.Length; k++)
            _curves[k]
                .Take(new(from, until, values.Slice(_outputs[k] * InterpolantSegment.NodeCount, InterpolantSegment.NodeCount)), _from);
        foreach (var (output, level, found) in _levels)
            found.Take(new(from, until, values.Slice(output * InterpolantSegment.NodeCount, InterpolantSegment.NodeCount)), level);
    }

    /// <summary>The outcomes of one output.</summary>
    public Outcomes Of(int output) => _curves[Array.IndexOf(_outputs, output)].Said(_until - _from);

    /// <summary>The outcomes of a level, in the order in which levels were given.</summary>
    internal LevelOutcomes OfLevel(int index)
    {
        var (_, level, found) = _levels[index];
        return new(level, found.Above, _until - _from - found.Above, found.First);
    }

    private sealed class Curve
    {
        private double _initial = double.NaN,
            _final,
            _least = double.PositiveInfinity,
            _leastTime,
            _most = double.NegativeInfinity,
            _mostTime,
            _integral,
            _lost,
            _doubling = double.NaN;

        /// <summary>The last piece: its slope at the end is asked for once.</summary>
        private readonly double[] _last = new double[InterpolantSegment.NodeCount];
        private double _lastLength;

        public void Take(InterpolantSegment piece, double start)
        {
            if (double.IsNaN(_initial))
                _initial = piece.First;
            // Most pieces lie within what has been seen: their bounds tell so without a search.
            var (low, high) = piece.Bounds();
            if (high > _most && piece.Greatest(1) is var (most, mostTime) && most > _most)
                (_most, _mostTime) = (most, mostTime);
            if (low < _least && piece.Greatest(-1) is var (least, leastTime) && least < _least)
                (_least, _leastTime) = (least, leastTime);
            Add(piece.Integral());
            _final = piece.Last;
            piece.CopyTo(_last);
            _lastLength = piece.Until - piece.From;
            var twice = 2 * _initial;
            if (!double.IsNaN(_doubling) || !(_initial > 0) || high < twice)
                return;
            if (piece.First >= twice)
                _doubling = piece.From - start;
            else if (piece.Crossing(twice, piece.From) is var time && !double.IsNaN(time))
                _doubling = time - start;
        }

        /// <summary>Summation that keeps the low bits of many small pieces (Kahan, Comm. ACM 8, 1965).</summary>
        private void Add(double term)
        {
            var corrected = term - _lost;
            var sum = _integral + corrected;
            _lost = sum - _integral - corrected;
            _integral = sum;
        }

        public Outcomes Said(double duration)
        {
            var slope = _lastLength > 0 ? new Quartic(_last).Slope(1) / _lastLength : 0;
            // A rest of rounding error has no half-life.
            var falls = _final > 1e-12 * _most && slope < -1e-9 * _final / duration;
            return new(
                _initial,
                _final,
                _least,
                _leastTime,
                _most,
                _mostTime,
                _integral,
                duration,
                _doubling,
                falls ? Math.Log(2) * _final / -slope : double.NaN
            );
        }
    }

    private sealed class Crossings
    {
        private bool? _below;

        public double Above { get; private set; }

        public double First { get; private set; } = double.NaN;

        public void Take(InterpolantSegment piece, double level)
        {
            var below = piece.First < level;
            // A jump over the level between two pieces is a crossing too.
            if (_below is { } before && before != below)
                Cross(piece.From);
            var time = piece.From;
            while (true)
            {
                var next = piece.Crossing(level, time);
                if (!below)
                    Above += (double.IsNaN(next) ? piece.Until : next) - time;
                if (double.IsNaN(next))
                    break;
                Cross(next);
                below = !below;
                time = next;
            }
            _below = below;
        }

        private void Cross(double time)
        {
            if (double.IsNaN(First))
                First = time;
        }
    }
}
