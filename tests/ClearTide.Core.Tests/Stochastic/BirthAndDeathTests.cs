using ClearTide.Core.Models;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;
using ClearTide.Core.Tests.Simulation;

namespace ClearTide.Core.Tests.Stochastic;

public class BirthAndDeathTests
{
    private const int Replicates = 20_000;

    private static double[] Sample(string lines, double end, long seed)
    {
        var model = Runs.Compile(lines);
        var simulation = new ExactSimulation(model);
        var values = model.Form.ValueVector();
        var start = model.InitialState(values);
        return [.. Enumerable.Range(0, Replicates).Select(r => simulation.Run(start, ParameterSchedule.Constant(values), [0, end], seed, r).States[1])];
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
        var values = model.Form.ValueVector();
        var run = new ExactSimulation(model).Run([0, 1000], ParameterSchedule.Constant(values), [0, 1, 50], 3, 0);
        Assert.Equal(1000, run.States[2] + run.States[3]);
        Assert.True(run.Counts[1] < -200);
        Assert.InRange(run.States[4], 400, 600);
    }

    [Fact]
    public void The_same_seed_gives_the_same_run_and_another_replicate_another()
    {
        var model = Runs.Compile("-> A : 0.3 * A; A -> at 0.2 per day; A(0) = 20");
        var schedule = ParameterSchedule.Constant(model.Form.ValueVector());
        double[] times = [.. Enumerable.Range(0, 40).Select(k => k * 0.5)];
        var first = new ExactSimulation(model).Run([20], schedule, times, 5, 3);
        var reused = new ExactSimulation(model);
        reused.Run([20], schedule, times, 5, 9);
        Assert.Equal(first.States, reused.Run([20], schedule, times, 5, 3).States);
        Assert.NotEqual(first.States, reused.Run([20], schedule, times, 5, 4).States);
    }
}
