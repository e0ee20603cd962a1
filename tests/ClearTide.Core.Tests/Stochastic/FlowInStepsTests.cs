using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Stochastic;

/// <summary>Amounts that are not counted beside those that are, in steps of the chain binomial, against exact laws and the exact
/// method.</summary>
public class FlowInStepsTests
{
    private static LoweredModel Model(string lines, double end, params string[] flowing) =>
        Lowering.Lower(Studies.Flowing(Studies.Of(lines, end), flowing));

    private static (double Mean, double Deviation) Of(LoweredModel lowered, ChanceMethod method, double step, int column, double end)
    {
        var request = new EnsembleRequest(lowered.Compiled, lowered.Network.ValueVector(), [0, end], 3000, 11)
        {
            Method = method,
            Step = step,
        };
        var tally = Ensemble.Run(request, 1, run => [run.AmountColumn(column)])[0][^1];
        return (tally.Mean, tally.Deviation);
    }

    [Theory]
    [InlineData(1.0)]
    [InlineData(0.1)]
    public void Births_at_a_rate_that_flows_away_are_Poisson(double step)
    {
        // C falls by a tenth a day and nothing counted touches it; births follow it: a Poisson count of what lies under the curve, from the
        // amount where each step begins.
        var lowered = Model("C -> : 0.1 * C; C(0) = 100; -> N : 0.2 * C; N(0) = 0", 10, "C");
        var (mean, deviation) = Of(lowered, ChanceMethod.ChainBinomial, step, 1, 10);
        var expected = Enumerable.Range(0, (int)Math.Round(10 / step)).Sum(k => 0.2 * 100 * Math.Exp(-0.1 * k * step) * step);
        Assert.Equal(expected, mean, 4 * Math.Sqrt(expected / 3000));
        Assert.Equal(1, deviation * deviation / expected, 4 * Math.Sqrt(2.0 / 3000));
        // In the limit of small steps it is the integral.
        Assert.Equal(0.2 * 100 * (1 - Math.Exp(-1)) / 0.1, expected, 0.06 * step * expected);
    }

    [Fact]
    public void What_counted_units_make_flows_as_the_means_say_and_as_the_exact_method_has_it()
    {
        // Units come at 5 a day and leave at 0.5 per head; each makes one a day of what wears off at 0.2.
        var lowered = Model("-> A : 5; A -> at 0.5; A(0) = 0; -> C : A; C -> at 0.2; C(0) = 0", 12, "C");
        // A' = 5 − A/2 and C' = A − C/5 for the means, which is exact since all is linear.
        double A(double t) => 10 * (1 - Math.Exp(-0.5 * t));
        var mean = 10 * ((1 - Math.Exp(-0.2 * 12)) / 0.2 - (Math.Exp(-0.2 * 12) - Math.Exp(-0.5 * 12)) / 0.3);
        var exact = Of(lowered, ChanceMethod.Exact, 1, 1, 12);
        var steps = Of(lowered, ChanceMethod.ChainBinomial, 0.05, 1, 12);
        Assert.Equal(mean, exact.Mean, 4 * exact.Deviation / Math.Sqrt(3000));
        // A step puts what flows in it after what is counted: half a step early, at ten a day at most.
        Assert.Equal(mean, steps.Mean, 4 * exact.Deviation / Math.Sqrt(3000) + 0.05 * A(12));
        Assert.Equal(1, steps.Deviation / exact.Deviation, 4 * Math.Sqrt(1.0 / 3000) + 0.05);
    }

    [Theory]
    // Thousands leap, a few are drawn one by one.
    [InlineData(2000)]
    [InlineData(2)]
    public void Births_at_a_rate_that_flows_away_leap_as_their_Poisson_law_says(double rate)
    {
        var lowered = Model(FormattableString.Invariant($"C -> : 0.1 * C; C(0) = 100; -> N : {rate / 100} * C; N(0) = 0"), 10, "C");
        var (mean, deviation) = Of(lowered, ChanceMethod.Leap, 1, 1, 10);
        // What lies under the curve. A leap takes the middle of a stretch in which rates turn by 3 %: off by less than a thousandth.
        var expected = rate * (1 - Math.Exp(-1)) / 0.1;
        Assert.Equal(expected, mean, 4 * Math.Sqrt(expected / 3000) + 1e-3 * expected);
        Assert.Equal(1, deviation * deviation / expected, 4 * Math.Sqrt(2.0 / 3000) + 0.01);
    }

    [Theory]
    [InlineData(500)]
    [InlineData(1)]
    public void What_leaping_units_make_flows_as_the_means_say(double arrivals)
    {
        // Units come at so many a day and leave at 0.5 per head; each makes one a day of what wears off at 0.2. All is linear: the means
        // are those of the differential equations, and the exact method has the spread.
        var lowered = Model($"-> A : {arrivals}; A -> at 0.5; A(0) = 0; -> C : A; C -> at 0.2; C(0) = 0", 12, "C");
        var mean = 2 * arrivals * ((1 - Math.Exp(-0.2 * 12)) / 0.2 - (Math.Exp(-0.2 * 12) - Math.Exp(-0.5 * 12)) / 0.3);
        var leaping = Of(lowered, ChanceMethod.Leap, 1, 1, 12);
        Assert.Equal(mean, leaping.Mean, 4 * leaping.Deviation / Math.Sqrt(3000) + 2e-3 * mean);
        if (arrivals > 1)
            return;
        var exact = Of(lowered, ChanceMethod.Exact, 1, 1, 12);
        Assert.Equal(1, leaping.Deviation / exact.Deviation, 4 * Math.Sqrt(1.0 / 3000));
    }

    [Fact]
    public void An_epidemic_by_what_is_in_the_water_leaps_as_the_exact_method_runs()
    {
        // Infection depends on what flows, and that on the infected.
        const string lines = "S -> I : 0.002 * S * W; I -> R at 0.25; -> W : 0.1 * I; W -> at 0.5; S(0) = 1500; I(0) = 60; W(0) = 2";
        var lowered = Model(lines, 25, "W");
        var (leaping, exact) = (Of(lowered, ChanceMethod.Leap, 1, 0, 25), Of(lowered, ChanceMethod.Exact, 1, 0, 25));
        // The bias of leaps with rates that change by 3 % is some tenths of a percent of those that are left.
        var error = 4 * Math.Sqrt(2) * exact.Deviation / Math.Sqrt(3000);
        Assert.Equal(exact.Mean, leaping.Mean, error + 5e-3 * exact.Mean);
        Assert.Equal(1, leaping.Deviation / exact.Deviation, 4 * Math.Sqrt(1.0 / 3000) + 0.03);
    }

    [Fact]
    public void What_has_flowed_is_counted_in_steps_and_leaps()
    {
        var lowered = Model("C -> : 0.1 * C; C(0) = 100; N(0) = 1; N -> at 0.001", 10, "C");
        var request = new EnsembleRequest(lowered.Compiled, lowered.Network.ValueVector(), [0, 10], 1, 1)
        {
            Method = ChanceMethod.ChainBinomial,
        };
        var run = Ensemble.RunOne(request.Engine(), request, 0, default);
        // The solver holds 1e-8 of a hundred.
        Assert.Equal(100 * (1 - Math.Exp(-1)), run.Fired(0, 0, 1), 1e-5);
        Assert.Equal(100 * Math.Exp(-1), run.Amount(1, 0), 1e-5);
        var leaping = Ensemble.RunOne((request with { Method = ChanceMethod.Leap }).Engine(), request, 0, default);
        Assert.Equal(100 * (1 - Math.Exp(-1)), leaping.Fired(0, 0, 1), 1e-5);
        var document = lowered.Study;
        var projection = new ProjectionRequest(3, 1, new Dictionary<ValueAddress, double>())
        {
            Of = document.Compartments[0].Id,
            Chance = ProjectionChance.ChainBinomial,
            Step = 0.5,
        };
        Assert.Equal(3, new Projection(document, null, projection).Run(1).Replicates);
    }
}
