using System.Runtime.InteropServices;

namespace ClearTide.Core.Ensembles;

/// <summary>
/// What a number was in many replicates, in memory that does not grow with them: its mean and spread, and how often it fell into each of
/// fixed bins. Whole numbers below 2,048 have a bin of their own; others share one with what agrees with them in the first eleven binary
/// digits, so that a quantile is off by a two-thousandth at most. Bins of two tallies add up exactly, in any order.
/// </summary>
public sealed class Tally
{
    /// <summary>Digits of the significand that a bin drops, of 52.</summary>
    private const int Dropped = 42;

    private readonly Dictionary<int, long> _bins = [];
    private double _mean;
    private double _squares;

    /// <summary>How many replicates were counted.</summary>
    public long Count { get; private set; }

    /// <summary>The mean over replicates.</summary>
    public double Mean => _mean;

    /// <summary>The standard deviation, with n − 1; not a number for a single replicate.</summary>
    public double Deviation => Count > 1 ? Math.Sqrt(Math.Max(0, _squares / (Count - 1))) : double.NaN;

    /// <summary>Counts one replicate (Welford, Technometrics 4, 1962, pp. 419–420, for the running mean and squares).</summary>
    /// <param name="value">Of this replicate.</param>
    public void Add(double value)
    {
        Count++;
        var from = value - _mean;
        _mean += from / Count;
        _squares += from * (value - _mean);
        CollectionsMarshal.GetValueRefOrAddDefault(_bins, Bin(value), out _)++;
    }

    /// <summary>Counts all that another has counted (Chan, Golub and LeVeque, Am. Stat. 37, 1983, pp. 242–247).</summary>
    /// <param name="other">What others have counted.</param>
    public void Add(Tally other)
    {
        if (other.Count == 0)
            return;
        if (Count == 0)
            // What joins nothing stays what it is, to the bit.
            (Count, _mean, _squares) = (other.Count, other._mean, other._squares);
        else
            Join(other);
        foreach (var (bin, times) in other._bins)
            CollectionsMarshal.GetValueRefOrAddDefault(_bins, bin, out _) += times;
    }

    private void Join(Tally other)
    {
        var (count, from) = (Count + other.Count, other._mean - _mean);
        _squares += other._squares + from * from * Count * other.Count / count;
        _mean += from * other.Count / count;
        Count = count;
    }

    /// <summary>How often it was within each of bars of equal width.</summary>
    public Histogram Histogram() => Ensembles.Histogram.Of(Sorted());

    /// <summary>The share of replicates in which it was below a number, as far as bins tell.</summary>
    internal double ShareBelow(double value) =>
        Count == 0 ? double.NaN : (double)Sorted().Where(one => one.Value < value).Sum(one => one.Times) / Count;

    private (double Value, long Times)[] Sorted() =>
        [.. _bins.Select(pair => (Value: Middle(pair.Key), Times: pair.Value)).OrderBy(pair => pair.Value)];

    /// <summary>Writes all that was counted.</summary>
    internal void Write(BinaryWriter writer)
    {
        writer.Write(Count);
        writer.Write(_mean);
        writer.Write(_squares);
        writer.Write(_bins.Count);
        foreach (var (bin, times) in _bins)
        {
            writer.Write(bin);
            writer.Write(times);
        }
    }

    /// <summary>Reads what <see cref="Write"/> has written.</summary>
    internal static Tally Read(BinaryReader reader)
    {
        var tally = new Tally
        {
            Count = reader.ReadInt64(),
            _mean = reader.ReadDouble(),
            _squares = reader.ReadDouble(),
        };
        for (var left = reader.ReadInt32(); left > 0; left--)
            tally._bins[reader.ReadInt32()] = reader.ReadInt64();
        return tally;
    }

    /// <summary>Bins that hold something.</summary>
    internal int Bins => _bins.Count;

    /// <summary>Sample quantiles between the order statistics (Hyndman and Fan, Amer. Statist. 50, 1996, pp. 361–365, definition
    /// 7).</summary>
    /// <param name="shares">From 0 to 1, rising.</param>
    public double[] Quantiles(params ReadOnlySpan<double> shares)
    {
        var sorted = Sorted();
        var found = new double[shares.Length];
        for (var k = 0; k < found.Length; k++)
        {
            var place = (Count - 1) * shares[k];
            var low = (long)Math.Floor(place);
            var (here, next) = (Ordered(sorted, low), Ordered(sorted, Math.Min(low + 1, Count - 1)));
            found[k] = here + (place - low) * (next - here);
        }
        return found;
    }

    private static double Ordered((double Value, long Times)[] sorted, long place)
    {
        foreach (var (value, times) in sorted)
        {
            if (place < times)
                return value;
            place -= times;
        }
        return sorted.Length > 0 ? sorted[^1].Value : double.NaN;
    }

    /// <summary>The sign, the exponent and the first digits of a number.</summary>
    private static int Bin(double value) => (int)(BitConverter.DoubleToInt64Bits(value + 0.0) >> Dropped);

    /// <summary>The whole number of a bin that has one below 2,048, else its middle.</summary>
    private static double Middle(int bin)
    {
        var low = BitConverter.Int64BitsToDouble((long)bin << Dropped);
        return low == Math.Floor(low) && Math.Abs(low) < 2048
            ? low
            : BitConverter.Int64BitsToDouble(((long)bin << Dropped) | (1L << (Dropped - 1)));
    }
}
