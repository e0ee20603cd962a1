namespace ClearTide.Core.Simulation;

/// <summary>
/// One smooth stretch of a run, between two ends of steps, by its values at the five Gauss–Lobatto nodes: the polynomial of degree 4
/// through
/// them is the continuous output of the solvers itself for amounts, and integrals over the stretch are exact to degree 7 (Abramowitz and
/// Stegun, Handbook of Mathematical Functions, 25.4.32).
/// </summary>
/// <param name="from">Where the stretch begins.</param>
/// <param name="until">Where it ends, later than it begins.</param>
/// <param name="values">The values at the nodes.</param>
internal readonly ref struct InterpolantSegment(double from, double until, ReadOnlySpan<double> values)
{
    public const int NodeCount = 5;

    private static readonly double Outer = 0.5 * (1 - Math.Sqrt(3.0 / 7));

    /// <summary>Where in a stretch the nodes lie, from 0 to 1.</summary>
    public static readonly double[] Nodes = [0, Outer, 0.5, 1 - Outer, 1];

    private static readonly double[] Weights = [1.0 / 20, 49.0 / 180, 16.0 / 45, 49.0 / 180, 1.0 / 20];

    private readonly ReadOnlySpan<double> _values = values;

    public double From { get; } = from;

    public double Until { get; } = until;

    private double Length => Until - From;

    public double First => _values[0];

    public double Last => _values[NodeCount - 1];

    /// <summary>Its values at the nodes.</summary>
    public void CopyTo(Span<double> values) => _values.CopyTo(values);

    /// <summary>
    /// Ends between which all values of the stretch lie: a polynomial departs from the middle of its values at the nodes by at most the
    /// nodes' Lebesgue
    /// constant, 1.64 for these five, times half their range.
    /// </summary>
    public (double Low, double High) Bounds()
    {
        var (low, high) = (_values[0], _values[0]);
        for (var k = 1; k < NodeCount; k++)
            (low, high) = (Math.Min(low, _values[k]), Math.Max(high, _values[k]));
        var (middle, reach) = (0.5 * (low + high), 0.5 * 1.65 * (high - low));
        return (middle - reach, middle + reach);
    }

    /// <summary>The integral over the whole stretch.</summary>
    public double Integral()
    {
        var sum = 0.0;
        for (var k = 0; k < NodeCount; k++)
            sum += Weights[k] * _values[k];
        return Length * sum;
    }

    /// <summary>The integral from where the stretch begins to a time in it.</summary>
    public double Integral(double time) => Length * new Quartic(_values).Integral(Place(time));

    /// <summary>The value at a time in the stretch.</summary>
    public double At(double time) => new Quartic(_values).At(Place(time));

    /// <summary>The derivative by time.</summary>
    public double Slope(double time) => new Quartic(_values).Slope(Place(time)) / Length;

    /// <summary>The greatest value and when it is reached first; of the negative for the least.</summary>
    public (double Value, double Time) Greatest(int sign)
    {
        var (best, at) = (double.NegativeInfinity, 0.0);
        for (var k = 0; k < NodeCount; k++)
        {
            if (sign * _values[k] > best)
                (best, at) = (sign * _values[k], Nodes[k]);
        }
        var curve = new Quartic(_values);
        // Between two nodes the slope changes its sign where there is an extreme.
        var before = sign * curve.Slope(0);
        for (var k = 0; k + 1 < NodeCount; k++)
        {
            var (low, high, after) = (Nodes[k], Nodes[k + 1], sign * curve.Slope(Nodes[k + 1]));
            var turns = before > 0 && after < 0;
            before = after;
            if (!turns)
                continue;
            for (var round = 0; round < 60; round++)
            {
                var middle = 0.5 * (low + high);
                if (middle <= low || middle >= high)
                    break;
                if (sign * curve.Slope(middle) > 0)
                    low = middle;
                else
                    high = middle;
            }
            if (sign * curve.At(low) > best)
                (best, at) = (sign * curve.At(low), low);
        }
        return (sign * best, From + at * Length);
    }

    /// <summary>The first time at or after a time in the stretch at which the value passes a level, or not a number.</summary>
    public double Crossing(double level, double after)
    {
        var curve = new Quartic(_values);
        // In times throughout, so that a crossing that is asked from again lies on its far side.
        var (low, below) = (after, curve.At(Place(after)) < level);
        foreach (var node in Nodes)
        {
            var here = From + node * Length;
            if (here <= low)
                continue;
            if (curve.At(Place(here)) < level == below)
            {
                low = here;
                continue;
            }
            var high = here;
            for (var round = 0; round < 80; round++)
            {
                var middle = 0.5 * (low + high);
                if (middle <= low || middle >= high)
                    break;
                if (curve.At(Place(middle)) < level == below)
                    low = middle;
                else
                    high = middle;
            }
            return high;
        }
        return double.NaN;
    }

    private double Place(double time) => Length > 0 ? Math.Clamp((time - From) / Length, 0, 1) : 0;
}
