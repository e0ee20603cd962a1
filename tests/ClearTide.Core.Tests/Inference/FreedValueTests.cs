using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Inference;

/// <summary>Points of inputs and the day a model starts on as values of a fit, against closed forms.</summary>
public class FreedValueTests
{
    private static Series Levels(Func<double, double> value, params double[] times) =>
        new(
            new("o", "d", "Level", "", "1")
            {
                Seen = ObservedAs.Standing,
                Formula = "A",
                Law = ErrorLaw.Normal,
            },
            new("d", "levels", [.. times.Select(time => new DataRow(time, time, value(time)) { Error = 1 })])
        );

    private static StudyDocument Fitting(string lines, double end, params FitParameter[] parameters) =>
        Studies.Of(lines, end) with
        {
            Fit = new(ErrorLaw.Normal, [.. parameters]) { Starts = 3 },
        };

    private static ObservedModel Model(StudyDocument document, Series series) =>
        new(Lowering.Lower(FreedValues.Of(document)), [series], [.. document.Fit.Parameters.Select(one => one.Address)]);

    [Fact]
    public void A_decay_tells_the_day_it_began()
    {
        const double k = 0.25,
            began = -2.5;
        var document = Fitting("A -> at k; A(0) = 100; k = 0.25", 20, new FitParameter("t.start", -10, 2));
        // Without error the day is the one that made the levels, to the solver's nine digits.
        var fit = Fitter.Run(document, [Levels(t => 100 * Math.Exp(-k * (t - began)), 2, 4, 7, 11)]);
        Assert.Equal(began, fit.Estimates[0].Value, 1e-6);
    }

    [Fact]
    public void Expectations_move_with_the_start_as_the_closed_form_says()
    {
        // What flows in goes with the calendar, so that a later start is not the same run shifted: A' = c t − k A and A(t0) = a.
        const double k = 0.3,
            c = 2,
            a = 50;
        static double At(double t, double begun) =>
            c * (t / k - 1 / (k * k)) + (a - c * (begun / k - 1 / (k * k))) * Math.Exp(-k * (t - begun));
        // By hand: −(c t0 − k a) e^(−k (t − t0)), what flows at the start, worn off since.
        static double Slope(double t, double begun) => -(c * begun - k * a) * Math.Exp(-k * (t - begun));
        double[] times = [1, 2, 5, 9];
        var document = Fitting("A -> at k; -> A : c * t; A(0) = 50; k = 0.3; c = 2", 20, new("t.start", -5, 1), new("k", 0.01, 3));
        foreach (var begun in new[] { -3.0, 0, 0.75 })
        {
            var found = Model(document, Levels(_ => 1, times)).Predict([begun, k]);
            for (var row = 0; row < times.Length; row++)
            {
                // The solver's tolerance is 1e-9 of amounts up to a hundred.
                Assert.Equal(At(times[row], begun), found.Mean[row], 1e-6);
                Assert.Equal(Slope(times[row], begun), found.Gradient[row, 0], 1e-6);
            }
        }
    }

    [Fact]
    public void Where_tangents_do_not_hold_the_start_moves_expectations_by_differences()
    {
        // A condition of the state keeps tangents out; it never holds here, so that the closed form is that of a decay.
        var document = Fitting("A -> at k; A(0) = 100; k = 0.25; when A < 0.001: A -> : A", 20, new FitParameter("t.start", -5, 2));
        var found = Model(document, Levels(_ => 1, 2, 6));
        foreach (var begun in new[] { -1.0, 2 })
        {
            var prediction = found.Predict([begun]);
            foreach (var (row, t) in new[] { (0, 2.0), (1, 6.0) })
            {
                Assert.Equal(100 * Math.Exp(-0.25 * (t - begun)), prediction.Mean[row], 1e-6);
                // Central differences of a solve good to 1e-9, or one-sided ones at the first row: six and three digits.
                Assert.Equal(25 * Math.Exp(-0.25 * (t - begun)), prediction.Gradient[row, 0], begun < 2 ? 1e-4 : 0.1);
            }
        }
    }

    [Fact]
    public void Counts_tell_the_points_of_an_input()
    {
        // So many a day flow in as the input says, and are counted from day to day: a count is what lies under the line.
        var document = Fitting(
            "-> A : season(t); A(0) = 0; season = points 0 10, 2 30, 5 6",
            8,
            new("season.point", 0, 100),
            new("season.point_2", 0, 100)
        );
        var flow = document.Flows[0].Id;
        static double Under(double t) => t <= 2 ? 12 * t + 5 * t * t : 44 + 32 * (t - 2) - 26.0 / 3 / 2 * (t - 2) * (t - 2);
        var counts = new DataSet("d", "counts", [.. Enumerable.Range(0, 5).Select(k => new DataRow(k, k + 1, Under(k + 1) - Under(k)))]);
        // Points 12 and 32 made the counts; the third stays at 6.
        var fit = Fitter.Run(document, [new(new("o", "d", "Counts", flow, "1"), counts)]);
        // The solver's nine digits of sums near a hundred.
        Assert.Equal([12, 32], fit.Estimates.Select(one => one.Value), new Near(1e-5));
    }

    [Fact]
    public void A_point_moves_what_repeats_in_every_turn()
    {
        // In steps of a value for a day each, over and over: the amount is linear in each point with the time spent at it.
        var document = Fitting(
            "-> A : week(t); A(0) = 0; week = points 0 5, 1 2, 2 8 step then repeat",
            9,
            new FitParameter("week.point_2", 0, 100)
        );
        var found = Model(document, Levels(_ => 1, 1.5, 4.25, 8.5)).Predict([3]);
        Assert.Equal([5 + 1.5, 5 + 3 + 8 + 5 + 0.75, 2 * 16 + 5 + 3 + 4], found.Mean, new Near(1e-6));
        Assert.Equal([0.5, 1.25, 3], Enumerable.Range(0, 3).Select(row => found.Gradient[row, 0]), new Near(1e-6));
    }

    [Fact]
    public void Estimates_of_points_and_of_the_start_go_into_the_model_and_do_not_outdate_the_fit()
    {
        var document = Fitting(
            "-> A : season(t); A -> at 0.5; A(0) = 3; season = points 0 10, 2 30, 5 6",
            12,
            new("season.point_2", 0, 100),
            new("t.start", -4, 1)
        );
        var series = Levels(t => 10 + t, 1, 3, 6);
        var before = Fingerprints.Of(document, [series]);
        var adopted = new AdoptValues(new Dictionary<ValueAddress, double> { ["season.point_2"] = 25, ["t.start"] = -1.5 }).Apply(document);
        Assert.Equal([10, 25, 6], adopted.Document!.Inputs[0].Points.Select(point => point.Y));
        Assert.Equal(-1.5, adopted.Document.Start);
        Assert.Equal(before, Fingerprints.Of(adopted.Document, [series]));
        var other = document.With(document.Inputs[0] with { Points = document.Inputs[0].Points.SetItem(0, new(0, 11)) });
        Assert.NotEqual(before, Fingerprints.Of(other, [series]));
    }

    [Fact]
    public void A_start_after_the_end_is_refused()
    {
        var refused = new AdoptValues(new Dictionary<ValueAddress, double> { ["t.start"] = 30 }).Apply(Studies.Of("A(0) = 1", 20));
        Assert.NotNull(refused.Refusal);
    }

    [Theory]
    [InlineData("season = points 0 10, 2 30, 5 6 smooth", "season.point_2", 0, 100, "straight lines")]
    [InlineData("season = points 0 10, 2 30, 5 6", "season.point_4", 0, 100, "no point")]
    [InlineData("season = points 0 10, 2 30, 5 6", "t.start", -1, 2, "at most 1")]
    public void What_cannot_be_estimated_is_refused_in_words(string input, string address, double low, double high, string words)
    {
        var document = Fitting($"-> A : season(t); A -> at 0.5; A(0) = 3; {input}", 12, new FitParameter(address, low, high));
        var refused = Assert.Throws<FitRefusedException>(() => Fitter.Run(document, [Levels(t => 10 + t, 1, 3, 6)]));
        Assert.Contains(words, refused.Message);
    }

    private sealed class Near(double within) : IEqualityComparer<double>
    {
        public bool Equals(double x, double y) => Math.Abs(x - y) <= within;

        public int GetHashCode(double obj) => 0;
    }
}
