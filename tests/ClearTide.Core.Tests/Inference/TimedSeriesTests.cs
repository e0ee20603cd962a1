using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using SpecialFunctions = MathNet.Numerics.SpecialFunctions;

namespace ClearTide.Core.Tests.Inference;

/// <summary>Flows that come in late and by weekdays, against closed forms.</summary>
public class TimedSeriesTests
{
    private static readonly (double From, double To)[] Intervals = [(0, 1), (1, 2), (2, 3.5), (5, 13), (13, 20)];

    /// <summary>Forty come a day; time zero is a Wednesday.</summary>
    private static StudyDocument Steady() =>
        Studies.Of("-> A : inflow; A(0) = 0; inflow = 40 per day; late = 3 days; sunday = 0.25; rho = 0.5", 40) with
        {
            Origin = new(2026, 11, 25),
        };

    private static Series Counted(StudyDocument document, Func<Observation, Observation> seen) =>
        new(
            seen(new("o", "d", "Reports", document.Flows[0].Id, "rho")),
            new("d", "reports", [.. Intervals.Select(one => new DataRow(one.From, one.To, 1))])
        );

    private static Prediction Predict(StudyDocument document, Series series, params ValueAddress[] values)
    {
        var model = new ObservedModel(Lowering.Lower(document), [series], values);
        return model.Predict([.. model.Chosen.Select(index => model.Values[index])]);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(4)]
    [InlineData(12)]
    public void What_comes_in_late_is_what_has_passed_so_many_stages(int stages)
    {
        var document = Steady();
        var found = Predict(document, Counted(document, one => one with { Delay = "late", DelayStages = stages }), "late", "inflow");
        // Of a steady flow that begins at zero, what has come in is the integral of the gamma law of the time under way.
        double Until(double t, double mean) =>
            t == 0
                ? 0
                : t * SpecialFunctions.GammaLowerRegularized(stages, t * stages / mean)
                    - mean * SpecialFunctions.GammaLowerRegularized(stages + 1, t * stages / mean);
        for (var row = 0; row < Intervals.Length; row++)
        {
            var (from, to) = Intervals[row];
            double Expected(double mean) => 20 * (Until(to, mean) - Until(from, mean));
            // The solver works at 1e-9 of totals of some hundreds.
            Assert.Equal(Expected(3), found.Mean[row], 1e-6);
            // A difference of the closed form has about nine digits.
            Assert.Equal((Expected(3.001) - Expected(2.999)) / 0.002, found.Gradient[row, 0], 2e-5);
            Assert.Equal(Expected(3) / 40, found.Gradient[row, 1], 1e-7);
        }
    }

    private static readonly string[] Week = ["1", "1.2", "1.1", "1", "0.9", "0.5", "sunday"];

    /// <summary>How much of the days from one time to another comes in; day 4, a Sunday, is the first that has little.</summary>
    private static double Weighed(double from, double to, double sunday)
    {
        double[] parts = [1, 1.2, 1.1, 1, 0.9, 0.5, sunday];
        var sum = 0.0;
        for (var day = 0; day < 40; day++)
            sum += parts[(day + 2) % 7] * Math.Max(0, Math.Min(to, day + 1) - Math.Max(from, day));
        return sum;
    }

    [Fact]
    public void Each_weekday_has_its_part()
    {
        var document = Steady();
        var series = Counted(document, one => one with { Weekdays = [.. Week] });
        var found = Predict(document, series, "sunday", "inflow");
        for (var row = 0; row < Intervals.Length; row++)
        {
            var (from, to) = Intervals[row];
            Assert.Equal(20 * Weighed(from, to, 0.25), found.Mean[row], 1e-6);
            Assert.Equal(20 * (Weighed(from, to, 1) - Weighed(from, to, 0)), found.Gradient[row, 0], 1e-6);
            Assert.Equal(0.5 * Weighed(from, to, 0.25), found.Gradient[row, 1], 1e-7);
        }
    }

    [Fact]
    public void A_day_is_a_day_in_hours_and_in_weeks()
    {
        var days = Steady();
        foreach (var (unit, per) in new[] { (TimeUnit.Hour, 24.0), (TimeUnit.Week, 1 / 7.0) })
        {
            var document = new SetTimeUnit(unit, Convert: true).Apply(days).Document!;
            var series = Counted(document, one => one with { Weekdays = [.. Week], Delay = "late", DelayStages = 2 });
            series = series with
            {
                Data = series.Data with
                {
                    Rows = [.. series.Data.Rows.Select(row => row with { Start = row.Start * per, End = row.End * per })],
                },
            };
            var expected = Predict(days, Counted(days, one => one with { Weekdays = [.. Week], Delay = "late", DelayStages = 2 }));
            foreach (var (one, other) in expected.Mean.Zip(Predict(document, series).Mean))
                Assert.Equal(one, other, 1e-5);
        }
    }

    [Fact]
    public void The_curve_of_what_is_expected_and_the_points_on_the_flow_know_both()
    {
        var document = Steady();
        var series = Counted(document, one => one with { Weekdays = [.. Week], Delay = "3 days", DelayStages = 2 });
        var one = series with { Data = new("d", "reports", [new(9, 10, 12)]) };
        document = document with { Observations = [one.Observation] };
        var curve = Assert.Single(StudyRun.Of(document, [one]).Observed);
        Assert.Null(curve.Problem);
        var rows = curve.Times.Select((time, k) => (time, curve.Expected[k])).Where(at => at.time is 10 or 21 or 33).ToList();
        Assert.Equal(3, rows.Count);
        foreach (var (time, expected) in rows)
        {
            var exact = Predict(document, series with { Data = new("d", "r", [new(time - 1, time, 1)]) }).Mean[0];
            // The curve is run at the study's own tolerance.
            Assert.Equal(exact, expected, 1e-4 * exact);
        }
        // Twelve of a Friday are seen where all that happened three days before would have been.
        var point = Assert.Single(SeenOnCurve.Of(Lowering.Lower(document), one, document.Flows[0].Id));
        Assert.Equal(9.5 - 3, point.End);
        Assert.Equal(12 / (0.5 * 0.9), point.Value, 1e-12);
    }

    [Fact]
    public void Weekdays_are_in_projections_and_delays_are_refused_there_in_words()
    {
        var document = Steady();
        var series = Counted(document, one => one with { Weekdays = [.. Week] });
        Assert.Equal(
            0.5 * Weighed(20, 27, 0.25) / 7,
            SeenExpression.ShareOver(Lowering.Lower(document), series.Observation, 20, 27, Lowering.Lower(document).Network.ValueVector()),
            1e-12
        );
        var late = series with { Observation = series.Observation with { Delay = "2 days" } };
        var refusal = Assert.Throws<ProjectionRefusedException>(() =>
            Followed.Of(late, Lowering.Lower(document), 20, Lowering.Lower(document).Network.ValueVector())
        );
        Assert.Contains("come in late", refusal.Message);
    }

    public static TheoryData<string, string> Wrong() =>
        new()
        {
            { "delay 0", "A delay is a time above zero" },
            { "delay 1 +", "The delay cannot be read" },
            { "delay lag", "The delay uses lag" },
            { "stages 0", "through 1 to 50 stages" },
            { "days 6", "A week has seven days" },
            { "day -1", "Monday is a number from zero on" },
            { "day tau", "Monday uses tau" },
            { "formula", "Only what flowed" },
            { "no date", "which day time zero is" },
            { "years", "A study in years has no weekdays" },
        };

    [Theory]
    [MemberData(nameof(Wrong))]
    public void What_makes_no_sense_is_refused_in_words(string what, string words)
    {
        var document = Steady();
        if (what == "no date")
            document = document with { Origin = null };
        if (what == "years")
            document = document with { TimeUnit = TimeUnit.Year };
        var one = Counted(document, one => one with { Weekdays = [.. Week], Delay = "2 days" }).Observation;
        one = what switch
        {
            "formula" => one with { FlowId = "", Seen = ObservedAs.Standing, Formula = "A" },
            "stages 0" => one with { DelayStages = 0 },
            "days 6" => one with { Weekdays = [.. Week.Take(6)] },
            _ when what.StartsWith("delay ", StringComparison.Ordinal) => one with { Delay = what[6..] },
            _ when what.StartsWith("day ", StringComparison.Ordinal) => one with { Weekdays = [what[4..], .. Week.Skip(1)] },
            _ => one,
        };
        Assert.Contains(words, new TieSeries([one]).Apply(document).Refusal);
    }

    [Fact]
    public void Names_and_times_in_them_go_with_the_model()
    {
        var document = Steady();
        var one = Counted(document, one => one with { Weekdays = [.. Week], Delay = "2" }).Observation;
        document = new TieSeries([one]).Apply(document).Document!;
        document = new SetField(document.DefinitionBySymbol("sunday")!.Id, PartField.Symbol, "quiet").Apply(document).Document!;
        Assert.Equal("quiet", document.Observations[0].Weekdays[6]);
        Assert.Equal("2 days", new SetTimeUnit(TimeUnit.Hour, Convert: true).Apply(document).Document!.Observations[0].Delay);
    }
}
