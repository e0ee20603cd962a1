using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Tests.Reports;

/// <summary>Runs by chance that are followed from transition to transition, and not only looked at at output times: here these are the
/// start and the end alone.</summary>
public class FollowedPathTests
{
    /// <summary>Many enough that standard errors are small, few enough for a test.</summary>
    private const int Runs = 4000;

    private static IReadOnlyList<ChanceOutcomes> Of(
        string lines,
        double end,
        string[] formulas,
        ChanceMethod method = ChanceMethod.Exact,
        double[]? times = null
    )
    {
        var lowered = Lowering.Lower(Studies.Of(lines, end));
        var request = new EnsembleRequest(lowered.Compiled, lowered.Network.ValueVector(), times ?? [0, end], Runs, 5) { Method = method };
        return ChanceOutcomes.Of(lowered, request, formulas);
    }

    /// <summary>4.5 standard errors of a mean: passed by chance once in 100,000 seeds.</summary>
    private static void HasMean(double expected, double variance, ChanceOutcomes found)
    {
        Assert.Equal(Runs, found.Values.Length);
        Assert.Equal(expected, found.Values.Average(), 4.5 * Math.Sqrt(variance / Runs));
    }

    [Fact]
    public void A_level_that_is_met_between_two_output_times_is_met()
    {
        // Births and deaths alike, three at the start: ten are reached before none with 3/10 (the gambler's ruin; Feller, vol. I, XIV.2).
        // Within 300 days it is decided but for one run in 10⁶.
        var found = Of("-> A : 0.5 * A; A -> at 0.5 per day; A(0) = 3", 300, ["ever(A >= 10)", "peak(A) >= 10", "first_time(A >= 10)"]);
        HasMean(0.3, 0.3 * 0.7, found[0]);
        Assert.Equal(found[0].Values, found[1].Values);
        Assert.Equal(found[0].Values.Count(one => one == 1), found[2].Values.Length);
        Assert.All(found[2].Values, time => Assert.InRange(time, 0, 300));
    }

    [Fact]
    public void Times_and_integrals_of_decay_have_their_laws()
    {
        // Five units, each gone after an exponential time: with k left the next goes at 0.2 k.
        const double rate = 0.2;
        var found = Of(
            "A -> B at 0.2 per day; A(0) = 5",
            200,
            ["first_time(A < 1)", "total(A)", "duration(A > 2)", "mean(A)", "value(A, 2.5)", "value(A, first_time(B >= 1))"]
        );
        int[] left = [1, 2, 3, 4, 5];
        HasMean(left.Sum(k => 1 / (rate * k)), left.Sum(k => 1 / (rate * rate * k * k)), found[0]);
        HasMean(5 / rate, 5 / (rate * rate), found[1]);
        HasMean(left.Skip(2).Sum(k => 1 / (rate * k)), left.Skip(2).Sum(k => 1 / (rate * rate * k * k)), found[2]);
        // What is gone by 200 days of five units is all but e⁻⁴⁰: the mean is the integral over the span.
        HasMean(5 / rate / 200, 5 / (rate * rate * 200 * 200), found[3]);
        var kept = Math.Exp(-2.5 * rate);
        HasMean(5 * kept, 5 * kept * (1 - kept), found[4]);
        Assert.All(found[5].Values, value => Assert.Equal(4, value));
    }

    [Fact]
    public void Rates_that_change_with_time_and_many_flows_are_followed_too()
    {
        // One unit that goes at a tenth of the time: it is left after t with exp(−t²/20).
        var rising = Of("A -> B : 0.1 * t * A; A(0) = 1", 30, ["first_time(A < 1)", "total(A)"]);
        var mean = 0.5 * Math.Sqrt(20 * Math.PI);
        HasMean(mean, 20 - mean * mean, rising[0]);
        for (var k = 0; k < Runs; k++)
            Assert.Equal(rising[0].Values[k], rising[1].Values[k], 1e-9);
        // So many flows stand in a queue; each unit goes by itself.
        var lines = string.Join("; ", Enumerable.Range(0, 120).Select(k => $"A{k} -> B{k} at 0.2 per day; A{k}(0) = 1"));
        var many = Of(lines, 100, ["first_time(A7 < 1)", "total(A7)"]);
        HasMean(5, 25, many[0]);
        for (var k = 0; k < Runs; k++)
            Assert.Equal(many[0].Values[k], many[1].Values[k], 1e-9);
    }

    [Fact]
    public void What_names_time_goes_on_while_amounts_stand_still()
    {
        var found = Of("A -> B at 0.2 per day; A(0) = 5", 40, ["total(t)", "peak(t - 100 * A)", "end(A + t)"]);
        // The integral of t, and its most with all gone, where a run has come so far: e⁻⁸ of five.
        Assert.All(found[0].Values, total => Assert.Equal(800, total, 1e-9));
        Assert.All(found[1].Values.Zip(found[2].Values.Select(end => end)), pair => Assert.True(pair.First <= 40));
        Assert.Equal(40, found[1].Values.Max());
    }

    [Theory]
    [InlineData(ChanceMethod.ChainBinomial)]
    [InlineData(ChanceMethod.Leap)]
    public void A_method_that_goes_in_steps_is_looked_at_at_the_end_of_each(ChanceMethod method)
    {
        const string lines = "S -> I : 0.5 * S * I / 1000; I -> R at 0.2 per day; S(0) = 990; I(0) = 10";
        double[] days = [.. Enumerable.Range(0, 61)];
        string[] formulas = ["peak(I)", "peak_time(I)", "total(flow(S, I))"];
        var seldom = Of(lines, 60, formulas, method);
        var daily = Of(lines, 60, formulas, method, days);
        // The chain binomial has a step of a day: it makes the same steps, and is the same at their ends.
        if (method == ChanceMethod.ChainBinomial)
            Assert.Equal(daily.Select(one => one.Values), seldom.Select(one => one.Values));
        Assert.All(seldom[1].Values, time => Assert.InRange(time, 0, 59.99));
        // Means of two ensembles, one of them cut at days: each has its error. A leap ends at most some days behind another.
        Assert.Equal(daily[0].Values.Average(), seldom[0].Values.Average(), 0.02 * daily[0].Values.Average());
    }

    [Fact]
    public void Amounts_that_flow_are_looked_at_before_and_behind_each_transition()
    {
        // One unit that goes at an exponential time gives ten a day to what flows until then, and nothing behind it.
        var document = Studies.Of("U -> at 0.5 per day; -> C : 10 * U; U(0) = 1; C(0) = 0", 80);
        var lowered = Lowering.Lower(Studies.Flowing(document, "C"));
        var request = new EnsembleRequest(lowered.Compiled, lowered.Network.ValueVector(), [0, 80], Runs, 5);
        var found = ChanceOutcomes.Of(lowered, request, ["end(C)", "peak_time(C)", "peak(C)"]);
        // Ten times an exponential time of mean two; it is the peak, and is reached when the unit goes.
        HasMean(20, 400, found[0]);
        HasMean(2, 4, found[1]);
        for (var k = 0; k < Runs; k++)
            Assert.Equal(found[0].Values[k], found[2].Values[k], 1e-6 * (1 + found[0].Values[k]));
    }

    [Fact]
    public void Whoever_follows_segments_can_follow_runs_by_chance()
    {
        var lowered = Lowering.Lower(Studies.Of("A -> B at 0.2 per day; A(0) = 50", 30));
        var (model, values) = (lowered.Compiled, lowered.Network.ValueVector());
        var formula = OutcomeFormula.Read(lowered, "total(A)");
        foreach (IStochasticEngine engine in (IStochasticEngine[])[new ExactEngine(), new ChainBinomialEngine(model, 1)])
        {
            var request = new RunRequest(model, values, [0, 30]) { Seed = 3 };
            var tally = new WindowTally(0, 0, 30, [20]);
            var run = engine.Run(request, tally);
            var path = formula.Follow(values);
            engine.Run(request, path, default);
            Assert.Equal(formula.Of(path, run, values), tally.Outcomes.Integral, 1e-9);
            Assert.Equal((50, 0, run.State(1, 0)), (tally.Outcomes.Maximum, tally.Outcomes.MaximumTime, tally.Outcomes.Final));
        }
    }
}
