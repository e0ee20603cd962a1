using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Simulation;

public class ClosedFormTests
{
    // At tolerance 1e-8 a step, some tens of steps may add their errors: 1e-6 of the value leaves two digits of room.
    private const double Relative = 1e-6;

    [Theory]
    [InlineData(Method.Adaptive)]
    [InlineData(Method.RungeKutta4)]
    public void Decay_follows_the_exponential(Method method)
    {
        var model = Runs.Compile("A -> : 0.3 * A; A(0) = 50");
        var times = OutputTimes.Every(0, 20, 0.37);
        var run = Runs.Run(model, times, SolverSettings.Default with { Method = method, Step = 0.05 });
        for (var k = 0; k < run.Times.Count; k++)
        {
            var exact = 50 * Math.Exp(-0.3 * run.Times[k]);
            Assert.Equal(exact, run.State(k, 0), exact * Relative);
        }
    }

    [Fact]
    public void Logistic_growth_follows_its_closed_form_between_steps_too()
    {
        var model = Runs.Compile("-> P : r * P * (1 - P / K); r = 0.5 per day; K = 1000; P(0) = 10");
        var run = Runs.Run(model, OutputTimes.Every(0, 40, 0.1));
        for (var k = 0; k < run.Times.Count; k++)
        {
            var exact = 1000 / (1 + 99 * Math.Exp(-0.5 * run.Times[k]));
            Assert.Equal(exact, run.State(k, 0), exact * Relative);
        }
    }

    [Fact]
    public void Chain_of_decays_follows_the_Bateman_equation()
    {
        // Bateman, Proc. Cambridge Phil. Soc. 15, 1910: two steps at rates a and b.
        var (a, b) = (0.4, 0.1);
        var b12 = Runs.Final("A -> B at 0.4 per day; B -> C at 0.1 per day; A(0) = 100", "B", 12);
        var exact = 100 * a / (b - a) * (Math.Exp(-a * 12) - Math.Exp(-b * 12));
        Assert.Equal(exact, b12, exact * Relative);
    }

    [Theory]
    [InlineData(0.3)]
    [InlineData(0.5)]
    [InlineData(1.2)]
    public void Closed_epidemic_ends_at_its_final_size(double beta)
    {
        // Kermack and McKendrick 1927: with R0 = beta / gamma, ln(S0 / S) = R0 (N - S) / N once nobody is infectious.
        var susceptible = Runs.Final(
            $"S -> I : {beta} * S * I / N; I -> R at 0.2 per day; N = S + I + R; S(0) = the rest of 1000; I(0) = 1",
            "S",
            2000
        );
        var r0 = beta / 0.2;
        Assert.Equal(Math.Log(999 / susceptible), r0 * (1000 - susceptible) / 1000, 1e-6);
    }

    [Fact]
    public void Time_words_are_converted_to_the_unit_of_the_study()
    {
        var weeks = Runs.Final("A -> after 2 weeks; A(0) = 1", "A", 14);
        var perMonth = Runs.Final("A -> at 30.4375/14 per month; A(0) = 1", "A", 14);
        Assert.Equal(Math.Exp(-1), weeks, 1e-7);
        Assert.Equal(Math.Exp(-1), perMonth, 1e-7);
    }

    [Fact]
    public void Explicit_time_is_seen_by_the_solver()
    {
        var value = Runs.Final("-> A : cos(t); A(0) = 2", "A", 10);
        Assert.Equal(2 + Math.Sin(10), value, 1e-6);
    }

    [Fact]
    public void The_rest_is_what_other_compartments_leave_of_the_total()
    {
        var model = Runs.Compile(Studies.Latent);
        var start = model.InitialState(model.Network.ValueVector());
        Assert.Equal(18400, start.Sum(), 1e-9);
        Assert.Equal(18397, start[0], 1e-9);
    }

    [Fact]
    public void A_window_on_a_value_acts_between_its_ends_only()
    {
        var model = Runs.Compile("A -> at k; k = 0.1 per day; A(0) = 1");
        var plan = new Plan([new(5, [new(0, 0.5)]), new(15, [])]);
        Assert.Equal("k", model.Network.Values[0].Address);
        var run = Engines.Run(new(model, [0.1, 1], [0, 5, 15, 20]) { Start = [1], Plan = plan });
        Assert.Equal(Math.Exp(-0.5), run.State(1, 0), 1e-7);
        Assert.Equal(Math.Exp(-1.0), run.State(2, 0), 1e-7);
        Assert.Equal(Math.Exp(-1.5), run.State(3, 0), 1e-7);
        // At the moment of change the rate is the one after it.
        Assert.Equal(0.05 * Math.Exp(-0.5), run.RateColumn(0)[1], 1e-7);
    }

    [Fact]
    public void A_window_acts_on_what_an_event_has_set_and_gives_it_back()
    {
        var model = Runs.Compile("A -> at k; k = 0.1 per day; A(0) = 1; at 3: k = 0.2");
        var plan = new Plan([new(5, [new(model.Network.IndexOf("k"), 0.5)]), new(10, [])]);
        var run = Engines.Run(new(model, model.Network.ValueVector(), [0, 3, 5, 10, 12]) { Plan = plan });
        double[] passed = [0, 0.3, 0.3 + 0.4, 0.7 + 0.5, 1.2 + 0.4];
        for (var k = 0; k < passed.Length; k++)
            Assert.Equal(Math.Exp(-passed[k]), run.State(k, 0), 1e-7);
    }
}
