using ClearTide.Core.Editing;
using ClearTide.Core.Interventions;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Interventions;

/// <summary>Times of rules that a calendar moves: read, and written back in the units and words they were typed in.</summary>
public class RuleTimesTests
{
    private static readonly StudyDocument Study = Studies.Of(
        "A(0) = 100; k = 0.1 per day; A -> B at k; gulls = points 0 1, 40 3; -> A : gulls(t)",
        100
    );

    [Theory]
    [InlineData("at 30: A -> B : 4", 30, null, 45, null, "at 45: A -> B : 4")]
    [InlineData("at 2 weeks: A -> B : 4", 14, null, 21, null, "at 3 weeks: A -> B : 4")]
    [InlineData("at 30: A -> B : 40 over 10 days", 30, 40.0, 20, 45.0, "at 20: A -> B : 40 over 25 days")]
    [InlineData("every 7 from 30 until 90: A -> B : 4", 30, 90.0, 40.5, 80.0, "every 7 from 40.5 until 80: A -> B : 4")]
    [InlineData("every 7 from 30: A -> B : 4", 30, null, 40, null, "every 7 from 40: A -> B : 4")]
    [InlineData("from 60: gulls(t) = hold", 60, null, 50, null, "from 50: gulls(t) = hold")]
    public void They_are_moved_in_the_words_they_were_typed_in(
        string text,
        double from,
        double? until,
        double toFrom,
        double? toUntil,
        string expected
    )
    {
        Assert.Equal(new RuleTimes(from, until), RuleTimes.Of(text, Study));
        var made = new AddMeasureLine("", text).Apply(Study).Document!;
        var (scenario, rule) = (made.Scenarios[0], made.Scenarios[0].Rules[0]);
        var moved = new MoveRule(scenario.Id, rule.Id, toFrom, toUntil ?? toFrom).Apply(made);
        Assert.Equal(expected, moved.Document!.Scenarios[0].Rules[0].Text);
    }

    [Theory]
    [InlineData("while A > 40: k = 0.2 per day")]
    [InlineData("when A > 40 once: k = 0.2 per day")]
    [InlineData("at 3 * 10: A -> B : 4")]
    [InlineData("every 7: A -> B : 4")]
    [InlineData("A(0) = 50")]
    public void What_has_no_times_as_numbers_stays(string text)
    {
        Assert.Null(RuleTimes.Of(text, Study));
        var made = new AddMeasureLine("", text).Apply(Study).Document!;
        var (scenario, rule) = (made.Scenarios[0], made.Scenarios[0].Rules[0]);
        Assert.Contains("no times of its own", new MoveRule(scenario.Id, rule.Id, 3, 4).Apply(made).Refusal);
    }

    [Fact]
    public void What_cannot_be_is_refused()
    {
        var made = new AddMeasureLine("", "every 7 from 30 until 90: A -> B : 4").Apply(Study).Document!;
        var (scenario, rule) = (made.Scenarios[0].Id, made.Scenarios[0].Rules[0].Id);
        Assert.Contains("must end after", new MoveRule(scenario, rule, 40, 40).Apply(made).Refusal);
        Assert.Contains("span begins", new MoveRule(scenario, rule, -3, 40).Apply(made).Refusal);
        Assert.Contains("no longer", new MoveRule(scenario, "x", 3, 40).Apply(made).Refusal);
    }
}
