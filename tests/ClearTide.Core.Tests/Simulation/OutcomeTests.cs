using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

/// <summary>Outcomes against closed forms. Only the ends of the span are asked for as output: outcomes must not depend on
/// sampling.</summary>
public class OutcomeTests
{
    // Ten times the tolerance of 1e-8 for continuous output, which is one order lower than the steps, and as much for many steps.
    private const double Close = 1e-6;

    private static (CompiledModel Model, OutcomeTally Tally) Follow(
        string lines,
        double end,
        SolverSettings? settings = null,
        params (string Symbol, double Level)[] levels
    )
    {
        var model = Runs.Compile(lines);
        var tally = new OutcomeTally(model.OutputCount, [.. levels.Select(level => (Index(model, level.Symbol), level.Level))]);
        var values = model.Network.ValueVector();
        Engines.Run(new(model, values, [0, end]) { Settings = settings ?? SolverSettings.Default }, tally);
        return (model, tally);
    }

    private static int Index(CompiledModel model, string symbol) =>
        model
            .Network.Amounts.Concat(model.Network.Flows)
            .Concat(model.Network.Quantities)
            .ToList()
            .FindIndex(column => column.Symbol == symbol);

    private static Outcomes Of(string lines, string symbol, double end, SolverSettings? settings = null)
    {
        var (model, tally) = Follow(lines, end, settings);
        return tally.Of(Index(model, symbol));
    }

    [Theory]
    [InlineData(Method.Adaptive)]
    [InlineData(Method.Stiff)]
    [InlineData(Method.RungeKutta4)]
    public void Decay_has_its_half_life_area_and_mean(Method method)
    {
        var outcomes = Of("A -> : 0.3 * A; A(0) = 50", "A", 20, SolverSettings.Default with { Method = method, Step = 0.05 });
        var final = 50 * Math.Exp(-6);
        Assert.Equal(50, outcomes.Initial);
        Assert.Equal(final, outcomes.Final, final * Close);
        Assert.Equal((50 - final) / 0.3, outcomes.Integral, Close * outcomes.Integral);
        Assert.Equal((50 - final) / 0.3 / 20, outcomes.Mean, Close * outcomes.Mean);
        // A slope of continuous output has one digit less than its value.
        Assert.Equal(Math.Log(2) / 0.3, outcomes.HalfLife, 1e-4);
        Assert.True(double.IsNaN(outcomes.DoublingTime));
        Assert.Equal((50, 0), (outcomes.Maximum, outcomes.MaximumTime));
        Assert.Equal(20, outcomes.MinimumTime);
    }

    [Fact]
    public void Growth_in_proportion_has_its_doubling_time()
    {
        var outcomes = Of("-> P : 0.07 * P; P(0) = 3", "P", 100);
        Assert.Equal(Math.Log(2) / 0.07, outcomes.DoublingTime, Close);
        Assert.True(double.IsNaN(outcomes.HalfLife));
    }

    [Fact]
    public void A_medicine_by_mouth_peaks_when_its_closed_form_does()
    {
        // One compartment with absorption a and elimination k: time of peak ln(a / k) / (a - k); area dose / k in all (any textbook of
        // pharmacokinetics).
        var (a, k, dose) = (1.1, 0.17, 200.0);
        var outcomes = Of("G -> C at 1.1 per day; C -> at 0.17 per day; G(0) = 200", "C", 120);
        var peak = Math.Log(a / k) / (a - k);
        Assert.Equal(peak, outcomes.MaximumTime, 1e-3);
        Assert.Equal(dose * a / (a - k) * (Math.Exp(-k * peak) - Math.Exp(-a * peak)), outcomes.Maximum, dose * Close);
        Assert.Equal(dose / k, outcomes.Integral, dose / k * Close);
        // What is left at the end is exp(-20) of the dose, near the absolute tolerance of a step.
        Assert.Equal(Math.Log(2) / k, outcomes.HalfLife, 0.05);
    }

    [Fact]
    public void The_total_of_a_flow_is_what_it_moved()
    {
        var (model, tally) = Follow(Studies.Latent, 150);
        var infected = tally.Of(Index(model, "S → E"));
        var susceptible = tally.Of(Index(model, "S"));
        Assert.Equal(susceptible.Initial - susceptible.Final, infected.Integral, 18400 * Close);
    }

    [Fact]
    public void Levels_of_a_wave_are_passed_where_they_should_be()
    {
        // x = 2 + sin(t) over two periods: above 2 for half of the time, above 2.5 for a third.
        var (_, tally) = Follow(
            "x = 2 + sin(t / (1 day)); A -> : 0; A(0) = 1; -> B : x; B(0) = 0",
            4 * Math.PI,
            null,
            ("x", 2.5),
            ("x", 3.5),
            ("x", 0)
        );
        var middle = tally.OfLevel(0);
        Assert.Equal(4 * Math.PI / 3, middle.TimeAbove, 1e-4);
        Assert.Equal(8 * Math.PI / 3, middle.TimeBelow, 1e-4);
        Assert.Equal(Math.PI / 6, middle.FirstCrossing, 1e-4);
        Assert.Equal(0, tally.OfLevel(1).TimeAbove);
        Assert.True(double.IsNaN(tally.OfLevel(1).FirstCrossing));
        Assert.Equal(4 * Math.PI, tally.OfLevel(2).TimeAbove, 1e-12);
    }

    [Fact]
    public void A_jump_over_a_level_is_a_crossing()
    {
        var (_, tally) = Follow("A -> : 0; A(0) = 1; at 4: A = A + 9", 10, null, ("A", 5));
        Assert.Equal((6.0, 4.0, 4.0), (tally.OfLevel(0).TimeAbove, tally.OfLevel(0).TimeBelow, tally.OfLevel(0).FirstCrossing));
        Assert.Equal(64, tally.Of(0).Integral, 1e-12);
        Assert.Equal((10.0, 4.0), (tally.Of(0).Maximum, tally.Of(0).MaximumTime));
    }

    [Fact]
    public void Areas_of_an_input_with_kinks_are_exact()
    {
        // Straight lines 0 to 10 over four days and back over two: 20 + 10.
        var (model, tally) = Follow("-> A : rain(t); rain = points 0 0, 4 10, 6 0; A(0) = 0", 6);
        Assert.Equal(30, tally.Of(Index(model, "outside → A")).Integral, 1e-9);
        Assert.Equal(
            (10, 4),
            (Math.Round(tally.Of(Index(model, "outside → A")).Maximum, 9), Math.Round(tally.Of(Index(model, "outside → A")).MaximumTime, 9))
        );
    }

    [Fact]
    public void Delayed_flows_add_up_by_the_method_of_steps()
    {
        // y' = -y(t - 1) with y = 1 before: y = 1 - t, then 1 - t + (t - 1)^2 / 2; what has flowed out by t = 2 is 1.5.
        var (model, tally) = Follow("y -> : delay(y, 1 day, 1); y(0) = 1", 2);
        Assert.Equal(1.5, tally.Of(Index(model, "y → outside")).Integral, Close);
    }

    [Fact]
    public void Totals_over_discrete_steps_are_sums_of_steps()
    {
        var document = new AddLines("A -> B at 50%; A(0) = 16")
            .Apply(
                new StudyDocument
                {
                    Title = "Test",
                    End = 4,
                    Solver = new(Method.Discrete, 2, 1e-8),
                }
            )
            .Document!;
        var model = new CompiledModel(Lowering.Lower(document).Network);
        var values = model.Network.ValueVector();
        var totals = new RunningTotals(model.Network, [Integrand.OfFlow(model.Network.Amounts.Count)], [0, 2, 4], values);
        Engines.Run(new(model, values, [0, 4]), totals);
        Assert.Equal([0, 8, 12], totals.Column(0));
    }

    [Fact]
    public void Running_totals_follow_their_closed_form_between_steps()
    {
        var model = Runs.Compile("A -> : 0.3 * A; A(0) = 50");
        var times = OutputTimes.Every(0, 20, 0.37);
        var values = model.Network.ValueVector();
        var totals = new RunningTotals(model.Network, [Integrand.OfFlow(model.Network.Amounts.Count)], times, values);
        Engines.Run(new(model, values, times), totals);
        var column = totals.Column(0);
        for (var k = 0; k < times.Length; k++)
            Assert.Equal(50 * (1 - Math.Exp(-0.3 * times[k])), column[k], 50 * Close);
    }

    [Fact]
    public void Curves_get_rows_where_a_run_is_faster_than_its_output_times()
    {
        // A pulse that lasts a hundredth of the spacing: its curve has rows within it (no closer than a fiftieth of the spacing), and a
        // slow model has none besides the output times.
        var times = OutputTimes.Every(0, 100, 10);
        Trajectory Curves(string lines)
        {
            var model = Runs.Compile(lines);
            var values = model.Network.ValueVector();
            return Engines.Run(new(model, values, times) { Rows = Rows.ForCurves });
        }
        var pulse = Curves("C -> at 10 per day; at 35: -> C : 100");
        Assert.InRange(pulse.Times.Count(time => time is > 35 and < 36), 3, 500);
        Assert.All(Enumerable.Range(0, pulse.Times.Count).Where(k => pulse.Times[k] is > 35 and < 36), k =>
            Assert.Equal(100 * Math.Exp(-10 * (pulse.Times[k] - 35)), pulse.Amount(k, 0), 1e-5)
        );
        Assert.Equal(times.Length, Curves("C -> at 0.001 per day; C(0) = 3").Times.Count(time => time >= 10) + 1);
    }
}
