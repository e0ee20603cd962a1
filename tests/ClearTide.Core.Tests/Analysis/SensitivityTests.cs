using ClearTide.Core.Analysis;

namespace ClearTide.Core.Tests.Analysis;

/// <summary>Global sensitivity against functions whose indices are known in closed form.</summary>
public class SensitivityTests
{
    private static IReadOnlyList<SobolIndex> Indices(int inputs, int rows, Func<double[], double> function, long seed = 1)
    {
        var design = new SobolIndices(inputs, rows, seed);
        double[] outcomes = [.. Enumerable.Range(0, design.Count).Select(number => function(design.Point(number)))];
        return design.Of(outcomes, seed)!;
    }

    private static double Ishigami(double[] unit)
    {
        var x = unit.Select(u => Math.PI * (2 * u - 1)).ToArray();
        return Math.Sin(x[0]) + 7 * Math.Pow(Math.Sin(x[1]), 2) + 0.1 * Math.Pow(x[2], 4) * Math.Sin(x[0]);
    }

    [Fact]
    public void Indices_of_Ishigami_s_function()
    {
        // Variance a²/8 + b π⁴/5 + b² π⁸/18 + 1/2 with a = 7, b = 0.1; parts as in Saltelli et al., Global Sensitivity Analysis, 2008,
        // section 4.
        double p4 = Math.Pow(Math.PI, 4),
            p8 = p4 * p4;
        var total = 49.0 / 8 + 0.1 * p4 / 5 + 0.01 * p8 / 18 + 0.5;
        var (first, second, both) = (0.5 * Math.Pow(1 + 0.1 * p4 / 5, 2), 49.0 / 8, 0.01 * p8 * (1.0 / 18 - 1.0 / 50));
        var found = Indices(3, 16384, Ishigami);
        // The spread of the estimators at 16,384 rows is about 0.01.
        double[] alone = [first / total, second / total, 0],
            inAll = [(first + both) / total, second / total, both / total];
        for (var k = 0; k < 3; k++)
        {
            Assert.Equal(alone[k], found[k].Alone, 0.03);
            Assert.Equal(inAll[k], found[k].InAll, 0.03);
        }
    }

    [Fact]
    public void Indices_of_the_g_function()
    {
        // Product of (|4x - 2| + a) / (1 + a): V_i = 1 / (3 (1 + a)²), total variance the product of (1 + V_i) less one (Saltelli and
        // Sobol, 1995).
        double[] a = [0, 1, 4.5, 9, 99];
        var parts = a.Select(one => 1 / (3 * (1 + one) * (1 + one))).ToArray();
        var total = parts.Aggregate(1.0, (product, part) => product * (1 + part)) - 1;
        var found = Indices(5, 16384, x =>
            x.Select((u, k) => (Math.Abs(4 * u - 2) + a[k]) / (1 + a[k])).Aggregate(1.0, (product, factor) => product * factor)
        );
        for (var k = 0; k < 5; k++)
        {
            Assert.Equal(parts[k] / total, found[k].Alone, 0.03);
            Assert.Equal(parts[k] * (total + 1) / (1 + parts[k]) / total, found[k].InAll, 0.03);
        }
    }

    [Fact]
    public void Intervals_hold_the_truth_nearly_always()
    {
        // Of a sum of inputs with weights 3, 2, 1 both indices are 9, 4 and 1 parts of 14. Sixty intervals of 95%: fewer than 48 hits
        // have a chance below 1e-6
        // if each holds with 0.95; the bootstrap of 400 rows holds a little less.
        double[] truth = [9 / 14.0, 4 / 14.0, 1 / 14.0];
        var hits = 0;
        for (var seed = 1; seed <= 20; seed++)
        {
            var found = Indices(3, 400, x => 3 * x[0] + 2 * x[1] + x[2], seed);
            for (var k = 0; k < 3; k++)
                hits += found[k].InAllLow <= truth[k] && truth[k] <= found[k].InAllHigh ? 1 : 0;
        }
        Assert.InRange(hits, 48, 60);
    }

    [Fact]
    public void Outcomes_that_failed_are_left_out_and_what_does_not_vary_has_no_indices()
    {
        var design = new SobolIndices(2, 2000, 3);
        double[] outcomes = [.. Enumerable.Range(0, design.Count).Select(number => number % 7 == 0 ? double.NaN : design.Point(number)[0])];
        var found = design.Of(outcomes, 1)!;
        Assert.Equal(1, found[0].InAll, 0.1);
        Assert.Equal(0, found[1].InAll, 1e-12);
        Assert.Null(design.Of(new double[design.Count], 1));
    }

    [Fact]
    public void Partial_rank_correlation_sees_through_other_inputs()
    {
        var points = SampleDesign.LatinHypercube(500, 3, 7, "test");
        double[] outcomes = [.. Enumerable.Range(0, 500).Select(row => Math.Exp(3 * points[row, 0]) - 2 * points[row, 1])];
        var found = RankCorrelation.Partial(points, outcomes)!;
        Assert.InRange(found[0], 0.95, 1);
        Assert.InRange(found[1], -1, -0.5);
        // An input without effect: the spread of the coefficient over 500 rows is 0.045; four of them.
        Assert.InRange(Math.Abs(found[2]), 0, 0.18);
        Assert.Null(RankCorrelation.Partial(points, new double[500]));
    }

    [Fact]
    public void A_Latin_hypercube_has_one_point_in_each_part_of_each_side()
    {
        var points = SampleDesign.LatinHypercube(40, 4, 5, "test");
        for (var column = 0; column < 4; column++)
            Assert.Equal(Enumerable.Range(0, 40), Enumerable.Range(0, 40).Select(row => (int)(40 * points[row, column])).Order());
    }
}
