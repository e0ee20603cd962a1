using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Compilation;

/// <summary>Events that cannot do what they say: why, where in the line, and what mends it.</summary>
public class EventRefusalTests
{
    private const string Model =
        "A(0) = 10; B(0) = 0; A -> B at k; k = 0.1 per day; q = 2 * A; f = points 0 1, 9 2; g(x) = points 0 0, 1 1; "
        + "luck = normal(1, 0.2) every day; C(0) = 5; C -> after 3 days in 2 stages; ";

    private static Finding Unfinished(string line)
    {
        var document = Studies.Of(Model + line);
        var rule = Assert.Single(document.Events);
        return Assert.Single(Lowering.Lower(document).Findings, finding =>
            finding.PartId == rule.Id && finding.Severity == Severity.Unfinished
        );
    }

    [Theory]
    [InlineData("at 5: z = 3", "z", "")]
    [InlineData("at 5: k -> B : 3", "k is none", "k")]
    [InlineData("at 5: A -> q : 3", "q is none", "q")]
    [InlineData("at 5: A -> A : 3", "moves nothing", "A")]
    [InlineData("at 5: q = 3", "follows from others", "q")]
    [InlineData("at 5: g = 3", "response curve", "g")]
    [InlineData("at 5: luck = 3", "random input", "luck")]
    [InlineData("while A > 5: A = 3", "goes its own way", "A")]
    [InlineData("while A > 5: A -> B : 3", "is not undone", "A")]
    [InlineData("at 5: A -> B : 3 over 0 days", "a time above zero", "0 days")]
    [InlineData("at 5: A -> B : 3 after 0", "a time above zero", "0")]
    [InlineData("at 5: C -> : 3 over 2 days", "Leave “over” out", "")]
    [InlineData("every 0 days: A -> B : 3", "a time above zero", "0 days")]
    [InlineData("at 2031-03-05: A -> B : 3", "which date its time zero is", "")]
    public void It_is_told_why_and_where(string line, string words, string place)
    {
        var finding = Unfinished(line);
        Assert.Contains(words, finding.Message);
        if (place.Length > 0)
            Assert.Equal(place, line.Substring(finding.Span!.Value.Start, finding.Span.Value.Length));
    }

    [Theory]
    [InlineData("while A > 5: A -> B : 3", "when A > 5: A -> B : 3")]
    [InlineData("while A > 5: A = 3", "when A > 5: A = 3")]
    public void The_fix_that_is_offered_mends_it(string line, string mended)
    {
        var document = Studies.Of(Model + line);
        var fixedDocument = Assert.Single(Unfinished(line).Fixes).Edit.Apply(document).Document!;
        Assert.Equal(mended, fixedDocument.Events[0].Text);
        Assert.False(Lowering.Lower(fixedDocument).IsProvisional);
    }

    [Fact]
    public void A_value_that_is_changed_for_good_is_doubted_and_held_by_the_fix()
    {
        var document = Studies.Of(Model + "when A < 5: k = 0.2");
        var doubt = Assert.Single(Lowering.Lower(document).Findings, finding => finding.PartId == document.Events[0].Id);
        Assert.Equal(Severity.Doubt, doubt.Severity);
        Assert.Equal("while A < 5: k = 0.2", Assert.Single(doubt.Fixes).Edit.Apply(document).Document!.Events[0].Text);
        Assert.DoesNotContain(Lowering.Lower(Studies.Of(Model + "when A < 5 once: k = 0.2")).Findings, finding =>
            finding.Severity == Severity.Doubt && finding.Message.Contains("for good")
        );
    }

    [Fact]
    public void With_a_date_of_time_zero_a_date_is_a_time()
    {
        var document = Studies.Of("A(0) = 10; at 2031-03-05: A -> : 3") with { Origin = new DateOnly(2031, 3, 1) };
        var run = StudyRun.Of(document).Run!;
        var row = run.Times.ToList().FindIndex(time => time >= 4);
        Assert.Equal((10.0, 7.0), (run.Amount(row - 1, 0), run.Amount(run.Times.Count - 1, 0)));
        Assert.Equal(4, run.Acts[0].Time);
    }

    [Fact]
    public void What_cannot_act_leaves_the_rest_of_the_line_and_of_the_model_alone()
    {
        var run = StudyRun.Of(Studies.Of("A(0) = 10; at 5: z = 3, A -> : 4"));
        Assert.Equal(6, run.Run!.Amount(run.Run.Times.Count - 1, 0));
    }
}
