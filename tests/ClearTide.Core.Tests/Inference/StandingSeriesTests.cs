using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Inference;

/// <summary>Series that say what stood at a time, and several series at once, against closed forms.</summary>
public class StandingSeriesTests
{
    private static Series Seen(string formula, ErrorLaw? law, params (double Time, double Value, double? Error)[] rows) =>
        new(
            new($"o {formula}", $"d {formula}", formula, "", "1")
            {
                Seen = ObservedAs.Standing,
                Formula = formula,
                Law = law,
            },
            new($"d {formula}", "levels", [.. rows.Select(row => new DataRow(row.Time, row.Time, row.Value) { Error = row.Error })])
        );

    private static FitResult Fit(StudyDocument document, IReadOnlyList<Series> series, params FitParameter[] parameters) =>
        Fitter.Run(document with { Fit = new(ErrorLaw.Poisson, [.. parameters]) }, series);

    private static readonly (double Time, double Value, double? Error)[] Line =
    [
        (0, 3.1, null),
        (2, 4.4, null),
        (4, 7.3, null),
        (6, 8.2, null),
        (8, 11.9, null),
        (10, 12.6, null),
    ];

    [Fact]
    public void A_straight_line_is_that_of_least_squares_with_its_errors_and_its_profile()
    {
        var document = Studies.Of("a = 1; b = 2; y = a + b * t", 20);
        var result = Fit(document, [Seen("y", null, Line)], new("a", -100, 100), new("b", -100, 100));
        var n = Line.Length;
        double x = Line.Average(row => row.Time),
            y = Line.Average(row => row.Value);
        var sxx = Line.Sum(row => (row.Time - x) * (row.Time - x));
        var slope = Line.Sum(row => (row.Time - x) * (row.Value - y)) / sxx;
        var rss = Line.Sum(row => Math.Pow(row.Value - y - slope * (row.Time - x), 2));
        var b = result.Estimates.Single(estimate => estimate.Address == "b");
        // The search ends where a step gains nothing: the slope is flat to the root of rounding there, of what a billionth would move.
        Assert.Equal(slope, b.Value, 1e-7);
        Assert.Equal(y - slope * x, result.Estimates.Single(estimate => estimate.Address == "a").Value, 1e-6);
        var sigma = Math.Sqrt(rss / n);
        Assert.Equal(sigma, result.Spreads[0]!.Value.Main, 1e-8);
        Assert.Equal(sigma / Math.Sqrt(sxx), b.StandardError, 1e-7);
        Assert.Equal(-0.5 * n * (Math.Log(2 * Math.PI * sigma * sigma) + 1), result.LogLikelihood, 1e-9);
        // With the spread fitted again, the log-likelihood falls by n/2 ln(1 + (b - slope)^2 sxx / rss).
        var half = Math.Sqrt(rss / sxx * (Math.Exp(2 * ProfileInterval.Fall / n) - 1));
        // Twelve halvings of two standard errors.
        var near = 2 * b.StandardError / 1000;
        Assert.Equal(slope - half, b.Low!.Value, near);
        Assert.Equal(slope + half, b.High!.Value, near);
        Assert.Equal(2 * 3 - 2 * result.LogLikelihood, result.Aic, 1e-9);
    }

    [Fact]
    public void Errors_of_rows_weigh_them()
    {
        var document = Studies.Of("m = 1; y = m + 0 * t", 20);
        (double, double Value, double? Error)[] rows = [(1, 10, 1), (2, 16, 2), (3, 13, 0.5)];
        var result = Fit(document, [Seen("y", null, rows)], new FitParameter("m", -100, 100));
        var weight = rows.Sum(row => 1 / (row.Error!.Value * row.Error.Value));
        Assert.Equal(rows.Sum(row => row.Value / (row.Error!.Value * row.Error.Value)) / weight, result.Estimates[0].Value, 1e-7);
        Assert.Equal(1 / Math.Sqrt(weight), result.Estimates[0].StandardError, 1e-9);
        Assert.Null(result.Spreads[0]);
    }

    [Fact]
    public void A_log_normal_level_is_the_geometric_mean()
    {
        var document = Studies.Of("m = 1; y = m + 0 * t", 20);
        double[] values = [2, 9, 4, 30, 5];
        var result = Fit(
            document,
            [Seen("y", ErrorLaw.LogNormal, [.. values.Select((value, k) => ((double)k + 1, value, (double?)null))])],
            new FitParameter("m", 0.01, 1000)
        );
        var mean = values.Average(Math.Log);
        Assert.Equal(Math.Exp(mean), result.Estimates[0].Value, 1e-6);
        Assert.Equal(Math.Sqrt(values.Average(value => Math.Pow(Math.Log(value) - mean, 2))), result.Spreads[0]!.Value.Main, 1e-8);
    }

    [Fact]
    public void A_concentration_that_decays_has_its_closed_form_and_derivatives()
    {
        var document = Studies.Of("C(0) = 200; k = 0.3 per day; V = 25; C -> at k", 20);
        var series = Seen("C / V", null, [(0, 0, null), (1.5, 0, null), (7, 0, null), (20, 0, null)]);
        var prediction = new ObservedModel(Lowering.Lower(document), [series], ["k", "V", "C.start"]).Predict([0.3, 25, 200]);
        var rows = series.Data.Rows;
        for (var row = 0; row < rows.Count; row++)
        {
            var (time, level) = (rows[row].End, 200 * Math.Exp(-0.3 * rows[row].End) / 25);
            // The solver works at 1e-9.
            Assert.Equal(level, prediction.Mean[row], 1e-7 * 8);
            Assert.Equal(-time * level, prediction.Gradient[row, 0], 1e-6 * 8);
            Assert.Equal(-level / 25, prediction.Gradient[row, 1], 1e-7);
            Assert.Equal(level / 200, prediction.Gradient[row, 2], 1e-8);
        }
    }

    [Fact]
    public void Series_of_both_kinds_are_fitted_together_and_what_is_left_out_does_not_count()
    {
        const double k = 0.17,
            start = 800;
        var document = Studies.Of("C(0) = 300; k = 0.4 per day; C -> R at k; R(0) = 0", 20);
        Series left = new(
            new("o1", "d1", "Left", document.Flows[0].Id, "1") { Law = ErrorLaw.Normal },
            new(
                "d1",
                "left",
                [
                    .. Enumerable
                        .Range(0, 6)
                        .Select(day => new DataRow(day, day + 1, start * (Math.Exp(-k * day) - Math.Exp(-k * (day + 1)))) { Error = 1 }),
                    new DataRow(6, 7, 5000) { Error = 1, LeftOut = true },
                ]
            )
        );
        var stayed = Seen("C", null, [(3, start * Math.Exp(-3 * k), 1.0), (12, start * Math.Exp(-12 * k), 1.0)]);
        var result = Fit(document, [left, stayed], new("k", 0.01, 2), new("C.start", 10, 5000));
        Assert.Equal(8, result.Means.Length);
        // Without noise the truth comes back, as far as the solver's 1e-9 and the end of the search let it.
        Assert.Equal(k, result.Estimates[0].Value, 1e-6 * k);
        Assert.Equal(start, result.Estimates[1].Value, 1e-6 * start);
    }

    [Fact]
    public void The_run_tells_what_it_expects_of_each_series()
    {
        var document = Studies.Of("C(0) = 200; k = 0.3 per day; V = 25; C -> at k", 20);
        var level = Seen("C / V", null, (5, 1, null));
        Series counted = new(new("o", "d", "Gone", document.Flows[0].Id, "0.5"), new("d", "gone", [new DataRow(0, 2, 10)]));
        var gone = Seen("Z", null, (5, 1, null));
        var run = StudyRun.Of(document, [level, counted, gone]);
        Assert.Equal([level, counted, gone], run.Observed.Select(curve => curve.Series));
        var (stood, flowed) = (run.Observed[0], run.Observed[1]);
        var at = stood.Times.ToList().FindIndex(time => time == 10);
        Assert.Equal(8 * Math.Exp(-3), stood.Expected[at], 1e-6);
        at = flowed.Times.ToList().FindIndex(time => time == 10);
        Assert.Equal(0.5 * 200 * (Math.Exp(-0.3 * 8) - Math.Exp(-3)), flowed.Expected[at], 1e-5);
        Assert.Contains("Z, which is not in the model", run.Observed[2].Problem);
    }

    [Fact]
    public void A_series_of_the_same_name_takes_the_place_of_the_one_before()
    {
        var document = Studies.Of("C(0) = 200; k = 0.3 per day; C -> at k", 20);
        Observation first = new("", "d1", "Level", "", "1") { Seen = ObservedAs.Standing, Formula = "C" };
        document = Applied(new TieSeries([first, new("", "d2", "Gone", document.Flows[0].Id, "1")]));
        document = Applied(new TieSeries([first with { DataSet = "d3", Label = "level " }]));
        Assert.Equal(["d3", "d2"], document.Observations.Select(one => one.DataSet));
        document = Applied(new AddLines("k2 = 3"));
        Assert.Contains("has seen nothing_here", Refused(first with { Formula = "nothing_here / 2" }));
        Assert.Contains("Say what of the model", Refused(first with { Formula = " " }));
        Assert.Contains("cannot be read", Refused(first with { Formula = "C / / 2" }));
        Assert.Contains("Two series are called", new TieSeries([first, first]).Apply(document).Refusal);
        document = Applied(new RemoveSeries(document.Observations[0].Id));
        Assert.Equal("Gone", Assert.Single(document.Observations).Label);

        StudyDocument Applied(Edit edit)
        {
            var result = edit.Apply(document);
            Assert.Null(result.Refusal);
            return result.Document!;
        }
        string Refused(Observation one) => new TieSeries([one]).Apply(document).Refusal!;
    }

    [Fact]
    public void A_formula_that_was_seen_follows_a_renamed_symbol()
    {
        var document = Studies.Of("C(0) = 200; V = 25; C -> at 0.1", 20);
        Observation level = new("", "d", "Level", "", "1") { Seen = ObservedAs.Standing, Formula = "C / V" };
        document = new TieSeries([level]).Apply(document).Document!;
        document = new SetField(document.Compartments[0].Id, PartField.Symbol, "central").Apply(document).Document!;
        Assert.Equal("central / V", document.Observations[0].Formula);
    }
}
