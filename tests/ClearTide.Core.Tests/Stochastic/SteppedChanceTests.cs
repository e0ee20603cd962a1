using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Stochastic;

/// <summary>Chain binomial and leaping against exact laws and against the exact method. Means and variances within 4.5 standard errors: a
/// right sampler fails once in about 100 000 runs; seeds are fixed.</summary>
public class SteppedChanceTests
{
    private const int Replicates = 4000;

    private static Tally[][] Run(string lines, ChanceMethod method, double[] times, double step = 1, int replicates = Replicates)
    {
        var lowered = Lowering.Lower(Studies.Of(lines));
        var count = lowered.Network.Amounts.Count;
        return Ensemble.Run(
            new(lowered.Compiled, lowered.Network.ValueVector(), times, replicates, Seed: 21) { Method = method, Step = step },
            count,
            run => [.. Enumerable.Range(0, count).Select(run.OutputColumn)]
        );
    }

    private static void Has(double mean, double variance, Tally tally, double bias = 0)
    {
        Assert.Equal(mean, tally.Mean, 4.5 * Math.Sqrt(variance / tally.Count) + bias * mean);
        // A kurtosis of up to three more than that of a normal law.
        Assert.Equal(variance, Math.Pow(tally.Deviation, 2), 4.5 * variance * Math.Sqrt(5.0 / tally.Count) + 2 * bias * variance);
    }

    [Theory]
    [InlineData(0.25)]
    [InlineData(3)]
    public void Competing_exits_of_a_chain_are_multinomial_at_any_step(double step)
    {
        var cells = Run("A -> B at 0.2; A -> C at 0.1; A(0) = 50; B(0) = 0; C(0) = 0", ChanceMethod.ChainBinomial, [0, 4.5], step);
        var gone = 1 - Math.Exp(-0.3 * 4.5);
        foreach (var (k, share) in new[] { (0, 1 - gone), (1, gone * 2 / 3), (2, gone / 3) })
            Has(50 * share, 50 * share * (1 - share), cells[k][1]);
    }

    [Fact]
    public void The_mean_of_a_chain_follows_its_own_recursion()
    {
        // In steps of two a unit passes one compartment at most: B' = B e^-0.6 + A (1 - e^-1).
        var cells = Run("A -> B at 0.5; B -> C at 0.3; A(0) = 400; B(0) = 0; C(0) = 0", ChanceMethod.ChainBinomial, [0, 2, 4, 6], 2);
        var (a, b) = (400.0, 0.0);
        for (var row = 1; row < 4; row++)
        {
            (a, b) = (a * Math.Exp(-1), b * Math.Exp(-0.6) + a * (1 - Math.Exp(-1)));
            // Of 400 units each is in B or not.
            Has(b, b * (1 - b / 400), cells[1][row]);
        }
    }

    [Theory]
    [InlineData(ChanceMethod.Leap, 0.04)]
    [InlineData(ChanceMethod.ChainBinomial, 0.02)]
    public void Immigration_and_death_is_Poisson(ChanceMethod method, double bias)
    {
        // What enters within a step dies in it only if the step is short: with steps of 0.02 the bias is below half a percent of the rate.
        var cells = Run("-> A : 60; A -> at 0.5; A(0) = 0", method, [0, 1, 10], 0.02)[0];
        for (var row = 1; row < 3; row++)
        {
            var mean = 120 * (1 - Math.Exp(-0.5 * (row == 1 ? 1 : 10)));
            Has(mean, mean, cells[row], bias);
        }
    }

    [Fact]
    public void A_leap_of_many_follows_the_mean_and_of_few_the_exact_law()
    {
        const string lines = "S -> I : 0.5 * S * I / N; I -> R at 0.2; N = S + I + R; I(0) = {0}; S(0) = {1}; R(0) = 0";
        double[] times = [0, 10, 30, 60];
        // Ten million: within a leap's share of the mean-field run, whose spread is a thousandth.
        var many = string.Format(System.Globalization.CultureInfo.InvariantCulture, lines, 100_000, 9_900_000);
        var lowered = Lowering.Lower(Studies.Of(many));
        var plain = Engines.Run(new(lowered.Compiled, lowered.Network.ValueVector(), times));
        var leapt = Run(many, ChanceMethod.Leap, times, replicates: 20);
        for (var row = 1; row < 4; row++)
            Assert.Equal(plain.OutputColumn(1)[row], leapt[1][row].Mean, 0.04 * plain.OutputColumn(1)[row]);
        // Sixty people: the share of epidemics that fade out, and the mean size, as by the exact method.
        var few = string.Format(System.Globalization.CultureInfo.InvariantCulture, lines, 2, 58);
        var (one, other) = (Run(few, ChanceMethod.Leap, times), Run(few, ChanceMethod.Exact, times));
        foreach (var state in (int[])[0, 1, 2])
        {
            var error = Math.Sqrt((Math.Pow(one[state][3].Deviation, 2) + Math.Pow(other[state][3].Deviation, 2)) / Replicates);
            Assert.Equal(other[state][3].Mean, one[state][3].Mean, 4.5 * error + 0.02 * other[state][3].Mean);
        }
        Assert.Equal(0, one[1].Min(tally => Math.Min(0, tally.Quantiles(0)[0])));
    }

    [Fact]
    public void Small_steps_of_a_chain_come_to_the_exact_law()
    {
        const string lines = "S -> I : 0.5 * S * I / 60; I -> R at 0.2; S(0) = 58; I(0) = 2; R(0) = 0";
        var (exact, coarse, fine) = (
            Run(lines, ChanceMethod.Exact, [0, 60]),
            Run(lines, ChanceMethod.ChainBinomial, [0, 60], 2),
            Run(lines, ChanceMethod.ChainBinomial, [0, 60], 0.05)
        );
        var error = Math.Sqrt(2) * exact[2][1].Deviation / Math.Sqrt(Replicates);
        Assert.Equal(exact[2][1].Mean, fine[2][1].Mean, 4.5 * error);
        // A step of two days is a bias that shows: the test above could not fail otherwise.
        Assert.True(Math.Abs(coarse[2][1].Mean - exact[2][1].Mean) > 4.5 * error);
    }

    [Theory]
    [InlineData(ChanceMethod.Leap)]
    [InlineData(ChanceMethod.ChainBinomial)]
    public void Rates_over_time_events_and_planned_moves_are_followed(ChanceMethod method)
    {
        // Births at a seasonal rate: Poisson of the integral 40 t + 200/pi (1 - cos(pi t / 5)).
        var births = Run("-> A : 40 * (1 + sin(t * 0.6283185307179586)); A(0) = 0", method, [0, 3, 10], 0.02)[0];
        for (var row = 1; row < 3; row++)
        {
            var t = row == 1 ? 3.0 : 10;
            var mean = 40 * (t + (1 - Math.Cos(0.6283185307179586 * t)) / 0.6283185307179586);
            Has(mean, mean, births[row], 0.01);
        }
        // A dose of 200 on day 2 decays by half a day.
        var dose = Run("A -> at 0.5; A(0) = 0; at 2: A = A + 200", method, [0, 1, 2, 4], 0.5)[0];
        Assert.Equal((0, 0), (dose[1].Mean, dose[1].Deviation));
        Assert.Equal(200, dose[2].Mean);
        Has(200 * Math.Exp(-1), 200 * Math.Exp(-1) * (1 - Math.Exp(-1)), dose[3], 0.03);
    }

    [Theory]
    [InlineData(ChanceMethod.Leap)]
    [InlineData(ChanceMethod.ChainBinomial)]
    public void A_reaction_of_two_alike_takes_two_and_never_more_than_there_is(ChanceMethod method)
    {
        var cells = Run("reaction r: 2 A -> B : 0.01 * A * (A - 1); A(0) = 101; B(0) = 0", method, [0, 0.2, 200], 0.01, 500);
        Assert.Equal(1, cells[0][2].Mean, 1e-9);
        Assert.Equal(50, cells[1][2].Mean, 1e-9);
        var (exact, error) = (
            Run("reaction r: 2 A -> B : 0.01 * A * (A - 1); A(0) = 101; B(0) = 0", ChanceMethod.Exact, [0, 0.2], 1, 500),
            0.0
        );
        error = Math.Sqrt(2) * exact[0][1].Deviation / Math.Sqrt(500);
        Assert.Equal(exact[0][1].Mean, cells[0][1].Mean, 4.5 * error + 0.02 * exact[0][1].Mean);
    }

    [Fact]
    public void The_same_bits_for_any_number_of_threads()
    {
        foreach (var method in (ChanceMethod[])[ChanceMethod.Leap, ChanceMethod.ChainBinomial])
        {
            var lowered = Lowering.Lower(Studies.Of("S -> I : 0.5 * S * I / 1000; I -> R at 0.2; S(0) = 990; I(0) = 10; R(0) = 0"));
            var request = new EnsembleRequest(lowered.Compiled, lowered.Network.ValueVector(), [0, 10, 20], 200, 5) { Method = method };
            double[] Means(int threads) =>
                [
                    .. Ensemble
                        .Run(request with { Threads = threads }, 3, run => [.. Enumerable.Range(0, 3).Select(run.OutputColumn)])
                        .SelectMany(cells => cells.Select(cell => cell.Mean)),
                ];
            Assert.Equal(Means(1), Means(8));
        }
    }

    [Fact]
    public void The_method_is_chosen_by_size_also_where_amounts_flow_beside()
    {
        var (small, large) = (
            Lowering.Lower(Studies.Of("A -> B at 0.1; A(0) = 500; B(0) = 0")),
            Lowering.Lower(Studies.Of("A -> B at 0.1; A(0) = 1e9; B(0) = 0"))
        );
        (ChanceMethod Method, string Why) Chosen(LoweredModel model) =>
            Ensemble.Choose(new(model.Compiled, model.Network.ValueVector(), [0, 10], 100, 1));
        Assert.Equal(ChanceMethod.Exact, Chosen(small).Method);
        Assert.Equal(ChanceMethod.Leap, Chosen(large).Method);
        Assert.Contains("transitions", Chosen(large).Why);
        var study = Studies.Of("A -> B at 0.1; A(0) = 1e9; B(0) = 0; C -> at 0.2; C(0) = 3");
        var compartments = study.Compartments.Select(part => part with { WholeUnits = part.Symbol != "C" });
        Assert.Equal(ChanceMethod.Leap, Chosen(Lowering.Lower(study with { Compartments = [.. compartments] })).Method);
    }
}
