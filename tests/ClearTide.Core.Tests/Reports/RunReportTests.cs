using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Reports;

/// <summary>What a study's run says besides its curves: outcomes, conserved totals, the step check, and findings about step and
/// span.</summary>
public class RunReportTests
{
    private static StudyDocument With(StudyDocument document, Method method, double step) =>
        Studies.With(document, new SetSolver(method, step, 1e-8));

    private static Finding? General(StudyDocument document, string words) =>
        StudyRun.Of(document).Notes.FirstOrDefault(note => note.PartId is null && note.Message.Contains(words, StringComparison.Ordinal));

    [Fact]
    public void The_report_gives_totals_by_symbol_and_outcomes_by_part()
    {
        var document = Studies.Of(Studies.Latent, 400);
        var report = RunReport.Of(Lowering.Lower(document));
        var total = Assert.Single(report.Totals);
        Assert.Equal(["S", "E", "I", "R"], total.Terms.Select(term => term.Symbol));
        Assert.Equal(18400, total.Value);
        // The final size of a closed epidemic: s = exp(-R0 (1 - s)), here with all but three at the start (Kermack and McKendrick, 1927).
        var (s, r0) = (0.1, 0.36 * 5);
        for (var k = 0; k < 200; k++)
            s = 18397.0 / 18400 * Math.Exp(-r0 * (1 - s));
        Assert.Equal(18400 * s, report.Curves[0].Outcomes.Final, 18400 * 1e-6);
        Assert.Equal(
            18397 - report.Curves[0].Outcomes.Final,
            report.Curves.First(curve => curve.Kind == CurveKind.Flow).Outcomes.Integral,
            18400 * 1e-6
        );
    }

    [Fact]
    public void A_level_is_looked_at_for_the_part_asked_about()
    {
        var document = Studies.Of("A -> : 0.1 * A; A(0) = 100; B -> : 0.1 * B; B(0) = 7", 60);
        var report = RunReport.Of(Lowering.Lower(document), new(document.CompartmentBySymbol("A")!.Id, 50));
        // At tolerance 1e-8 times are good to far more than five digits.
        Assert.Equal(10 * Math.Log(2), report.Level!.FirstCrossing, 1e-5);
        Assert.Null(RunReport.Of(Lowering.Lower(document), new("nothing", 50)).Level);
    }

    [Fact]
    public void The_same_content_has_the_same_fingerprint_and_any_number_changes_it()
    {
        var document = Studies.Of("A -> : k * A; k = 0.1 per day; A(0) = 100");
        string Of(StudyDocument study) => RunReport.Of(Lowering.Lower(study)).Fingerprint;
        var own = Of(document);
        Assert.Equal(own, Of(document with { Title = "Another name", Question = "Why?" }));
        Assert.Equal(
            5,
            new[]
            {
                own,
                Of(document with { End = 101 }),
                Of(With(document, Method.RungeKutta4, 0.25)),
                Of(With(document, Method.RungeKutta4, 0.5)),
                Of(document.With(document.DefinitionBySymbol("k")! with { Text = "0.11 per day" })),
            }
                .Distinct()
                .Count()
        );
    }

    [Fact]
    public void A_run_that_stops_says_so_in_the_report()
    {
        var report = RunReport.Of(Lowering.Lower(Studies.Of("-> A : A ^ 2; A(0) = 1")));
        Assert.Contains("without bound", report.Failure, StringComparison.Ordinal);
        Assert.Empty(report.Curves);
    }

    [Theory]
    [InlineData(Method.Euler, 1)]
    [InlineData(Method.Midpoint, 2)]
    [InlineData(Method.RungeKutta4, 4)]
    public void Half_a_step_gives_digits_by_the_order_of_the_method(Method method, int order)
    {
        var check = StepCheck.Of(Lowering.Lower(With(Studies.Of("A -> B : 0.3 * A; A(0) = 50", 20), method, 0.5)), 3);
        foreach (var digits in check.Compartments)
        {
            // Halving divides the error by 2^order in the limit: at this step within a third of it.
            Assert.Equal(order * Math.Log10(2), digits.AtHalf - digits.AtStep, order * Math.Log10(2) / 3);
        }
        Assert.NotNull(check.LargestStep);
        var at = StepCheck.Of(Lowering.Lower(With(Studies.Of("A -> B : 0.3 * A; A(0) = 50", 20), method, check.LargestStep!.Value)), 3);
        var doubled = StepCheck.Of(
            Lowering.Lower(With(Studies.Of("A -> B : 0.3 * A; A(0) = 50", 20), method, 2 * check.LargestStep!.Value)),
            3
        );
        Assert.All(at.Compartments, digits => Assert.True(digits.AtStep >= 3));
        Assert.Contains(doubled.Compartments, digits => digits.AtStep < 3);
    }

    [Fact]
    public void A_step_that_the_run_would_not_take_is_not_offered()
    {
        // Euler's method errs by about k h / 2 times k t exp(-k t): 4.7 digits at a thousandth, 5.03 at half of it, which is 300,000
        // steps over the span.
        var lowered = Lowering.Lower(With(Studies.Of("A -> B : 0.1 * A; A(0) = 50", 150), Method.Euler, 0.001));
        Assert.Null(StepCheck.Of(lowered, 5).LargestStep);
        var offered = StepCheck.Of(lowered, 4).LargestStep!.Value;
        Assert.Null(new SetSolver(Method.Euler, offered, 1e-8).Apply(lowered.Document).Refusal);
    }

    [Fact]
    public void There_is_no_step_to_check_without_one()
    {
        Assert.NotNull(StepCheck.Of(Lowering.Lower(Studies.Of("A -> : 0.1 * A; A(0) = 1")), 3).Failure);
        Assert.Contains(
            "model itself",
            StepCheck.Of(Lowering.Lower(With(Studies.Of("A -> at 0.2; A(0) = 1"), Method.Discrete, 1)), 3).Failure,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_step_longer_than_the_shortest_mean_stay_is_told_with_one_that_fits()
    {
        var document = With(Studies.Of("A -> B after 8 days; B -> C after 2 days in 4 stages; A(0) = 50", 60), Method.RungeKutta4, 1);
        var finding = General(document, "shortest mean stay");
        Assert.Contains("0.5 days in a stage of B", finding!.Message, StringComparison.Ordinal);
        Assert.Null(General(finding.Fixes[0].Edit.Apply(document).Document!, "shortest mean stay"));
        Assert.Null(General(With(document, Method.Automatic, 1), "shortest mean stay"));
    }

    [Fact]
    public void A_step_longer_than_the_span_is_told()
    {
        var document = With(Studies.Of("A -> B after 8 days; A(0) = 50", 60), Method.Euler, 20) with { End = 10 };
        var finding = General(document, "longer than the span");
        Assert.NotNull(finding);
        Assert.Null(General(finding!.Fixes[0].Edit.Apply(document).Document!, "longer than the span"));
    }

    [Fact]
    public void Amounts_that_still_move_at_the_end_are_told_with_a_longer_span()
    {
        var document = Studies.Of("A -> B after 10 days; A(0) = 50", 10);
        var finding = General(document, "Still moving");
        Assert.Contains("A, B", finding!.Message, StringComparison.Ordinal);
        while (finding is not null)
        {
            document = finding.Fixes[0].Edit.Apply(document).Document!;
            Assert.InRange(document.End, 0, 1000);
            finding = General(document, "Still moving");
        }
        // exp(-t/10) loses less than a hundredth of its range in the last twentieth from t near 40 on.
        Assert.Equal(40, document.End);
    }

    [Fact]
    public void What_swings_for_ever_is_not_told_to_run_longer() =>
        Assert.Null(
            General(
                Studies.Of("-> H : 0.5 * H; H -> : 0.02 * H * P; -> P : 0.01 * H * P; P -> : 0.4 * P; H(0) = 30; P(0) = 10", 120),
                "Still moving"
            )
        );

    [Fact]
    public void In_discrete_steps_the_end_is_what_the_last_step_has_made()
    {
        var document = With(Studies.Of("A -> B at 0.3; A(0) = 80; B(0) = 0", 12), Method.Discrete, 1);
        var report = RunReport.Of(Lowering.Lower(document));
        var (b, flow) = (report.Curves.Single(curve => curve.Name == "B"), report.Curves.Single(curve => curve.Kind == CurveKind.Flow));
        // The law is 80 (1 - 0.7^k) after k steps, to rounding.
        Assert.Equal(80 * (1 - Math.Pow(0.7, 12)), b.Outcomes.Final, 1e-9);
        Assert.Equal((b.Outcomes.Final, 12), (b.Outcomes.Maximum, b.Outcomes.MaximumTime));
        // The last step of the span moves what it moves, and no step after it counts.
        Assert.Equal(0.3 * 80 * Math.Pow(0.7, 11), flow.Outcomes.Final, 1e-9);
        Assert.Equal(b.Outcomes.Final, flow.Outcomes.Integral, 1e-9);
    }

    [Fact]
    public void Exits_that_take_more_than_is_there_in_a_step_are_told()
    {
        var document = With(Studies.Of("A -> B at 0.6; A -> C at 0.7; A(0) = 10", 5), Method.Discrete, 1);
        var finding = Assert.Single(StudyRun.Of(document).Notes, note => note.PartId == document.CompartmentBySymbol("A")!.Id);
        Assert.Contains("take 13 in one step, and 10 is there", finding.Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(2.1336e14, "213360000000000")]
    [InlineData(-1.0457e206, "-1.0457 × 10²⁰⁶")]
    [InlineData(1e-8, "1 × 10⁻⁸")]
    [InlineData(0.123456789, "0.12346")]
    [InlineData(1234567.4, "1234567")]
    [InlineData(0, "0")]
    [InlineData(double.PositiveInfinity, "infinity")]
    public void Sentences_say_numbers_as_print_does(double value, string said) => Assert.Equal(said, NumberWords.Of(value));

    [Fact]
    public void A_fixed_step_that_explodes_is_told_to_be_too_long()
    {
        var run = StudyRun.Of(
            With(Studies.Of("A -> B at 0.04 per day; B -> C : 3e7 * B ^ 2; B -> A : 1e4 * B * C; A(0) = 1", 400), Method.Euler, 2)
        );
        Assert.Contains("It may be the step", run.Failure, StringComparison.Ordinal);
    }

    [Fact]
    public void Very_small_amounts_are_run_to_as_many_digits_as_large_ones()
    {
        // In moles a dose may be a millionth of a millionth: two steps of a decay chain, by Bateman's equation.
        double Exact(double t) => 1e-12 * 0.4 / (0.1 - 0.4) * (Math.Exp(-0.4 * t) - Math.Exp(-0.1 * t));
        var document = Studies.Of("A -> B at 0.4; B -> C at 0.1; A(0) = 1e-12", 20);
        var run = StudyRun.Of(document).Run!;
        for (var k = 0; k < run.Times.Count; k++)
            Assert.Equal(Exact(run.Times[k]), run.Amount(k, 1), 1e-18);
        Assert.Equal(Exact(20), RunReport.Of(Lowering.Lower(document)).Curves[1].Outcomes.Final, 1e-18);
    }
}
