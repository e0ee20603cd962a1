using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Tests.Stochastic;

public class BirthAndDeathTests
{
    private const int Replicates = 20_000;

    private static double[] Sample(string lines, double end, long seed)
    {
        var model = Runs.Compile(lines);
        var simulation = new NextReactionSimulator(model);
        var values = model.Network.ValueVector();
        var start = model.InitialState(values);
        return
        [
            .. Enumerable
                .Range(0, Replicates)
                .Select(r =>
                    simulation
                        .Run(
                            new(model, values, [0, end])
                            {
                                Start = start,
                                Seed = seed,
                                Replicate = r,
                            }
                        )
                        .States[1]
                ),
        ];
    }

    private static void HasMoments(double[] sample, double mean, double variance)
    {
        var average = sample.Average();
        var spread = sample.Sum(x => (x - average) * (x - average)) / (sample.Length - 1);
        // Five standard errors: a false alarm less than once in a million seeds. The variance's own error uses a kurtosis of up to 6.
        Assert.Equal(mean, average, 5 * Math.Sqrt(variance / Replicates));
        Assert.Equal(variance, spread, 5 * variance * Math.Sqrt(5.0 / Replicates));
    }

    [Fact]
    public void Linear_birth_and_death_has_its_exact_mean_and_variance()
    {
        // Bailey, The Elements of Stochastic Processes, 1964, 8.6: births b, deaths d, n at the start.
        var (b, d, n, t) = (0.3, 0.2, 20, 5.0);
        var sample = Sample("-> A : 0.3 * A; A -> at 0.2 per day; A(0) = 20", t, 7);
        var growth = Math.Exp((b - d) * t);
        HasMoments(sample, n * growth, n * (b + d) / (b - d) * growth * (growth - 1));
    }

    [Fact]
    public void Inflow_and_decay_reach_the_Poisson_law()
    {
        // Inflow a, decay d from nothing: Poisson with mean a/d (1 - exp(-d t)).
        var sample = Sample("-> A : 6; A -> at 0.5 per day", 4, 11);
        var mean = 12 * (1 - Math.Exp(-2));
        HasMoments(sample, mean, mean);
    }

    [Fact]
    public void Rates_that_change_with_time_are_integrated()
    {
        // Inflow 10 (1 + sin t): Poisson with mean 10 (t + 1 - cos t).
        var sample = Sample("-> A : 10 * (1 + sin(t))", 3, 13);
        var mean = 10 * (3 + 1 - Math.Cos(3));
        HasMoments(sample, mean, mean);
    }

    [Fact]
    public void A_net_flow_runs_backwards_by_a_clock_of_its_own()
    {
        // A - B: each direction fires at the difference of the two; the mean follows the mean-field law, A + B stays.
        var model = Runs.Compile("A -> B : 0.5 * (A - B); A(0) = 0; B(0) = 1000");
        var values = model.Network.ValueVector();
        var run = new NextReactionSimulator(model).Run(new(model, values, [0, 1, 50]) { Start = [0, 1000], Seed = 3 });
        Assert.Equal(1000, run.States[2] + run.States[3]);
        Assert.True(run.Counts[1] < -200);
        Assert.InRange(run.States[4], 400, 600);
    }

    [Fact]
    public void The_same_seed_gives_the_same_run_and_another_replicate_another()
    {
        var model = Runs.Compile("-> A : 0.3 * A; A -> at 0.2 per day; A(0) = 20");
        var values = model.Network.ValueVector();
        double[] times = [.. Enumerable.Range(0, 40).Select(k => k * 0.5)];
        var first = new NextReactionSimulator(model).Run(
            new(model, values, times)
            {
                Start = [20],
                Seed = 5,
                Replicate = 3,
            }
        );
        var reused = new NextReactionSimulator(model);
        reused.Run(
            new(model, values, times)
            {
                Start = [20],
                Seed = 5,
                Replicate = 9,
            }
        );
        Assert.Equal(
            first.States,
            reused
                .Run(
                    new(model, values, times)
                    {
                        Start = [20],
                        Seed = 5,
                        Replicate = 3,
                    }
                )
                .States
        );
        Assert.NotEqual(
            first.States,
            reused
                .Run(
                    new(model, values, times)
                    {
                        Start = [20],
                        Seed = 5,
                        Replicate = 4,
                    }
                )
                .States
        );
    }

    [Fact]
    public void The_compiled_step_and_the_loop_over_arrays_give_the_same_run()
    {
        const string epidemic = "S -> I : 0.0004 * S * I; I -> R at 0.2; S(0) = 990; I(0) = 10";
        // So many processes that never fire take the long way, and the three that do keep their streams.
        var idle = string.Concat(Enumerable.Range(0, ClockCount).Select(k => $"; X -> Y{k} : 0 * X"));
        double[] times = [.. Enumerable.Range(0, 60).Select(k => (double)k)];
        double[][] Run(string lines)
        {
            var model = Runs.Compile(lines);
            var values = model.Network.ValueVector();
            var run = new NextReactionSimulator(model).Run(new(model, values, times) { Seed = 8, Replicate = 2 });
            return [.. Enumerable.Range(0, times.Length).Select(k => run.States.AsSpan(k * model.StateCount, 3).ToArray())];
        }
        Assert.Equal(Run(epidemic), Run(epidemic + idle));
    }

    private const int ClockCount = 30;

    [Fact]
    public void A_transition_without_a_unit_to_move_does_not_act_and_is_counted()
    {
        var model = Runs.Compile("A -> B : 5; A(0) = 3");
        var run = new NextReactionSimulator(model).Run(new(model, model.Network.ValueVector(), [0, 10]) { Start = [3, 0], Seed = 1 });
        Assert.Equal([0, 3], run.States[2..]);
        Assert.Equal(run.Transitions - 3, run.Blocked);
        Assert.InRange(run.Transitions, 20, 90);
    }

    [Fact]
    public void A_rate_past_all_bounds_is_stopped()
    {
        var model = Runs.Compile("A -> B : 1 / (A - 3); A(0) = 5");
        var values = model.Network.ValueVector();
        Assert.Throws<SimulationException>(() =>
            new NextReactionSimulator(model).Run(new(model, values, [0, 1000]) { Start = [5, 0], Seed = 1 })
        );
    }

    [Fact]
    public void A_chance_run_can_be_cancelled_and_has_a_limit()
    {
        var model = Runs.Compile("A -> B : 1000 * A; B -> A : 1000 * B; A(0) = 1000");
        var values = model.Network.ValueVector();
        using var cancel = new CancellationTokenSource();
        cancel.Cancel();
        Assert.Throws<OperationCanceledException>(() =>
            new NextReactionSimulator(model).Run(new(model, values, [0, 1e6]) { Start = [1000, 0], Seed = 1 }, cancel.Token)
        );
        var failure = Assert.Throws<SimulationException>(() =>
            new NextReactionSimulator(model) { MaximumTransitions = 100_000 }.Run(
                new(model, values, [0, 1e6]) { Start = [1000, 0], Seed = 1 }
            )
        );
        Assert.Equal(FailureReason.TooManySteps, failure.Reason);
    }
}
