using System.Collections.Immutable;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Ensembles;

public class EstimateSpreadTests
{
    private static FitResult Fit(ImmutableArray<Estimate> estimates, ImmutableArray<double>? correlations) =>
        new("f", ErrorLaw.Poisson, estimates, [], -10, 24, [], correlations, 5);

    private static Estimate One(string name, double value, double error) => new(new(name), value, error, null, null, Knowledge.Known, "");

    private static FitSetup Setup(params (string Name, double Lower, double Upper)[] asked) =>
        new(ErrorLaw.Poisson, [.. asked.Select(one => new FitParameter(new(one.Name), one.Lower, one.Upper))]);

    [Fact]
    public void Draws_have_the_means_spreads_and_correlation_of_the_fit_in_its_coordinates()
    {
        // One value that cannot be negative, whose logarithm is drawn, and one that can, with a correlation of 0.6.
        var spread = EstimateSpread.Of(
            Fit([One("k", 0.2, 0.02), One("c", 3, 0.5)], [1, 0.6, 0.6, 1]),
            Setup(("k", 0, 10), ("c", -100, 100))
        )!;
        const int n = 20_000;
        var draws = Enumerable.Range(0, n).Select(r => spread.Draw(9, r)).ToList();
        var (logs, plain) = (draws.Select(draw => Math.Log(draw[0])).ToList(), draws.Select(draw => draw[1]).ToList());
        double Mean(List<double> all) => all.Average();
        double Covariance(List<double> a, List<double> b)
        {
            var (x, y) = (Mean(a), Mean(b));
            return a.Zip(b, (one, other) => (one - x) * (other - y)).Sum() / (n - 1);
        }
        // Four standard errors of a mean and of a variance of so many; the seed is fixed.
        Assert.Equal(Math.Log(0.2), Mean(logs), 4 * 0.1 / Math.Sqrt(n));
        Assert.Equal(3, Mean(plain), 4 * 0.5 / Math.Sqrt(n));
        Assert.Equal(0.01, Covariance(logs, logs), 4 * 0.01 * Math.Sqrt(2.0 / n));
        Assert.Equal(0.25, Covariance(plain, plain), 4 * 0.25 * Math.Sqrt(2.0 / n));
        Assert.Equal(
            0.6,
            Covariance(logs, plain) / Math.Sqrt(Covariance(logs, logs) * Covariance(plain, plain)),
            4 * (1 - 0.36) / Math.Sqrt(n)
        );
    }

    [Fact]
    public void A_draw_is_the_same_for_its_number_and_lies_within_the_bounds()
    {
        var spread = EstimateSpread.Of(Fit([One("k", 0.2, 0.2)], [1.0]), Setup(("k", 0.15, 0.25)))!;
        Assert.Equal(spread.Draw(1, 7), spread.Draw(1, 7));
        Assert.NotEqual(spread.Draw(1, 7), spread.Draw(1, 8));
        Assert.NotEqual(spread.Draw(1, 7), spread.Draw(2, 7));
        for (var r = 0; r < 200; r++)
            Assert.InRange(spread.Draw(3, r)[0], 0.15 - 1e-12, 0.25 + 1e-12);
    }

    [Fact]
    public void Where_the_data_leave_something_open_there_is_no_normal_law_to_draw_from()
    {
        var setup = Setup(("k", 0, 1), ("c", 0, 1));
        Assert.Null(EstimateSpread.Of(Fit([One("k", 0.2, double.NaN), One("c", 0.3, double.NaN)], null), setup));
        Assert.Null(EstimateSpread.Of(Fit([One("k", 0.2, 0.1), One("c", 0.3, 0.1)], [1, 1, 1, 1]), setup));
        // A value that is no longer estimated belongs to another fit.
        Assert.Null(EstimateSpread.Of(Fit([One("k", 0.2, 0.1)], [1.0]), Setup(("c", 0, 1))));
    }

    [Fact]
    public void A_projection_spreads_by_chance_and_by_the_fit_as_their_variances_add_up()
    {
        // What is left of 10,000 after ten days at 0.1 a day, the logarithm of the rate known to 0.1.
        var document = Studies.Of("A(0) = 10000; A -> at k; k = 0.1", 10);
        var spread = EstimateSpread.Of(Fit([One("k", 0.1, 0.01)], [1.0]), Setup(("k", 0, 1)))!;
        const int n = 400;
        double[] Ends(EstimateSpread? with)
        {
            var projection = new Projection(
                document,
                null,
                new(n, 4, new Dictionary<ValueAddress, double>()) { Of = document.Compartments[0].Id, Spread = with }
            );
            var worker = projection.CreateWorker();
            return [.. Enumerable.Range(0, n).Select(r => worker.Run(0, r, default).Observed[^1])];
        }
        double Variance(double[] all) => all.Sum(one => (one - all.Average()) * (one - all.Average())) / (n - 1);
        var share = Math.Exp(-1);
        // Binomial by chance; by the fit the slope, 10,000 exp(-1), times the standard deviation of the logarithm, squared.
        var (chance, fit) = (10_000 * share * (1 - share), Math.Pow(10_000 * share * 0.1, 2));
        // Four standard errors of a variance of 400; the law of the second is a little skewed, for which three per cent are added.
        Assert.Equal(chance, Variance(Ends(null)), 4 * chance * Math.Sqrt(2.0 / n));
        Assert.Equal(chance + fit, Variance(Ends(spread)), (4 * Math.Sqrt(2.0 / n) + 0.03) * (chance + fit));
    }
}
