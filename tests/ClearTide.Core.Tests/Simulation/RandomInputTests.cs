using ClearTide.Core.Analysis;
using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

public class RandomInputTests
{
    private const string Noise = "A -> : 0 * A; noise = normal(10, 2) every 7 days";

    private static double[] Draws(long seed, int replicate = 0)
    {
        var document = Studies.Of(Noise, 70) with { Seed = seed };
        var model = new CompiledModel(Lowering.Lower(document).Network);
        var values = model.Network.ValueVector();
        return Engines
            .Run(new(model, values, [.. Enumerable.Range(0, 11).Select(week => 7.0 * week)]) { Replicate = replicate })
            .QuantityColumn(0);
    }

    [Fact]
    public void One_seed_draws_the_same_and_another_draws_anew()
    {
        Assert.Equal(Draws(1), Draws(1));
        Assert.Equal(11, Draws(1).Distinct().Count());
        Assert.Empty(Draws(1).Intersect(Draws(2)));
        Assert.Empty(Draws(1).Intersect(Draws(1, replicate: 1)));
    }

    [Fact]
    public void A_state_of_ones_own_is_where_a_run_begins()
    {
        var model = Runs.Compile(Noise + "; B(0) = noise; B -> : 0 * B; A(0) = 3");
        var values = model.Network.ValueVector();
        var run = Engines.Run(new(model, values, [0, 10]) { Start = [70, 80] });
        Assert.Equal([70.0, 80], new[] { run.Amount(1, 0), run.Amount(1, 1) });
        // The model's own start reads what is drawn there, in each replicate.
        foreach (var replicate in new[] { 0, 5 })
        {
            var own = Engines.Run(new(model, values, [0, 3]) { Replicate = replicate });
            Assert.Equal(own.QuantityColumn(0)[0], own.Amount(1, 1));
            Assert.Equal(3, own.Amount(1, 0));
        }
    }

    [Fact]
    public void A_phase_plane_begins_at_the_starts_that_are_typed_and_stands_still_by_what_is_drawn()
    {
        var lowered = Lowering.Lower(
            Studies.Of("-> A : noise; A -> B at 0.5; B -> at 0.2; noise = uniform(5, 6) every 500 days; A(0) = 1; B(0) = 2", 20)
        );
        var (a, b) = (lowered.Document.PartBySymbol("A")!.Id, lowered.Document.PartBySymbol("B")!.Id);
        var plane = PhasePlane.Of(lowered, a, b, [(7, 9)]);
        Assert.Equal([1.0, 7], plane.Paths.Select(path => path.X[0]));
        Assert.Equal([2.0, 9], plane.Paths.Select(path => path.Y[0]));
        // A stands still at twice what is drawn.
        var drawn = StudyRun.Of(lowered.Document).Run!.QuantityColumn(0)[0];
        var still = Assert.Single(plane.Still).X;
        Assert.NotEmpty(still);
        Assert.All(still, segment => Assert.Equal(2 * drawn, segment.X1, 1e-6));
    }

    [Fact]
    public void A_draw_holds_for_its_interval()
    {
        var run = Runs.OfLines(Noise, 0, 3, 6.9, 7.1, 13.9);
        var column = run.QuantityColumn(0);
        Assert.Equal(column[0], column[2]);
        Assert.NotEqual(column[2], column[3]);
        Assert.Equal(column[3], column[4]);
    }

    /// <summary>Mean and spread of 20 000 draws; 4.5 standard errors, so that a right sampler fails once in about 100 000 runs.</summary>
    [Theory]
    [InlineData("uniform", new[] { 2.0, 5 }, 3.5, 0.75)]
    [InlineData("normal", new[] { 10.0, 2 }, 10, 4)]
    [InlineData("lognormal", new[] { 10.0, 2 }, 10, 4)]
    [InlineData("gamma", new[] { 6.0, 3 }, 6, 9)]
    [InlineData("exponential", new[] { 4.0 }, 4, 16)]
    [InlineData("poisson", new[] { 3.5 }, 3.5, 3.5)]
    [InlineData("poisson", new[] { 4000.0 }, 4000, 4000)]
    [InlineData("bernoulli", new[] { 0.3 }, 0.3, 0.21)]
    public void Quantiles_of_uniform_numbers_have_the_moments_of_their_law(string name, double[] arguments, double mean, double variance)
    {
        const int Count = 20_000;
        var distribution = Distribution.Find(name)!;
        var stream = new RandomStream(7, 0, "test", name);
        var draws = new double[Count];
        for (var k = 0; k < Count; k++)
            draws[k] = distribution.Quantile(arguments, stream.NextUniform() + 1e-17);
        var average = draws.Average();
        Assert.Equal(mean, average, 4.5 * Math.Sqrt(variance / Count));
        var squares = draws.Select(draw => (draw - average) * (draw - average)).ToList();
        var spread = squares.Average();
        var ofSpread = Math.Sqrt(squares.Select(square => (square - spread) * (square - spread)).Average() / Count);
        Assert.Equal(variance, spread, 4.5 * ofSpread + 1e-12);
    }

    [Theory]
    [InlineData("noise = normal(1, -0.2) every 7 days", "above zero")]
    [InlineData("noise = uniform(3, 1) every 7 days", "low end below its high end")]
    [InlineData("noise = bernoulli(2) every 7 days", "between 0 and 1")]
    [InlineData("noise = normal(1, 0.2) every 0 days", "time above zero")]
    public void Numbers_that_make_no_distribution_are_told(string line, string words)
    {
        var lowered = Lowering.Lower(Studies.Of("A -> : noise * A; " + line));
        Assert.Contains(lowered.Findings, finding => finding.Severity == Severity.Unfinished && finding.Message.Contains(words));
    }

    [Theory]
    [InlineData("noise = normal(1, 0.2)", "How often")]
    [InlineData("noise = normal(1) every day", "is written normal(mean, spread)")]
    public void A_draw_that_is_not_whole_is_refused_in_words(string line, string words) =>
        Assert.Contains(words, new AddLines(line).Apply(new StudyDocument { Title = "T" }).Refusal);

    [Fact]
    public void A_draw_moves_what_depends_on_it()
    {
        // Each day's flow is that day's draw: the amount is their sum.
        var document = Studies.Of("-> A : rain; rain = gamma(6, 3) every 1 day", 10) with { Seed = 5 };
        var model = new CompiledModel(Lowering.Lower(document).Network);
        var values = model.Network.ValueVector();
        var run = Engines.Run(new(model, values, [.. Enumerable.Range(0, 11).Select(day => (double)day)]));
        Assert.Equal(run.QuantityColumn(0).Take(10).Sum(), run.Amount(10, 0), 1e-9);
    }
}
