using ClearTide.Core.Data;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Ensembles;

/// <summary>Shares of sources in the variance of a projection, against the law of total variance.</summary>
public class SpreadShareTests
{
    private static readonly Dictionary<ValueAddress, double> None = [];
    private static readonly StudyDocument Study = Studies.Of("A(0) = 2000; A -> at k; k = 0.1", 10);
    private const double Deviation = 0.05;
    private static readonly EstimateSpread Rate = new([new("k", Math.Log(0.1), true, Math.Log(1e-6), Math.Log(10))], [Deviation]);

    /// <summary>A mean over the law of the rate, by the trapezoidal rule from −8 to 8 deviations.</summary>
    private static double Over(Func<double, double> of)
    {
        var sum = 0.0;
        for (var z = -8.0; z <= 8; z += 0.01)
            sum += 0.01 * Math.Exp(-0.5 * z * z) / Math.Sqrt(2 * Math.PI) * of(0.1 * Math.Exp(Deviation * z));
        return sum;
    }

    [Fact]
    public void What_a_fit_left_uncertain_and_chance_have_the_shares_of_the_law_of_total_variance()
    {
        var request = new ProjectionRequest(1, 3, None) { Of = Study.Compartments[0].Id, Spread = Rate };
        var projection = new Projection(Study, null, request);
        var shares = SpreadShares.Of(projection, 2000, 2);
        Assert.Equal([SpreadSource.Chance, SpreadSource.Fit], shares.Sources.Select(one => one.Source));
        for (var at = 0; at < projection.Times.Length - 1; at += 30)
        {
            // Binomial at a known rate: the variance of its mean over rates, and the mean of its variance.
            double Left(double k) => Math.Exp(-k * projection.Times[at + 1]);
            var mean = Over(k => 2000 * Left(k));
            var ofFit = Over(k => Math.Pow(2000 * Left(k) - mean, 2));
            var ofChance = Over(k => 2000 * Left(k) * (1 - Left(k)));
            var (share, error) = (shares.Sources[1].Share[at], shares.Sources[1].Error[at]);
            Assert.InRange(error, 0, 0.05);
            Assert.Equal(ofFit / (ofFit + ofChance), share, 4 * Math.Max(error, 0.005));
            // Rates move no more than a few per cent, so that next to nothing is of both together.
            Assert.Equal(
                ofChance / (ofFit + ofChance),
                shares.Sources[0].Share[at],
                4 * Math.Max(shares.Sources[0].Error[at], 0.005) + 0.02
            );
        }
    }

    [Fact]
    public void One_source_alone_has_all_of_the_variance_and_none_has_none()
    {
        var request = new ProjectionRequest(1, 3, None)
        {
            Of = Study.Compartments[0].Id,
            Spread = Rate,
            Chance = ProjectionChance.None,
        };
        var shares = SpreadShares.Of(new Projection(Study, null, request), 100, 2);
        Assert.Equal(SpreadSource.Fit, Assert.Single(shares.Sources).Source);
        // Both runs of a pair are the same run.
        Assert.All(shares.Sources[0].Share, share => Assert.Equal(1, share, 1e-9));
        Assert.Empty(SpreadShares.Of(new Projection(Study, null, request with { Spread = null }), 100, 2).Sources);
    }

    [Fact]
    public void The_error_of_observation_has_its_share()
    {
        // Without chance, counts are Poisson around what a rate makes of them: the same law of total variance.
        var rows = new DataSet("d", "gone", [new(0, 1, 190)]);
        var series = new Series(new("o", "d", "Gone", Study.Flows[0].Id, "1"), rows);
        var projection = new Projection(
            Study,
            series,
            new ProjectionRequest(1, 3, None)
            {
                Spread = Rate,
                Chance = ProjectionChance.None,
                Error = new(ErrorLaw.Poisson, 1),
            }
        );
        var shares = SpreadShares.Of(projection, 4000, 2);
        double Gone(double k) => 2000 * (Math.Exp(-k) - Math.Exp(-2 * k));
        var mean = Over(Gone);
        var ofFit = Over(k => Math.Pow(Gone(k) - mean, 2));
        Assert.Equal(ofFit / (ofFit + mean), shares.Sources[0].Share[0], 4 * shares.Sources[0].Error[0]);
        Assert.Equal(mean / (ofFit + mean), shares.Sources[1].Share[0], 4 * shares.Sources[1].Error[0] + 0.01);
    }

    [Fact]
    public void Shares_are_the_same_for_any_number_of_threads()
    {
        var projection = new Projection(Study, null, new ProjectionRequest(1, 3, None) { Of = Study.Compartments[0].Id, Spread = Rate });
        Assert.Equal(
            SpreadShares.Of(projection, 60, 1).Sources.SelectMany(one => one.Share.Concat(one.Error)),
            SpreadShares.Of(projection, 60, 3).Sources.SelectMany(one => one.Share.Concat(one.Error))
        );
    }
}
