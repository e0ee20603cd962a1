using ClearTide.Core.Compilation;
using ClearTide.Core.Interventions;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Interventions;

/// <summary>A measure that does nothing says so, and one that meets another says what becomes of the value.</summary>
public class MeasureNotesTests
{
    private static StudyDocument Study(params string[] measures) =>
        PlannedStudy.With(
            "A(0) = 100; k = 0.1 per day; none = 0; A -> B : (k + none) * A; gulls = points 0 1, 40 3; -> A : gulls(t)",
            100,
            measures
        );

    private static string[] Notes(StudyDocument study, int place, double now = double.NegativeInfinity) =>
        [.. MeasureNotes.Of(study, Lowering.Lower(study).Network, study.Scenarios[0], study.Scenarios[0].Measures[place], now)];

    [Theory]
    [InlineData("k x 0.5, days 120 to 130", "outside the span")]
    [InlineData("k x 0.5, days -9 to 0", "outside the span")]
    [InlineData("k x 0.5, days 5 to 20", "before the data end")]
    [InlineData("k x 1, days 40 to 60", "multiplies by one")]
    [InlineData("k + 0, days 40 to 60", "adds nothing")]
    [InlineData("k = 0.1 per day, days 40 to 60", "is 0.1 already")]
    [InlineData("none x 3, days 40 to 60", "multiplied it stays so")]
    public void What_does_nothing_says_why(string measure, string why)
    {
        Assert.Contains(why, Assert.Single(Notes(Study(measure), 0, now: 30)));
    }

    [Fact]
    public void What_acts_alone_says_nothing()
    {
        Assert.Empty(Notes(Study("k x 0.5, days 40 to 60", "none + 2, days 40 to 60", "k x 0.5, days 60 to 80"), 0, now: 30));
    }

    [Fact]
    public void What_meets_another_says_when_and_in_which_order()
    {
        var study = Study("k x 0.5, days 40 to 60", "k = 0.3 per day, days 50 to 90");
        Assert.Equal(
            "It meets “k = 0.3” on days 50 to 60: a value is set first, then multiplied, then added to.",
            Assert.Single(Notes(study, 0))
        );
        study = Study("k x 0.5, days 40 to 60", "k x 0.4, days 20 to 50");
        Assert.Contains("days 40 to 50: both factors are multiplied", Assert.Single(Notes(study, 1)));
    }

    [Fact]
    public void Of_two_that_replace_one_input_the_later_takes_over()
    {
        var study = Study("from 20: gulls(t) = hold", "from 50: gulls(t) = zero");
        string[] Said(int place) => [.. MeasureNotes.Of(study, study.Scenarios[0], study.Scenarios[0].Rules[place])];
        Assert.Equal("From 50 on “from 50: gulls(t) = zero” takes its place.", Assert.Single(Said(0)));
        Assert.Empty(Said(1));
    }

    [Fact]
    public void A_value_that_is_gone_is_told()
    {
        var study = Study("k x 0.5, days 40 to 60");
        var other = Lowering.Lower(Studies.Of("A(0) = 1; A -> : 0.1 * A", 10)).Network;
        var said = MeasureNotes.Of(study, other, study.Scenarios[0], study.Scenarios[0].Measures[0], 0);
        Assert.Contains("no longer a value", Assert.Single(said));
    }
}
