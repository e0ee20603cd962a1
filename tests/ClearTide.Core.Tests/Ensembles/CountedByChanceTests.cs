using ClearTide.Core.Data;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Ensembles;

/// <summary>What is seen of units that chance has moved: the law that counts are fitted under has that chance in it, and must not have it
/// twice.</summary>
public class CountedByChanceTests
{
    private const int Replicates = 2000,
        Weeks = 10;

    private static readonly StudyDocument Arrivals = Studies.Of("-> A : 10; A -> at 0.1 per day; A(0) = 100", 7 * (Weeks + 2));

    /// <summary>Counts of all weeks of all replicates: arrivals at a rate of ten a day, of which a share is seen.</summary>
    private static double[] Counts(StudyDocument document, string share, ObservationError error, ProjectionChance chance)
    {
        Observation seen = new("o", "d", "Arrivals", document.Flows[0].Id, share);
        DataSet data = new("d", "arrivals", [new(0, 7, 28), new(7, 14, 28)]);
        var projection = new Projection(
            document,
            new(seen, data),
            new(Replicates, 3, new Dictionary<ValueAddress, double>()) { Error = error, Chance = chance }
        );
        var worker = projection.CreateWorker();
        return [.. Enumerable.Range(0, Replicates).SelectMany(replicate => worker.Run(0, replicate, default).Observed)];
    }

    private static (double Mean, double Variance) Moments(double[] counts)
    {
        var mean = counts.Average();
        return (mean, counts.Average(count => (count - mean) * (count - mean)));
    }

    [Theory]
    [InlineData("0.4", 28, ProjectionChance.Exact)]
    [InlineData("0.4", 28, ProjectionChance.None)]
    [InlineData("1", 70, ProjectionChance.Exact)]
    [InlineData("0.05", 3.5, ProjectionChance.ChainBinomial)]
    public void Arrivals_that_are_seen_by_a_share_are_Poisson_with_and_without_chance(string share, double mean, ProjectionChance chance)
    {
        var counts = Counts(Arrivals, share, new(ErrorLaw.Poisson, 1), chance);
        Assert.Equal(Replicates * Weeks, counts.Length);
        var found = Moments(counts);
        Assert.Equal(mean, found.Mean, 4.5 * Math.Sqrt(mean / counts.Length));
        // A variance of n counts whose excess kurtosis is 1/mean.
        Assert.Equal(1, found.Variance / mean, 4.5 * Math.Sqrt((2 + 1 / mean) / counts.Length));
    }

    [Theory]
    [InlineData(ProjectionChance.Exact)]
    [InlineData(ProjectionChance.None)]
    public void A_negative_binomial_law_adds_its_own_variance_once(ProjectionChance chance)
    {
        const double mean = 28,
            k = 5;
        var counts = Counts(Arrivals, "0.4", new(ErrorLaw.NegativeBinomial, k), chance);
        var found = Moments(counts);
        // By chance the square of what there is to see is itself larger by a part in 70, the units of a week.
        var variance = mean + mean * mean / k * (chance == ProjectionChance.None ? 1 : 1 + 1 / 70.0);
        Assert.Equal(mean, found.Mean, 4.5 * Math.Sqrt(variance / counts.Length));
        // Its excess kurtosis is 6/k + 1/variance.
        Assert.Equal(1, found.Variance / variance, 4.5 * Math.Sqrt((2 + 6 / k + 1 / variance) / counts.Length));
    }

    [Fact]
    public void What_flows_without_units_spreads_by_its_law()
    {
        var found = Moments(Counts(Studies.Flowing(Arrivals, "A"), "0.4", new(ErrorLaw.Poisson, 1), ProjectionChance.Exact));
        Assert.Equal(1, found.Variance / 28, 4.5 * Math.Sqrt((2 + 1 / 28.0) / (Replicates * Weeks)));
    }
}
