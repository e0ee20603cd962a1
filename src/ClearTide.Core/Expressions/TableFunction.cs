using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Security.Cryptography;

namespace ClearTide.Core.Expressions;

/// <summary>
/// A function given by a table of points: straight, stepped or smooth between them, with a rule for before and after. The smooth form is
/// the monotone piecewise cubic of Fritsch and Carlson (SIAM J. Numer. Anal. 17, 1980, pp. 238–246) with the slopes of
/// <see cref="MonotoneSlopes"/>: it neither overshoots a point nor turns between two of them. Immutable; any number of threads may share
/// it.
/// </summary>
public sealed class TableFunction
{
    private readonly double[] _x;
    private readonly double[] _y;
    private readonly double[] _slopes;
    private readonly Between _between;
    private readonly Beyond _before,
        _after;
    private readonly double _period;

    /// <param name="points">At least one, ascending in x.</param>
    /// <param name="between">What the function is between two points.</param>
    /// <param name="before">What it is before the first point.</param>
    /// <param name="after">What it is after the last one.</param>
    /// <param name="period">With which it repeats where it does; not positive for <see cref="UsualPeriod"/>.</param>
    public TableFunction(
        ImmutableArray<CurvePoint> points,
        Between between,
        Beyond before = Beyond.Hold,
        Beyond after = Beyond.Hold,
        double period = 0
    )
    {
        if (points.IsEmpty)
            throw new ArgumentException("A table needs a point.", nameof(points));
        _x = [.. points.Select(point => point.X)];
        _y = [.. points.Select(point => point.Y)];
        _between = between;
        _period = period > 0 ? period : UsualPeriod(points, between);
        // What repeats with no length is what it is at its one point.
        _before = before == Beyond.Repeat && _period <= 0 ? Beyond.Hold : before;
        _after = after == Beyond.Repeat && _period <= 0 ? Beyond.Hold : after;
        _slopes =
            between != Between.Smooth ? []
            : Repeats && Gap > 0 ? RoundSlopes()
            : MonotoneSlopes.Of(_x, _y);
        Key = ContentKey();
    }

    /// <summary>
    /// With which period points repeat that nobody has given one: evenly spaced ones with one spacing more than they span, so that
    /// months 0 to 11 make
    /// a year; others, and those that end with the value they begin with, with what they span.
    /// </summary>
    /// <param name="points">The points, in order of their places.</param>
    /// <param name="between">What is done between points.</param>
    public static double UsualPeriod(ImmutableArray<CurvePoint> points, Between between)
    {
        var span = points[^1].X - points[0].X;
        if (points.Length < 2)
            return span;
        var spacing = span / (points.Length - 1);
        var isEven = Enumerable.Range(1, points.Length - 1).All(k => Math.Abs(points[k].X - points[k - 1].X - spacing) <= 1e-9 * spacing);
        // In steps the last value needs a stretch of its own, whatever it is.
        var closes = between != Between.Step && points[0].Y == points[^1].Y && points.Length > 2;
        return isEven && !closes ? span + spacing : span;
    }

    /// <summary>The same table with another value at one of its points; it repeats with the same period.</summary>
    /// <param name="place">Counted from 0.</param>
    /// <param name="value">The value at that point.</param>
    internal TableFunction WithValue(int place, double value) =>
        new([.. Points.Select((point, k) => k == place ? point with { Y = value } : point)], _between, _before, _after, _period);

    private bool Repeats => _before == Beyond.Repeat || _after == Beyond.Repeat;

    /// <summary>From the last point to the next repetition of the first.</summary>
    private double Gap => _x[0] + _period - _x[^1];

    /// <summary>Its points, ascending in x.</summary>
    public IReadOnlyList<CurvePoint> Points => [.. _x.Zip(_y, (x, y) => new CurvePoint(x, y))];

    /// <summary>How values go from one point to the next.</summary>
    public Between Between => _between;

    /// <summary>How it goes on before the first point.</summary>
    public Beyond Before => _before;

    /// <summary>How it goes on after the last point.</summary>
    public Beyond After => _after;

    /// <summary>With which period it repeats where it does.</summary>
    public double Period => _period;

    /// <summary>The slopes of a smooth table at its points; empty for the others.</summary>
    public IReadOnlyList<double> SlopesAtPoints => _slopes;

    /// <summary>The slope with which it goes on before its first and after its last point where it follows the trend.</summary>
    public (double Before, double After) Trends => (TrendAt(0), TrendAt(_x.Length - 1));

    /// <summary>A hash of its content, by which compiled functions that hold it are known.</summary>
    internal byte[] Key { get; }

    /// <summary>Whether its value may jump; else it only has kinks.</summary>
    public bool Jumps => _between == Between.Step || _before is Beyond.Zero or Beyond.Repeat || _after is Beyond.Zero or Beyond.Repeat;

    /// <summary>The places between two others at which a new piece begins, ascending.</summary>
    internal IEnumerable<double> Knots(double from, double until)
    {
        var (first, last) = Repeats ? (Math.Floor((from - _x[0]) / _period), Math.Floor((until - _x[0]) / _period)) : (0, 0);
        if (_before != Beyond.Repeat)
            first = Math.Max(first, 0);
        if (_after != Beyond.Repeat)
            last = Math.Min(last, 0);
        var seen = double.NegativeInfinity;
        for (var turn = first; turn <= last; turn++)
        {
            foreach (var x in _x)
            {
                var knot = x + turn * _period;
                // Points beyond a short period are covered by the next repetition.
                if (knot <= seen || (Repeats && turn < last && x >= _x[0] + _period))
                    continue;
                seen = knot;
                if (knot > from && knot < until)
                    yield return knot;
            }
        }
    }

    /// <summary>The value at a place.</summary>
    /// <param name="x">The place, in the unit of the argument.</param>
    public double At(double x) => AtPiece(x, Piece(x));

    /// <summary>
    /// Which piece a place lies in: -1 before the first point, k between points k and k+1, and so on with the same count through
    /// repetitions.
    /// A whole number that changes where the table is not smooth.
    /// </summary>
    /// <param name="x">The place, in the unit of the argument.</param>
    public double Piece(double x)
    {
        var n = _x.Length;
        if (double.IsNaN(x))
            return 0;
        if (x < _x[0] ? _before == Beyond.Repeat : _after == Beyond.Repeat && x >= _x[0] + _period)
        {
            var turn = Math.Floor((x - _x[0]) / _period);
            return turn * (n + 1) + Within(x - turn * _period);
        }
        return x < _x[0] ? -1 : Within(x);
    }

    /// <summary>The last point at or before a place that is not before the first.</summary>
    private int Within(double x)
    {
        var at = Array.BinarySearch(_x, x);
        return at >= 0 ? at : Math.Max(0, ~at - 1);
    }

    /// <summary>The value at a place by the law of one piece, which goes on smoothly beyond the piece's ends.</summary>
    internal double AtPiece(double x, double piece)
    {
        var (k, turn) = Split(piece);
        x -= turn * _period;
        var last = _x.Length - 1;
        if (k < 0)
        {
            return _before switch
            {
                Beyond.Zero => 0,
                Beyond.Trend => _y[0] + TrendAt(0) * (x - _x[0]),
                _ => _y[0],
            };
        }
        if (k >= last)
        {
            if (turn != 0 || _after == Beyond.Repeat)
                return Wrapped(x);
            return _after switch
            {
                Beyond.Zero => 0,
                Beyond.Trend => _y[last] + TrendAt(last) * (x - _x[last]),
                _ => _y[last],
            };
        }
        return Inside(k, x);
    }

    /// <summary>The derivative at a place; at a corner that of the piece to its right.</summary>
    /// <param name="x">The place, in the unit of the argument.</param>
    public double Slope(double x) => SlopeInPiece(x, Piece(x));

    /// <summary>The derivative at a place by the law of one piece.</summary>
    internal double SlopeInPiece(double x, double piece)
    {
        var (k, turn) = Split(piece);
        x -= turn * _period;
        var last = _x.Length - 1;
        if (k < 0)
            return _before == Beyond.Trend ? TrendAt(0) : 0;
        if (k >= last)
        {
            if (turn != 0 || _after == Beyond.Repeat)
                return Gap <= 0 ? 0 : SlopeBetween(last, 0, Gap, x);
            return _after == Beyond.Trend ? TrendAt(last) : 0;
        }
        return SlopeBetween(k, k + 1, _x[k + 1] - _x[k], x);
    }

    private double SlopeBetween(int k, int next, double h, double x)
    {
        if (_between == Between.Step)
            return 0;
        if (_between == Between.Line)
            return (_y[next] - _y[k]) / h;
        var s = (x - _x[k]) / h;
        return (6 * s * s - 6 * s) * (_y[k] - _y[next]) / h + (3 * s * s - 4 * s + 1) * _slopes[k] + (3 * s * s - 2 * s) * _slopes[next];
    }

    private (int K, double Turn) Split(double piece)
    {
        if (piece < 0 && _before != Beyond.Repeat)
            return (-1, 0);
        var width = _x.Length + 1;
        var turn = Math.Floor(piece / width);
        return ((int)(piece - turn * width), turn);
    }

    /// <summary>Between the last point and the next repetition of the first, by the same rule as between any two.</summary>
    private double Wrapped(double x) => Gap <= 0 ? _y[^1] : ValueBetween(_x.Length - 1, 0, Gap, x);

    private double Inside(int k, double x) => ValueBetween(k, k + 1, _x[k + 1] - _x[k], x);

    private double ValueBetween(int k, int next, double h, double x)
    {
        if (_between == Between.Step)
            return _y[k];
        var s = (x - _x[k]) / h;
        if (_between == Between.Line)
            return _y[k] + s * (_y[next] - _y[k]);
        // Cubic Hermite form.
        var (s2, s3) = (s * s, s * s * s);
        return (2 * s3 - 3 * s2 + 1) * _y[k]
            + (s3 - 2 * s2 + s) * h * _slopes[k]
            + (3 * s2 - 2 * s3) * _y[next]
            + (s3 - s2) * h * _slopes[next];
    }

    /// <summary>The slope with which the table reaches its first or last point.</summary>
    private double TrendAt(int point)
    {
        if (_x.Length < 2 || _between == Between.Step)
            return 0;
        if (_between == Between.Smooth)
            return _slopes[point];
        var k = point == 0 ? 0 : _x.Length - 2;
        return (_y[k + 1] - _y[k]) / (_x[k + 1] - _x[k]);
    }

    /// <summary>Slopes where the points go round: those of the points with their neighbours across the seam.</summary>
    private double[] RoundSlopes() => MonotoneSlopes.Of([_x[^1] - _period, .. _x, _x[0] + _period], [_y[^1], .. _y, _y[0]])[1..^1];

    private byte[] ContentKey()
    {
        var bytes = new byte[16 * _x.Length + 32];
        for (var k = 0; k < _x.Length; k++)
        {
            BinaryPrimitives.WriteDoubleLittleEndian(bytes.AsSpan(16 * k), _x[k]);
            BinaryPrimitives.WriteDoubleLittleEndian(bytes.AsSpan(16 * k + 8), _y[k]);
        }
        var tail = bytes.AsSpan(16 * _x.Length);
        (tail[0], tail[1], tail[2]) = ((byte)_between, (byte)_before, (byte)_after);
        BinaryPrimitives.WriteDoubleLittleEndian(tail[8..], _period);
        return SHA256.HashData(bytes);
    }
}
