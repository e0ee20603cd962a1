using ClearTide.Core.Model;
using MathNet.Numerics.Distributions;
using MathNet.Numerics.Integration;

namespace ClearTide.Core.Tests.Model;

/// <summary>Priors against the densities of a library, their moments by quadrature, and how they are typed.</summary>
public class PriorTests
{
    public static TheoryData<string, double, double> Laws =>
        new()
        {
            { "normal(0.3, 0.1)", -0.5, 1.1 },
            { "lognormal(2, 0.8)", 1e-9, 40 },
            { "gamma(3, 1.2)", 1e-9, 30 },
            { "beta(0.3, 0.12)", 1e-9, 1 - 1e-9 },
        };

    [Theory]
    [MemberData(nameof(Laws))]
    public void A_density_has_its_mass_mean_and_spread(string typed, double low, double high)
    {
        var prior = Prior.Read(typed).Prior!;
        double Moment(Func<double, double> of) => GaussLegendreRule.Integrate(x => of(x) * Math.Exp(prior.At(x).Log), low, high, 512);
        // What lies outside of the stretch is below a ten-millionth of any of them.
        Assert.Equal(1, Moment(_ => 1), 1e-6);
        Assert.Equal(prior.Mean, Moment(x => x), 1e-5);
        Assert.Equal(prior.Spread, Math.Sqrt(Moment(x => (x - prior.Mean) * (x - prior.Mean))), 1e-4);
    }

    [Fact]
    public void Densities_are_those_of_the_library()
    {
        double Of(string typed, double x) => Prior.Read(typed).Prior!.At(x).Log;
        Assert.Equal(Normal.PDFLn(0.3, 0.1, 0.42), Of("normal(0.3, 0.1)", 0.42), 1e-12);
        Assert.Equal(Gamma.PDFLn(6.25, 6.25 / 3, 2.2), Of("gamma(3, 1.2)", 2.2), 1e-10);
        var size = 0.3 * 0.7 / (0.12 * 0.12) - 1;
        Assert.Equal(Beta.PDFLn(0.3 * size, 0.7 * size, 0.2), Of("beta(0.3, 0.12)", 0.2), 1e-10);
        var s2 = Math.Log(1 + 0.16);
        Assert.Equal(LogNormal.PDFLn(Math.Log(2) - 0.5 * s2, Math.Sqrt(s2), 1.7), Of("lognormal(2, 0.8)", 1.7), 1e-10);
        Assert.Equal(Math.Log(2) + Normal.PDFLn(0, 0.5, 0.4), Of("halfnormal(0.5)", 0.4), 1e-12);
        Assert.Equal(double.NegativeInfinity, Of("halfnormal(0.5)", -0.1));
        Assert.Equal(double.NegativeInfinity, Of("beta(0.3, 0.12)", 1.2));
    }

    [Theory]
    [InlineData("normal(0.3, 0.1)", 0.37)]
    [InlineData("lognormal(2, 0.8)", 1.1)]
    [InlineData("gamma(3, 1.2)", 4.4)]
    [InlineData("beta(0.3, 0.12)", 0.21)]
    [InlineData("half-normal(0.5)", 0.3)]
    public void Slope_and_curvature_are_the_derivatives(string typed, double x)
    {
        var prior = Prior.Read(typed).Prior!;
        const double h = 1e-4;
        var (below, here, above) = (prior.At(x - h).Log, prior.At(x), prior.At(x + h).Log);
        // Truncation of order h², and rounding of 1e-16/h² for the second.
        Assert.Equal((above - below) / (2 * h), here.Slope, 1e-5);
        Assert.Equal((above - 2 * here.Log + below) / (h * h), here.Curvature, 1e-3);
    }

    [Fact]
    public void A_prior_is_read_as_it_is_written()
    {
        foreach (var typed in (string[])["normal(0.3, 0.1)", "lognormal(2, 0.8)", "gamma(3, 1.2)", "beta(0.3, 0.12)", "halfnormal(0.5)"])
            Assert.Equal(typed, Prior.Read(typed).Prior!.ToString());
        Assert.Equal((null, null), Prior.Read(" "));
        Assert.Equal(PriorLaw.Normal, Prior.Read("Normal( 1 ; 2 )").Prior!.Law);
        Assert.Contains("is no prior", Prior.Read("cauchy(0, 1)").Problem);
        Assert.Contains("two numbers", Prior.Read("normal(1)").Problem);
        Assert.Contains("one number", Prior.Read("halfnormal(1, 2)").Problem);
    }

    [Theory]
    [InlineData("normal(1, 0)", 0, 2, "above zero")]
    [InlineData("gamma(0, 1)", 0, 2, "above zero")]
    [InlineData("beta(0.5, 0.9)", 0, 1, "below the root")]
    [InlineData("beta(1.5, 0.1)", 0, 1, "between 0 and 1")]
    [InlineData("normal(9, 0.1)", 0, 1, "nothing between the bounds")]
    [InlineData("gamma(1, 0.1)", -3, -1, "nothing below zero")]
    public void A_prior_that_cannot_be_is_refused_in_a_sentence(string typed, double lower, double upper, string words) =>
        Assert.Contains(words, Prior.Read(typed).Prior!.Refusal(lower, upper));
}
