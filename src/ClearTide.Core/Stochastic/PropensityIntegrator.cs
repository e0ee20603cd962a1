using ClearTide.Core.Expressions;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// Integrals of rates over time while the state stands still. A stretch is halved until Simpson's rule on it and on its halves agree
/// (Lyness, J. ACM 16, 1969, pp. 483–495); within an accepted stretch a rate is the parabola through its ends and middle.
/// </summary>
internal sealed unsafe class PropensityIntegrator
{
    /// <summary>Agreement asked of each internal time, in mean waits: far below what chance could show in any number of runs.</summary>
    private const double Tolerance = 1e-9;

    /// <summary>A stretch is not halved below this share of the first try: what is left there is a jump.</summary>
    private const double Shortest = 1e-10;

    private readonly VectorFunction _rates;
    private readonly int _m;
    private readonly double[] _memory;
    private readonly double* _first,
        _second,
        _third,
        _fourth,
        _fifth;
    private double _start,
        _length;
    private double _proposal = double.PositiveInfinity;

    public PropensityIntegrator(VectorFunction rates, int count)
    {
        _rates = rates;
        _m = count;
        Used = new double[count];
        _memory = GC.AllocateArray<double>(5 * count + 1, pinned: true);
        _first = (double*)System.Runtime.CompilerServices.Unsafe.AsPointer(ref _memory[0]);
        _second = _first + count;
        _third = _second + count;
        _fourth = _third + count;
        _fifth = _fourth + count;
    }

    /// <summary>For each process the internal time that the last stretch used; negative where it ran backwards.</summary>
    public double[] Used { get; }

    /// <summary>Integrates from <paramref name="t"/> over a stretch that ends at the limit or before; returns its end.</summary>
    public double Advance(double t, double limit, double* y, double* p)
    {
        _start = t;
        _rates(t, y, p, _first);
        var total = 0.0;
        for (var k = 0; k < _m; k++)
            total += Math.Abs(_first[k]);
        // About one transition a stretch: a longer one would be thrown away at the first.
        var h = Math.Min(Math.Min(limit - t, _proposal), total > 0 ? 1.5 / total : double.PositiveInfinity);
        var least = h * Shortest;
        while (true)
        {
            _rates(t + 0.25 * h, y, p, _second);
            _rates(t + 0.5 * h, y, p, _third);
            _rates(t + 0.75 * h, y, p, _fourth);
            _rates(t + h, y, p, _fifth);
            if (Agrees(h) || h <= least)
                break;
            h *= 0.5;
        }
        _length = h;
        _proposal = 2 * h;
        return t + h >= limit ? limit : t + h;
    }

    private bool Agrees(double h)
    {
        var agrees = true;
        for (var k = 0; k < _m; k++)
        {
            var coarse = h / 6 * (_first[k] + 4 * _third[k] + _fifth[k]);
            Used[k] = h / 12 * (_first[k] + 4 * _second[k] + 2 * _third[k] + 4 * _fourth[k] + _fifth[k]);
            var oneWay = (_first[k] >= 0 && _third[k] >= 0 && _fifth[k] >= 0) || (_first[k] <= 0 && _third[k] <= 0 && _fifth[k] <= 0);
            // Infinite and not-a-number compare false on purpose: they are the caller's to report.
            if (!oneWay || Math.Abs(Used[k] - coarse) > 15 * Tolerance * Math.Max(1, Math.Abs(Used[k])))
                agrees = false;
        }
        return agrees;
    }

    /// <summary>The process whose clock runs out first within the stretch, or -1; shortens the stretch to that moment.</summary>
    public int FirstToRunOut(double* left, double* leftReverse, ref double end)
    {
        var first = -1;
        var share = 1.0;
        for (var k = 0; k < _m; k++)
        {
            var clock = Used[k] >= 0 ? left[k] : leftReverse[k];
            if (Math.Abs(Integral(k, share)) <= clock)
                continue;
            share = ShareFor(k, clock, share);
            first = k;
        }
        if (first < 0)
            return -1;
        for (var k = 0; k < _m; k++)
            Used[k] = Integral(k, share);
        end = _start + share * _length;
        return first;
    }

    /// <summary>The integral of a rate's parabola over the first <paramref name="s"/> of the stretch.</summary>
    private double Integral(int k, double s)
    {
        double a = _first[k],
            c = _third[k],
            e = _fifth[k];
        return _length * s * (a + s * ((4 * c - 3 * a - e) / 2 + s * (2 * a - 4 * c + 2 * e) / 3));
    }

    /// <summary>Bisection: the integral grows in one direction, and 60 halvings reach the last bit.</summary>
    private double ShareFor(int k, double clock, double high)
    {
        var low = 0.0;
        for (var halving = 0; halving < 60; halving++)
        {
            var middle = 0.5 * (low + high);
            if (Math.Abs(Integral(k, middle)) > clock)
                high = middle;
            else
                low = middle;
        }
        return high;
    }
}
