using ClearTide.Core.Compilation;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

public class SimulatorTests
{
    [Theory]
    [InlineData(0, 10, 2.5, 5)]
    [InlineData(0, 1, 0.1, 11)]
    [InlineData(0, 10, 3, 5)]
    [InlineData(-5, 5, 10, 2)]
    [InlineData(0, 1, 5, 2)]
    public void A_grid_has_its_ends_and_no_slivers(double start, double end, double every, int count)
    {
        var times = OutputTimes.Every(start, end, every);
        Assert.Equal(count, times.Length);
        Assert.Equal((start, end), (times[0], times[^1]));
        for (var k = 1; k < times.Length; k++)
            Assert.True(times[k] > times[k - 1]);
    }

    [Theory]
    [InlineData(0, 1, 0)]
    [InlineData(0, 1, -1)]
    [InlineData(1, 1, 0.1)]
    [InlineData(2, 1, 0.1)]
    [InlineData(0, 1e7, 1)]
    public void A_grid_that_cannot_be_is_refused(double start, double end, double every) =>
        Assert.Throws<ArgumentOutOfRangeException>(() => OutputTimes.Every(start, end, every));

    [Fact]
    public void Spacing_of_output_does_not_change_the_run()
    {
        var model = Runs.Compile(Studies.Latent);
        var coarse = Runs.Run(model, [0, 100]);
        var fine = Runs.Run(model, OutputTimes.Every(0, 100, 0.01));
        for (var state = 0; state < 4; state++)
            Assert.Equal(coarse.State(1, state), fine.State(fine.Times.Count - 1, state));
    }

    [Fact]
    public void A_closed_model_keeps_its_total_to_rounding()
    {
        var run = Runs.Run(Runs.Compile(Studies.Latent), OutputTimes.Every(0, 300, 1));
        for (var k = 0; k < run.Times.Count; k++)
        {
            // Each of some hundred steps rounds amounts of 2^14 at 2^-38.
            Assert.Equal(18400, Enumerable.Range(0, 4).Sum(state => run.State(k, state)), 1e-8);
        }
    }

    [Fact]
    public void A_run_past_its_limit_of_steps_is_stopped_and_said()
    {
        var model = Runs.Compile("A -> B : 1000 * A; B -> A : 1000 * B; A(0) = 1");
        var failure = Assert.Throws<SimulationException>(() =>
            Runs.Run(model, [0, 1000], SolverSettings.Default with { Method = Method.Adaptive, MaximumSteps = 100 })
        );
        Assert.Equal(FailureReason.TooManySteps, failure.Reason);
        Assert.InRange(failure.Time, 0, 1000);
    }

    [Fact]
    public void A_cancelled_run_stops()
    {
        var model = Runs.Compile("A -> B : 1000 * A; B -> A : 1000 * B; A(0) = 1");
        using var cancel = new CancellationTokenSource();
        cancel.Cancel();
        var values = model.Network.ValueVector();
        Assert.Throws<OperationCanceledException>(() =>
            Engines.Run(
                new(model, values, [0, 1e6]) { Settings = SolverSettings.Default with { Method = Method.Adaptive }, Start = [1, 0] },
                cancel: cancel.Token
            )
        );
    }

    [Fact]
    public void Overlapping_measures_multiply_and_act_from_now_on_only()
    {
        var document = Studies.Of("A -> at k; k = 2; A(0) = 1");
        var form = Lowering.Lower(document).Network;
        var scenario = new Scenario(
            "s",
            "s",
            [new("m1", "a", "k", 0.5, 10, 30), new("m2", "b", "k", 0.1, 20, 40), new("m3", "c", "k", 7, 0, 5)]
        );
        var schedule = MeasurePlan.Of(scenario, form, 15).Over(form.ValueVector());
        var k = form.IndexOf("k");
        foreach (var (time, value) in new[] { (0.0, 2.0), (12, 2), (15, 1), (20, 0.1), (30, 0.2), (40, 2) })
            Assert.Equal(value, schedule.At(time)[k], 1e-12);
        Assert.Equal([15.0, 20, 30, 40], new[] { 0.0, 15, 20, 30 }.Select(schedule.NextChange));
        Assert.Equal(double.PositiveInfinity, schedule.NextChange(40));
    }

    [Fact]
    public void Addresses_of_values_say_where_they_stand()
    {
        var form = Lowering
            .Lower(Studies.Of("S -> E after 3 days; E -> I at 0.2; E -> D at 0.1; -> S : 5; S(0) = 4; g = 3; I(0) = the rest of 50"))
            .Network;
        Assert.Superset(
            new HashSet<string> { "g", "S.start", "I.total", "S.stay", "E.rate.I", "E.rate.D", "S.inflow" },
            form.Values.Select(value => value.Address.ToString()).ToHashSet()
        );
        Assert.Equal(form.Values.Count, form.Values.Select(value => value.Address).Distinct().Count());
    }
}
