using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using static ClearTide.Core.Tests.Interventions.PlannedStudy;

namespace ClearTide.Core.Tests.Interventions;

/// <summary>Scenarios in which an input goes on in another way, a response is another one, or the start is: against sums and closed
/// forms.</summary>
public class ReplacementTests
{
    /// <summary>Runs are made at the usual tolerance of 1e-8 of amounts of some hundred.</summary>
    private const double Close = 1e-5;

    /// <summary>What comes in is 2 t until day 4 and 8 from then on.</summary>
    private const string Filling = "A(0) = 0; gulls = points 0 0, 1 2, 4 8 then hold; -> A : gulls(t)";

    private static double Filled(string rule, double now = double.NegativeInfinity) => Run(With(Filling, 10, rule), now).Plan.Values[^1];

    [Theory]
    // The triangle of 4 days is 16, six days of 8 are 48.
    [InlineData("from 2: gulls(t) = zero", 4)]
    [InlineData("from 2: gulls(t) = hold", 4 + 8 * 4)]
    [InlineData("from 2 days: gulls(t) = hold", 4 + 8 * 4)]
    // The line through day 1 and day 4 goes on as 2 t.
    [InlineData("from 5: gulls(t) = trend", 16 + 8 + 100 - 25)]
    // 2 to 4 is 12 in two days, over again three times from day 4.
    [InlineData("from 4: gulls(t) = repeat 2", 16 + 3 * 12)]
    [InlineData("from 4: gulls(t) = points 4 8, 6 0", 16 + 8)]
    [InlineData("from 4: gulls(t) = points 4 3, 6 5 step", 16 + 2 * 3 + 4 * 5)]
    public void An_input_goes_on_in_another_way(string rule, double expected)
    {
        Assert.Equal(expected, Filled(rule), Close);
    }

    [Fact]
    public void Several_follow_each_other()
    {
        var plan = Run(With(Filling, 10, "from 6: gulls(t) = zero", "from 2: gulls(t) = hold")).Plan;
        Assert.Equal(4 + 4 * 4, plan.Values[^1], Close);
    }

    [Fact]
    public void It_begins_at_a_date()
    {
        var study = Studies.Of(Filling, 10) with { Origin = new(2031, 3, 1) };
        study = new AddMeasureLine("", "from 2031-03-03: gulls(t) = zero").Apply(study).Document!;
        Assert.Equal(4, Run(study).Plan.Values[^1], Close);
        Assert.Null(RuleTimes.Of(study.Scenarios[0].Rules[0].Text, study));
    }

    [Fact]
    public void Of_two_that_begin_before_now_the_later_holds_from_there_on()
    {
        var plan = Run(With(Filling, 10, "from 4: gulls(t) = zero", "from 2: gulls(t) = hold"), now: 5).Plan;
        Assert.Equal(16 + 8, plan.Values[^1], Close);
    }

    [Fact]
    public void The_baseline_is_untouched_and_what_lies_before_now_is_the_baseline()
    {
        var (baseline, plan, _) = Run(With(Filling, 10, "from 2: gulls(t) = zero"), now: 5);
        Assert.Equal(64, baseline.Values[^1], Close);
        Assert.Equal(16 + 8, plan.Values[^1], Close);
        Assert.Equal([5.0], plan.Acts.Select(act => act.Time));
    }

    [Fact]
    public void A_response_is_another_one_from_a_time_on()
    {
        // Half of what is there leaves a day at first, a tenth from day 3 on, whatever is there.
        var document = With("A(0) = 100; leave(x) = points 0 0.5, 1 0.5; A -> : leave(1) * A", 8, "from 3: leave(x) = points 0 0.1, 1 0.1");
        Assert.Equal(100 * Math.Exp(-0.5 * 3 - 0.1 * 5), Run(document).Plan.Values[^1], Close);
    }

    [Fact]
    public void Another_start_is_that_of_the_scenario_alone_and_the_rest_follows()
    {
        const string lines = "I(0) = 10; S(0) = the rest of 100; I -> S : 0.1 * I";
        var (baseline, plan, _) = Run(With(lines, 10, "I(0) = 40"));
        Assert.Equal(10 * Math.Exp(-1), baseline.Values[^1], Close);
        Assert.Equal(40 * Math.Exp(-1), plan.Values[^1], Close);
        Assert.Equal(60, Run(With(lines, 10, "I(0) = 40"), compartment: 1).Plan.Values[0], Close);
    }

    [Fact]
    public void Another_start_does_nothing_where_the_future_begins_later()
    {
        var (baseline, plan, _) = Run(With("I(0) = 10; I -> : 0.1 * I", 10, "I(0) = 40"), now: 4);
        Assert.Equal(baseline.Values[^1], plan.Values[^1], Close);
        Assert.Empty(plan.Acts);
    }

    [Fact]
    public void By_chance_the_mean_is_that_of_the_closed_form()
    {
        // Births by a rate in time: a Poisson number with the integral of the rate until day 7, 16 + 24 here and 64 in the baseline.
        var document = With("A(0) = 0; gulls = points 0 0, 1 2, 4 8 then hold; -> A : gulls(t)", 10, "from 7: gulls(t) = zero");
        var request = new ProjectionRequest(4000, 1, new Dictionary<ValueAddress, double>()) { Of = document.Compartments[0].Id };
        var projection = new Projection(document, null, request);
        var found = ProjectionSummary.Made(projection, "", 1, projection.Run(2));
        var last = found.Scenarios[1].Intervals[^1];
        Assert.Equal(1, found.Scenarios[1].Rules[0].Ever);
        // A mean of 40 has a standard deviation of 6.3; its median of 4,000 is within one.
        Assert.InRange(last.Median, 39, 41);
    }

    [Theory]
    [InlineData("from 2: gulls(t) = often", "hold")]
    [InlineData("from 2: guls(t) = hold", "no input or response curve")]
    [InlineData("from 0.5: gulls(t) = trend", "two points")]
    [InlineData("from 2: gulls(t) = repeat 0", "above zero")]
    [InlineData("from 2: gulls(t) = points 4 1, 3 2", "")]
    [InlineData("from soon: gulls(t) = hold", "")]
    [InlineData("B(0) = 4", "no compartment")]
    [InlineData("gulls(0) = 4", "no compartment")]
    [InlineData("from 2031-03-01: gulls(t) = hold", "which date its time zero is")]
    [InlineData("A(0) = 4; gulls = 2", "no initial amount")]
    [InlineData("A(0) = nothing", "")]
    public void What_cannot_be_is_refused_with_a_sentence(string rule, string says)
    {
        var document = With(Filling, 10);
        var refused = new AddMeasureLine(document.Scenarios[0].Id, rule).Apply(document);
        Assert.NotNull(refused.Refusal);
        Assert.Contains(says, refused.Refusal, StringComparison.Ordinal);
    }

    [Fact]
    public void It_keeps_its_meaning_in_another_unit_of_time_and_under_another_name()
    {
        var document = With(Filling, 14, "from 7: gulls(t) = points 7 8, 14 0");
        var weeks = new SetTimeUnit(TimeUnit.Find("weeks")!, Convert: true).Apply(document).Document!;
        Assert.Equal("from 7 days: gulls(t) = points 7 days 8, 14 days 0", weeks.Scenarios[0].Rules[0].Text);
        Assert.Equal(Run(document).Plan.Values[^1], Run(weeks).Plan.Values[^1], 1e-4);
    }
}
