using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Tests.Inference;

/// <summary>Series over intervals: means, integrals, several flows and shares that change in time, against closed forms.</summary>
public class IntervalSeriesTests
{
    private static readonly (double From, double To)[] Intervals = [(0, 2), (2, 2.5), (5, 11), (11, 20)];

    private static Series Over(ObservedAs seen, string formula, string share = "1") =>
        new(
            new("o", "d", "Level", "", share) { Seen = seen, Formula = formula },
            new("d", "levels", [.. Intervals.Select(one => new DataRow(one.From, one.To, 1))])
        );

    private static Prediction Predict(StudyDocument document, Series series, params (string Address, double Value)[] values) =>
        new ObservedModel(Lowering.Lower(document), [series], [.. values.Select(value => ValueAddress.Read(value.Address))]).Predict([
            .. values.Select(value => value.Value),
        ]);

    [Theory]
    [InlineData(ObservedAs.Mean)]
    [InlineData(ObservedAs.Integral)]
    public void A_decay_has_its_mean_and_integral_with_their_derivatives(ObservedAs seen)
    {
        var document = Studies.Of("C(0) = 200; k = 0.3 per day; V = 25; C -> at k", 20);
        var prediction = Predict(document, Over(seen, "C / V", "0.5"), ("k", 0.3), ("V", 25));
        for (var row = 0; row < Intervals.Length; row++)
        {
            var (a, b) = Intervals[row];
            double Integral(double k) => 0.5 * 200 / 25.0 * (Math.Exp(-k * a) - Math.Exp(-k * b)) / k;
            var over = seen == ObservedAs.Mean ? b - a : 1;
            var slope =
                0.5
                * 200
                / 25.0
                * ((b * Math.Exp(-0.3 * b) - a * Math.Exp(-0.3 * a)) / 0.3 - (Math.Exp(-0.3 * a) - Math.Exp(-0.3 * b)) / 0.09);
            // The solver works at 1e-9 of totals of some ten.
            Assert.Equal(Integral(0.3) / over, prediction.Mean[row], 1e-7);
            Assert.Equal(slope / over, prediction.Gradient[row, 0], 1e-6);
            Assert.Equal(-Integral(0.3) / over / 25, prediction.Gradient[row, 1], 1e-7);
        }
    }

    [Fact]
    public void Several_flows_are_counted_together()
    {
        var document = Studies.Of("C(0) = 100; C -> R at 0.2; C -> D at 0.1; R(0) = 0; D(0) = 0", 20);
        var series = Over(ObservedAs.Flowed, "") with
        {
            Observation = new("o", "d", "Left", document.Flows[0].Id, "0.5") { OtherFlows = [document.Flows[1].Id] },
        };
        double Gone(double from, double to) => 0.5 * 100 * (Math.Exp(-0.3 * from) - Math.Exp(-0.3 * to));
        var mean = Predict(document, series, ("C.start", 100)).Mean;
        for (var row = 0; row < Intervals.Length; row++)
            Assert.Equal(Gone(Intervals[row].From, Intervals[row].To), mean[row], 1e-6);
        // The same along the run that is shown, in intervals as long as the last one.
        var curve = Assert.Single(StudyRun.Of(document, [series]).Observed);
        Assert.Null(curve.Problem);
        Assert.Equal(Gone(curve.Times[0] - 9, curve.Times[0]), curve.Expected[0], 1e-4);
        Assert.Equal(Gone(curve.Times[^1] - 9, curve.Times[^1]), curve.Expected[^1], 1e-4);
        // By chance, all that left either way is counted.
        var lowered = Lowering.Lower(document);
        var values = lowered.Network.ValueVector();
        var run = new ExactEngine().Run(new(lowered.Compiled, values, [0, 20]) { Seed = 5 });
        Assert.Equal(0.5 * (100 - run.Amount(1, 0)), Followed.Of(series, lowered, 0, values).Read(run)[0]);
    }

    [Fact]
    public void A_share_may_be_an_input_over_time()
    {
        var document = Studies.Of("A(0) = 0; -> A : 10; rho = 0.01 * t", 20);
        var series = Over(ObservedAs.Flowed, "") with { Observation = new("o", "d", "Seen", document.Flows[0].Id, "rho") };
        var prediction = Predict(document, series, ("A.start", 0));
        // The integral of 10 times 0.01 t.
        for (var row = 0; row < Intervals.Length; row++)
        {
            var (a, b) = Intervals[row];
            Assert.Equal(0.05 * (b * b - a * a), prediction.Mean[row], 1e-8);
        }
        var curve = Assert.Single(StudyRun.Of(document, [series]).Observed);
        var last = curve.Times[^1];
        Assert.Equal(0.05 * (last * last - (last - 9) * (last - 9)), curve.Expected[^1], 1e-8);
    }

    [Fact]
    public void A_share_that_changes_with_amounts_is_fitted_and_not_projected()
    {
        var document = Studies.Of("A(0) = 0; -> A : 10; rho = 1 / (1 + A)", 20);
        var series = Over(ObservedAs.Flowed, "") with { Observation = new("o", "d", "Seen", document.Flows[0].Id, "rho") };
        var lowered = Lowering.Lower(document);
        // The integral of 10 / (1 + 10 t) is ln(1 + 10 t).
        Assert.Equal(Math.Log(21), Predict(document, series, ("A.start", 0)).Mean[0], 1e-7);
        var refused = Assert.Throws<ArgumentException>(() => Followed.Of(series, lowered, 0, lowered.Network.ValueVector()));
        Assert.Contains("changes with the amounts", refused.Message);
        Assert.Empty(SeenOnCurve.Of(lowered, series, document.Flows[0].Id));
    }

    [Fact]
    public void A_mean_lies_on_its_curve_in_the_middle_of_its_interval()
    {
        var document = Studies.Of("A(0) = 5; A -> at 0.1", 20);
        var lowered = Lowering.Lower(document);
        var on = SeenOnCurve.Of(lowered, Over(ObservedAs.Mean, "A", "0.5"), document.Compartments[0].Id);
        Assert.Equal([1, 2.25, 8, 15.5], on.Select(row => row.End));
        Assert.All(on, row => Assert.Equal(2, row.Value));
        on = SeenOnCurve.Of(lowered, Over(ObservedAs.Integral, "A"), document.Compartments[0].Id);
        Assert.Equal([0.5, 2, 1.0 / 6, 1.0 / 9], on.Select(row => row.Value));
    }

    [Fact]
    public void A_mean_over_no_time_is_refused_in_a_sentence()
    {
        var document = Studies.Of("C(0) = 200; k = 0.3 per day; C -> at k", 20);
        var series = Over(ObservedAs.Mean, "C") with { Data = new("d", "levels", [new(3, 3, 1), new(4, 4, 2)]) };
        document = document with { Fit = new(ErrorLaw.Normal, [new("k", 0.01, 1)]) };
        Assert.Contains("stand at one time each", Assert.Throws<FitRefusedException>(() => Fitter.Run(document, [series])).Message);
        Assert.Contains("a mean is taken in an interval", Assert.Single(StudyRun.Of(document, [series]).Observed).Problem);
        Assert.Contains("Say what of the model", new TieSeries([Over(ObservedAs.Mean, "").Observation]).Apply(document).Refusal);
    }
}
