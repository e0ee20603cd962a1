using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Model;
using MathNet.Numerics;
using MathNet.Numerics.Integration;

namespace ClearTide.Core.Tests.Inference;

/// <summary>Values of which only a limit above them is known, against integrals, sums and closed forms.</summary>
public class BelowLimitTests
{
    private static DataRow Below(double limit) => new(0, 1, limit) { Below = true };

    public static TheoryData<ErrorLaw, double, double, double> Limits() =>
        new()
        {
            { ErrorLaw.Normal, 12, 3, 10 },
            { ErrorLaw.Normal, 12, 3, 19 },
            { ErrorLaw.Normal, -4, 0.2, -4.9 },
            { ErrorLaw.LogNormal, 5, 0.4, 3 },
            { ErrorLaw.LogNormal, 0.02, 1, 0.05 },
            { ErrorLaw.Proportional, 7, 0.15, 6 },
            { ErrorLaw.Poisson, 3.5, 1, 3 },
            { ErrorLaw.Poisson, 3.5, 1, 2.5 },
            { ErrorLaw.Poisson, 60, 1, 40 },
            { ErrorLaw.NegativeBinomial, 8, 1.7, 5 },
        };

    private static bool IsCount(ErrorLaw law) => law is ErrorLaw.Poisson or ErrorLaw.NegativeBinomial;

    [Theory]
    [MemberData(nameof(Limits))]
    public void The_probability_is_that_of_all_that_lies_below(ErrorLaw law, double mean, double spread, double limit)
    {
        var one = SpreadLaw.Of(law);
        double Density(double value) => Math.Exp(one.Log(new DataRow(0, 1, value), mean, spread));
        var deviation = law switch
        {
            ErrorLaw.LogNormal or ErrorLaw.Proportional => mean * spread,
            _ => spread,
        };
        var from = law == ErrorLaw.LogNormal ? 1e-300 : mean - 14 * deviation;
        var all =
            IsCount(law) ? Enumerable.Range(0, (int)Math.Ceiling(limit)).Sum(count => Density(count))
            : law == ErrorLaw.LogNormal
                // On the logarithm, on which the law is normal.
                ? GaussLegendreRule.Integrate(u => Density(Math.Exp(u)) * Math.Exp(u), Math.Log(mean) - 14 * spread, Math.Log(limit), 256)
            : GaussLegendreRule.Integrate(Density, from, limit, 256);
        // The quadrature is exact to rounding for what is smooth.
        Assert.Equal(Math.Log(all), one.Log(Below(limit), mean, spread), 1e-11 * Math.Max(1, Math.Abs(Math.Log(all))));
    }

    [Theory]
    [MemberData(nameof(Limits))]
    public void The_score_is_the_slope_of_its_logarithm_and_the_information_is_not_negative(
        ErrorLaw law,
        double mean,
        double spread,
        double limit
    )
    {
        var (one, h) = (SpreadLaw.Of(law), 1e-5 * Math.Abs(mean));
        var slope = (one.Log(Below(limit), mean + h, spread) - one.Log(Below(limit), mean - h, spread)) / (2 * h);
        // Central differences: ten digits at best, and one less where the logarithm is large.
        Assert.Equal(slope, one.Slope(Below(limit), mean, spread), 1e-7 * Math.Max(1, Math.Abs(slope)));
        Assert.True(one.Information(Below(limit), mean, spread) >= 0);
        // A greater mean makes it less likely to be below.
        Assert.True(one.Slope(Below(limit), mean, spread) < 0);
    }

    [Theory]
    // ln Φ(z): Φ(-10) = 7.619853024160527e-24, Φ(-40) = 3.655893540915029e-350 (tables of the normal integral).
    [InlineData(-10, -53.23128515051247)]
    [InlineData(-40, -804.6084420137538)]
    [InlineData(0, -0.6931471805599453)]
    public void The_deep_tail_keeps_its_digits(double z, double expected)
    {
        var law = SpreadLaw.Of(ErrorLaw.Normal);
        Assert.Equal(expected, law.Log(Below(z), 0, 1), 1e-12 * Math.Abs(expected));
        // Mills' ratio: far out the slope is -(z + 1/z - 2/z^3 + 10/z^5) to what is left out.
        if (z <= -40)
            Assert.Equal(z + 1 / z - 2 / (z * z * z), law.Slope(Below(z), 0, 1), 1e-6);
    }

    [Fact]
    public void A_count_below_one_is_a_count_of_none()
    {
        foreach (var law in new[] { ErrorLaw.Poisson, ErrorLaw.NegativeBinomial })
        {
            var one = SpreadLaw.Of(law);
            Assert.Equal(one.Log(new DataRow(0, 1, 0), 2.5, 4), one.Log(Below(1), 2.5, 4), 1e-14);
            Assert.Equal(one.Slope(new DataRow(0, 1, 0), 2.5, 4), one.Slope(Below(1), 2.5, 4), 1e-14);
        }
    }

    /// <summary>Levels of an amount that stays, some of them below a limit of 2.</summary>
    private static FitResult Fit(ErrorLaw law, double limit, int below, params double[] values)
    {
        var document = Studies.Of("m = 3; y = m + 0 * t", 100) with { Fit = new(law, [new("m", 0.01, 100)]) };
        var rows = values
            .Select((value, k) => new DataRow(k, k, value))
            .Concat(Enumerable.Range(0, below).Select(k => new DataRow(values.Length + k, values.Length + k, limit) { Below = true }));
        var observation = new Observation("o", "d", "levels", "", "1")
        {
            Seen = ObservedAs.Standing,
            Formula = "y",
            Law = law,
        };
        return Fitter.Run(document, [new(observation, new("d", "levels", [.. rows]))]);
    }

    [Fact]
    public void A_censored_mean_and_its_spread_solve_their_own_equations()
    {
        double[] values = [2.4, 3.1, 3.9, 2.2, 4.6, 3.3];
        const double limit = 2;
        const int below = 3;
        var result = Fit(ErrorLaw.Normal, limit, below, values);
        var (mean, spread) = (result.Estimates[0].Value, result.Spreads[0]!.Value.Main);
        var z = (limit - mean) / spread;
        var hazard = Math.Exp(-0.5 * z * z) / Math.Sqrt(2 * Math.PI) / (0.5 * SpecialFunctions.Erfc(-z / Constants.Sqrt2));
        // Tobin's equations: the derivatives of the log-likelihood by the mean and by the spread are nothing.
        var byMean = values.Sum(value => (value - mean) / spread) - below * hazard;
        var bySpread = values.Sum(value => Math.Pow((value - mean) / spread, 2) - 1) - below * hazard * z;
        // Where the log-likelihood is highest it is flat to the root of rounding; the spread is searched for to seven digits.
        Assert.Equal(0, byMean, 1e-5);
        Assert.Equal(0, bySpread, 1e-5);
        // What lies below pulls the mean down, and not as far as taking the limit for a value would leave it.
        Assert.True(mean < values.Concat(Enumerable.Repeat(limit, below)).Average());
    }

    [Fact]
    public void Counts_hidden_below_a_limit_are_fitted_as_a_yes_or_no_where_nothing_else_is_known()
    {
        // Seven of ten counts were 0 or 1 and hidden, three were 1: for a mean m each hidden one has the probability e^-m (1 + m).
        var result = Fit(ErrorLaw.Poisson, 2, 7, 1, 1, 1);
        var mean = result.Estimates[0].Value;
        // The derivative of 7 (ln(1 + m) - m) + 3 (ln m - m) is nothing where 3 (1 - m)(1 + m) = 7 m², so m² = 3/10.
        Assert.Equal(Math.Sqrt(0.3), mean, 1e-6);
    }

    [Fact]
    public void A_limit_that_nothing_can_be_below_is_refused()
    {
        Assert.NotNull(SpreadLaw.Of(ErrorLaw.Poisson).Refusal(Below(0)));
        Assert.NotNull(SpreadLaw.Of(ErrorLaw.LogNormal).Refusal(Below(0)));
        Assert.Null(SpreadLaw.Of(ErrorLaw.Normal).Refusal(Below(-3)));
    }
}
