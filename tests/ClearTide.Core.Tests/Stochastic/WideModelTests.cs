using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Tests.Stochastic;

/// <summary>Fan-outs, stages, limits and scheduled events in exact chance runs.</summary>
public class WideModelTests
{
    private static IReadOnlyList<double[]> Finals(string lines, double end, int replicates)
    {
        var model = new CompiledModel(Lowering.Lower(Studies.Of(lines, end)).Network);
        var values = model.Network.ValueVector();
        var simulation = new NextReactionSimulator(model);
        var start = model.InitialState(values);
        return
        [
            .. Enumerable
                .Range(0, replicates)
                .Select(replicate =>
                    simulation
                        .Run(
                            new(model, values, [0, end])
                            {
                                Start = start,
                                Seed = 11,
                                Replicate = replicate,
                            }
                        )
                        .States[start.Length..]
                ),
        ];
    }

    /// <summary>4.5 standard errors of the mean and of the variance: a right sampler fails once in about 100 000 runs.</summary>
    private static void HasMoments(IReadOnlyList<double> draws, double mean, double variance)
    {
        var average = draws.Average();
        Assert.Equal(mean, average, 4.5 * Math.Sqrt(variance / draws.Count));
        var squares = draws.Select(draw => (draw - average) * (draw - average)).ToList();
        var spread = squares.Average();
        Assert.Equal(
            variance,
            spread,
            4.5 * Math.Sqrt(squares.Select(square => (square - spread) * (square - spread)).Average() / draws.Count) + 1e-12
        );
    }

    [Fact]
    public void A_fan_out_is_a_binomial_draw_of_what_leaves()
    {
        var finals = Finals("I -> R 70%, D the rest after 1 day; I(0) = 200", 200, 1500);
        Assert.All(finals, final => Assert.Equal(200, final.Sum()));
        HasMoments([.. finals.Select(final => final[2])], 60, 200 * 0.3 * 0.7);
    }

    [Fact]
    public void A_fan_out_to_the_outside_loses_what_goes_there()
    {
        var finals = Finals("I -> R 70%, outside the rest after 1 day; I(0) = 200", 200, 1500);
        HasMoments([.. finals.Select(final => final[1])], 140, 200 * 0.3 * 0.7);
    }

    [Fact]
    public void Staged_stays_end_by_the_erlang_law()
    {
        // Share still there after 4 days in 3 stages of 5/3 days: e^-x (1 + x + x²/2), x = 2.4; each of 300 is its own draw.
        var finals = Finals("I -> R after 5 days in 3 stages; I(0) = 300", 4, 1500);
        var still = Math.Exp(-2.4) * (1 + 2.4 + 2.88);
        HasMoments([.. finals.Select(final => final[0] + final[1] + final[2])], 300 * still, 300 * still * (1 - still));
    }

    [Fact]
    public void An_event_moves_exactly_what_it_says()
    {
        var finals = Finals("S -> I at 0.01; V -> : 0 * V; at 3: S -> V : 40; S(0) = 100", 5, 200);
        Assert.All(finals, final => Assert.Equal((100, 40), (final.Sum(), final[2])));
        Assert.All(finals, final => Assert.Equal(Math.Floor(final[0]), final[0]));
    }

    [Fact]
    public void A_limited_flow_never_takes_what_is_not_there()
    {
        var finals = Finals("X -> Y : 30 limited; X(0) = 20", 5, 200);
        Assert.All(finals, final => Assert.Equal((0.0, 20.0), (final[0], final[1])));
    }

    [Theory]
    [InlineData("A -> B : delay(A, 3); A(0) = 5", "Delays with chance are not offered")]
    public void What_chance_cannot_follow_is_refused_in_words(string lines, string words) =>
        Assert.Contains(words, ChanceRefusal.Of(Lowering.Lower(Studies.Of(lines))));

    [Fact]
    public void A_reaction_changes_all_it_moves_at_once_or_nothing()
    {
        var finals = Finals("reaction r: 2 A + B -> 3 C + D : 0.05 * A * B; A(0) = 9; B(0) = 30", 50, 300);
        // A goes by twos until one is left, B one for each two, C three and D one.
        Assert.All(finals, final => Assert.Equal((1.0, 26.0, 12.0, 4.0), (final[0], final[1], final[2], final[3])));
    }

    [Fact]
    public void The_last_pair_waits_an_exponential_time()
    {
        // One A and one B meet at rate k: they have not by time t with chance exp(-k t).
        var finals = Finals("reaction r: A + B -> C : 0.4 * A * B; A(0) = 1; B(0) = 1", 2, 4000);
        var apart = Math.Exp(-0.8);
        HasMoments([.. finals.Select(final => final[0])], apart, apart * (1 - apart));
        Assert.All(finals, final => Assert.Equal((1.0, 1.0), (final[0] + final[2], final[1] + final[2])));
    }

    [Fact]
    public void A_split_makes_both_parts_of_each()
    {
        // Each of 200 splits by day 3 with chance 1 - exp(-0.6), into one B and two C.
        var finals = Finals("reaction r: A -> B + 2 C : 0.2 * A; A(0) = 200", 3, 1500);
        var split = 1 - Math.Exp(-0.6);
        HasMoments([.. finals.Select(final => final[1])], 200 * split, 200 * split * (1 - split));
        Assert.All(finals, final => Assert.Equal(2 * final[1], final[2]));
    }

    [Fact]
    public void Counts_that_are_not_whole_are_refused()
    {
        var lowered = Lowering.Lower(Studies.Of("reaction r: A -> 0.5 B + C : 0.2 * A; A(0) = 200", 3));
        Assert.Contains("r takes or makes numbers that are not whole", ChanceRefusal.Of(lowered));
    }
}
