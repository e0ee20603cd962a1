using ClearTide.Core.Language;
using ClearTide.Core.Sampling;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Tests.Sampling;

public class SamplerTests
{
    private const int Count = 400_000;

    [Fact]
    public void Exponential_numbers_follow_their_law()
    {
        var stream = new RandomStream(1, 0, "test", "exponential");
        var sample = new double[Count];
        for (var k = 0; k < Count; k++)
            sample[k] = stream.NextExponential();
        Array.Sort(sample);
        var distance = 0.0;
        for (var k = 0; k < Count; k++)
        {
            var law = 1 - Math.Exp(-sample[k]);
            distance = Math.Max(distance, Math.Max(Math.Abs(law - (double)k / Count), Math.Abs(law - (k + 1.0) / Count)));
        }
        // Kolmogorov's distance exceeds 2.5 / sqrt(n) once in 130,000 seeds.
        Assert.True(distance < 2.5 / Math.Sqrt(Count), $"distance {distance}");
        // The far tail is drawn by its own branch: beyond 7.7, exp(-7.7) of all.
        var tail = sample.Count(x => x > 7.697) / (double)Count;
        Assert.Equal(Math.Exp(-7.697), tail, 5 * Math.Sqrt(Math.Exp(-7.697) / Count));
    }

    [Fact]
    public void Neighbouring_streams_have_nothing_in_common()
    {
        const int n = 100_000;
        foreach (
            var other in new[]
            {
                new RandomStream(1, 1, "t", "a"),
                new RandomStream(2, 0, "t", "a"),
                new RandomStream(1, 0, "t", "b"),
                new RandomStream(1, 0, "t", "a", 1),
            }
        )
        {
            var (a, b) = (new RandomStream(1, 0, "t", "a"), other);
            var sum = 0.0;
            for (var k = 0; k < n; k++)
                sum += (a.NextUniform() - 0.5) * (b.NextUniform() - 0.5);
            // The correlation of independent uniforms has a standard error of 1 / sqrt(n).
            Assert.Equal(0, 12 * sum / n, 5 / Math.Sqrt(n));
        }
    }

    [Fact]
    public void Rounding_keeps_totals_and_expectations()
    {
        double[] amounts = [0.3, 12.45, 0.25, 7, 80];
        var sums = new double[amounts.Length];
        var stream = new RandomStream(5, 0, "test", "rounding");
        const int repeats = 50_000;
        for (var r = 0; r < repeats; r++)
        {
            var rounded = (double[])amounts.Clone();
            WholeUnits.Round(rounded, stream.NextUniform());
            Assert.Equal(100, rounded.Sum());
            for (var i = 0; i < rounded.Length; i++)
            {
                Assert.True(rounded[i] == Math.Floor(rounded[i]) && Math.Abs(rounded[i] - amounts[i]) < 1);
                sums[i] += rounded[i];
            }
        }
        // A rounded amount has a standard deviation of at most a half.
        for (var i = 0; i < amounts.Length; i++)
            Assert.Equal(amounts[i], sums[i] / repeats, 5 * 0.5 / Math.Sqrt(repeats));
    }
}
