using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Reports;

/// <summary>Formulas over what a whole run by chance comes to.</summary>
public class OutcomeFormulaTests
{
    private const string Epidemic = """
        S -> I : beta * S * I / 100
        I -> R after 5 days
        beta = 0.4 per day
        ill = I / 100
        S(0) = 95
        I(0) = 5
        """;

    private static LoweredModel Lowered(string lines, double end = 60) => Lowering.Lower(Studies.Of(lines, end));

    /// <summary>One run and its curves, from which the same numbers are read by hand.</summary>
    private static (Trajectory Run, double[] I, double[] Times, double[] Values) Run(LoweredModel lowered)
    {
        var values = lowered.Network.ValueVector();
        double[] times = [.. Enumerable.Range(0, 121).Select(k => 0.5 * k)];
        var request = new EnsembleRequest(lowered.Compiled, values, times, 1, 4);
        var run = Ensemble.RunOne(request.Engine(), request, 0, default);
        return (run, run.OutputColumn(lowered.Network.OutputOf(lowered.Document.CompartmentBySymbol("I")!.Id)), times, values);
    }

    [Fact]
    public void Every_function_of_a_run_is_what_one_reads_off_its_curve()
    {
        var lowered = Lowered(Epidemic);
        var (run, i, times, values) = Run(lowered);
        double Of(string text) => OutcomeFormula.Read(lowered, text).Of(run, values);
        var area = Enumerable.Range(1, 120).Sum(k => 0.25 * (i[k - 1] + i[k]));
        var top = Array.IndexOf(i, i.Max());
        Assert.Equal(i.Max(), Of("peak(I)"));
        Assert.Equal(times[top], Of("peak_time(I)"));
        Assert.Equal(i.Min(), Of("lowest(I)"));
        Assert.Equal((5, i[^1]), (Of("start(I)"), Of("end(I)")));
        Assert.Equal(area, Of("total(I)"), 1e-9);
        Assert.Equal(area / 60, Of("mean(I)"), 1e-9);
        // Where there is a time between two that were looked at, it is what it was at the one before.
        Assert.Equal((i[20], i[20]), (Of("value(I, 10)"), Of("value(I, 10.2)")));
        Assert.True(double.IsNaN(Of("value(I, 61)")));
        Assert.Equal(i.Max(), Of("value(I, peak_time(I))"));
        Assert.Equal(times[Array.FindIndex(i, one => one > 8)], Of("first_time(I > 8)"));
        Assert.Equal(0.5 * i.Take(120).Count(one => one > 8), Of("duration(I > 8)"));
        Assert.Equal((1, 0), (Of("ever(I > 8)"), Of("always(I > 8)")));
        Assert.Equal(i.Max() / 100, Of("peak(ill)"), 1e-15);
        // All that were infected: 95 at the start less those that still can be.
        Assert.Equal(95 - Of("end(S)"), Of("total(flow(S, I))"));
        Assert.Equal(Of("end(R)"), Of("total(flow(I, R))"));
        Assert.Equal(2 * 0.4 + 5, Of("2 * beta + start(I)"), 1e-15);
        Assert.Equal(Of("peak(S + I + R)"), Of("lowest(S + I + R)"));
    }

    [Theory]
    [InlineData("peak(I) > 8 and peak_time(I) > 2", true)]
    [InlineData("not ever(I > 1000)", true)]
    [InlineData("ever(I > 1000) or always(S + I + R == 100)", true)]
    [InlineData("end(I) < start(I)", true)]
    [InlineData("peak(I)", false)]
    [InlineData("peak(I) - start(I)", false)]
    public void A_formula_says_something_or_is_a_number(string text, bool says)
    {
        var lowered = Lowered(Epidemic);
        var (run, _, _, values) = Run(lowered);
        var formula = OutcomeFormula.Read(lowered, text);
        Assert.Equal(says, formula.IsStatement);
        if (says)
            Assert.Equal(1, formula.Of(run, values));
    }

    [Fact]
    public void What_never_happens_has_no_time_and_is_before_nothing()
    {
        var lowered = Lowered(Epidemic);
        var (run, _, _, values) = Run(lowered);
        Assert.True(double.IsNaN(OutcomeFormula.Read(lowered, "first_time(I > 1000)").Of(run, values)));
        Assert.Equal(0, OutcomeFormula.Read(lowered, "first_time(I > 1000) < 100").Of(run, values));
        Assert.Equal(0, OutcomeFormula.Read(lowered, "first_time(I > 1000) >= 100").Of(run, values));
    }

    [Theory]
    [InlineData("I > 40", "“I” changes along a run. Say what of it: peak(I), end(I), ever(I > 40), first_time(I < 1).")]
    [InlineData("peak(X) > 4", "There is no “X” in the model.")]
    [InlineData("zenith(I) > 4", "Over a run there are peak(…), peak_time(…)")]
    [InlineData("peak(peak(I))", "Within these functions there are names of the model")]
    [InlineData("peak(flow(S, I))", "Ask for what it has moved: total(flow(S, R)).")]
    [InlineData("total(flow(S, R))", "There is no flow from S to R.")]
    [InlineData("value(I)", "“value” takes two things: what, and the time, as in value(I, 60).")]
    [InlineData("peak(I, S)", "“peak” takes one thing.")]
    [InlineData("peak(I) >", "")]
    [InlineData("t > 4", "“t” goes on along a run.")]
    [InlineData("value(I, t)", "“t” goes on along a run.")]
    public void What_cannot_be_read_is_said_in_words(string text, string words)
    {
        var wrong = Assert.Throws<ArgumentException>(() => OutcomeFormula.Read(Lowered(Epidemic), text));
        Assert.Contains(words, wrong.Message);
        Assert.NotEmpty(wrong.Message);
    }

    [Fact]
    public void A_formula_of_a_split_compartment_is_about_all_members_or_one()
    {
        var lowered = Lowered("group age = child, adult\nA -> at 0.1\nA(0) = 60\nsplit A by age");
        var (run, values) = (default(Trajectory), lowered.Network.ValueVector());
        var request = new EnsembleRequest(lowered.Compiled, values, [0, 5, 10], 1, 4);
        run = Ensemble.RunOne(request.Engine(), request, 0, default);
        double Of(string text) => OutcomeFormula.Read(lowered, text).Of(run, values);
        Assert.Equal(60, Of("start(total(A))"));
        Assert.Equal(Of("end(total(A))"), Of("end(A[child]) + end(A[adult])"));
        Assert.Equal(60 - Of("end(total(A))"), Of("total(flow(A, outside))"));
        Assert.Equal(Of("start(A[child]) - end(A[child])"), Of("total(flow(A[child], outside))"));
    }

    [Fact]
    public void The_share_of_runs_in_which_something_dies_out_is_that_of_its_law()
    {
        // Births b, deaths d, one at the start: gone by t with d(E - 1)/(bE - d), E = exp((b - d)t) (Bailey 1964, 8.6); by twenty alike
        // and independent of each other, by the twentieth power.
        var (b, d, t) = (0.3, 0.25, 30.0);
        var lowered = Lowered("-> A : 0.3 * A; A -> at 0.25 per day; A(0) = 3", t);
        var found = ChanceOutcomes.Of(lowered, "first_time(A < 1) <= 30", 4000, lowered.Network.ValueVector());
        var e = Math.Exp((b - d) * t);
        var share = Math.Pow(d * (e - 1) / (b * e - d), 3);
        Assert.True(found.IsStatement);
        Assert.Equal((4000, 0), (found.Runs, found.Without));
        // 4.5 standard errors of a share: once in 100,000 seeds.
        Assert.Equal(share, found.Above(0.5).Share, 4.5 * Math.Sqrt(share * (1 - share) / 4000));
    }

    [Fact]
    public void The_mean_of_a_number_has_the_interval_of_means_and_a_statement_that_of_shares()
    {
        // 60 units decay to a mean of 60 exp(-0.5) with a binomial's spread.
        var lowered = Lowered("A -> B at 0.1 per day; A(0) = 60", 5);
        var request = new EnsembleRequest(lowered.Compiled, lowered.Network.ValueVector(), [0, 2.5, 5], 4000, 9);
        var found = ChanceOutcomes.Of(lowered, request, ["end(A)", "end(A) > 36", "first_time(A > 1000)"]);
        var (mean, low, high, deviation) = found[0].Mean();
        var kept = Math.Exp(-0.5);
        var spread = Math.Sqrt(60 * kept * (1 - kept));
        Assert.Equal(60 * kept, mean, 4.5 * spread / Math.Sqrt(4000));
        // The standard error of a standard deviation is about one in sqrt(2 n).
        Assert.Equal(spread, deviation, 4.5 * spread / Math.Sqrt(8000));
        Assert.Equal(1.959964 * deviation / Math.Sqrt(4000), high - mean, 1e-5);
        Assert.Equal(mean - low, high - mean, 1e-9);
        var share = found[1].Mean();
        Assert.Equal(1 - MathNet.Numerics.Distributions.Binomial.CDF(kept, 60, 36), share.Value, 4.5 * 0.5 / Math.Sqrt(4000));
        Assert.Equal(Proportion.Of((int)Math.Round(share.Value * 4000), 4000), new(share.Value, share.Low, share.High));
        Assert.Equal((0, 4000, true), (found[2].Values.Length, found[2].Without, double.IsNaN(found[2].Mean().Value)));
    }

    [Fact]
    public void A_statement_over_two_outcomes_is_the_law_of_both_together()
    {
        // 60 units decay at 0.1 per day: of those left at 5 days each is left at 12 with exp(-0.7). Counted over both.
        var lowered = Lowered("A -> B at 0.1 per day; A(0) = 60", 12);
        var found = ChanceOutcomes.Of(lowered, "value(A, 5.1) >= 38 and end(A) <= 17", 6000, lowered.Network.ValueVector());
        // Looked at 401 times, 0.03 days apart: 5.1 is one of them.
        var (early, later) = (Math.Exp(-0.51), Math.Exp(-0.69));
        var share = Enumerable
            .Range(38, 23)
            .Sum(n =>
                MathNet.Numerics.Distributions.Binomial.PMF(early, 60, n) * MathNet.Numerics.Distributions.Binomial.CDF(later, n, 17)
            );
        Assert.InRange(share, 0.05, 0.95);
        Assert.Equal(share, found.Above(0.5).Share, 4.5 * Math.Sqrt(share * (1 - share) / 6000));
    }
}
