using System.Globalization;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;
using MathNet.Numerics.Distributions;

namespace ClearTide.Core.Tests.Stochastic;

/// <summary>Exact runs of models with many flows, whose clocks stand in a queue.</summary>
public class ManyFlowsTests
{
    private static string Lines(int count, Func<int, string> line) => string.Join('\n', Enumerable.Range(0, count).Select(line));

    private static ExactRun Run(CompiledModel model, double[] times, int replicate, NextReactionSimulator? simulator = null) =>
        (simulator ?? new(model)).Run(new(model, model.Network.ValueVector(), times) { Seed = 5, Replicate = replicate });

    private static double[] Times(double end, int count) => [.. Enumerable.Range(0, count + 1).Select(k => end * k / count)];

    /// <summary>A condition that never holds has the run go one transition at a time, with all rates worked out after each.</summary>
    private const string OneByOne = "\nwhen {0} > 1000000: A0 -> : 1";

    [Theory]
    [InlineData("A{0} -> A{1} : A{0} * (1 + A{2} / 50); A{0}(0) = 20", 40)]
    // Net flows that turn, a fan-out, several units at once, an empty start and inflow.
    [InlineData("A{0} -> A{1} : 0.3 * A{0} - 0.4 * A{1}; A{0}(0) = 20; A{0} -> B{0} 40%, outside the rest at 0.1", 30)]
    [InlineData("reaction meet{0}: 2 A{0} + B{0} -> C{1} : 0.002 * A{0} * A{0} * B{0}; A{0}(0) = 30; B{0}(0) = 9; C{0} -> A{0} at 0.2", 30)]
    [InlineData("-> A{0} : 3; A{0} -> at 0.5 per day", 30)]
    public void The_queue_makes_the_transitions_that_working_out_all_rates_makes(string line, int count)
    {
        string Of(int k) => string.Format(CultureInfo.InvariantCulture, line, k, (k + 1) % count, (k + 2) % count);
        var lines = Lines(count, Of);
        var (queued, all) = (Runs.Compile(lines), Runs.Compile(lines + string.Format(CultureInfo.InvariantCulture, OneByOne, "A0")));
        Assert.NotNull(Propensities.Of(queued).Dependencies);
        for (var replicate = 0; replicate < 4; replicate++)
        {
            var (one, other) = (Run(queued, Times(6, 30), replicate), Run(all, Times(6, 30), replicate));
            Assert.Equal(other.States, one.States);
            Assert.Equal((other.Transitions, other.Blocked), (one.Transitions, one.Blocked));
            Assert.True(one.Transitions > 100);
        }
    }

    [Fact]
    public void What_events_and_tables_change_the_queue_hears_of()
    {
        const int count = 30;
        var lines =
            Lines(count, k => $"A{k} -> A{(k + 1) % count} at speed * crowding(A{(k + 3) % count}); A{k}(0) = 20")
            + "\ncrowding(x) = points 0 1, 40 0.3, 200 0.1\nspeed = 0.5 per day\nat 2: speed = 3 per day\nevery 1 day from 1: A0 -> A5 : 7";
        var (queued, all) = (Runs.Compile(lines), Runs.Compile(lines + string.Format(CultureInfo.InvariantCulture, OneByOne, "A0")));
        Assert.NotNull(Propensities.Of(queued).Dependencies);
        Assert.Equal(Run(all, Times(5, 11), 0).States, Run(queued, Times(5, 11), 0).States);
    }

    [Fact]
    public void Units_on_a_ring_are_where_a_Poisson_number_of_steps_takes_them()
    {
        const int count = 40,
            units = 30,
            replicates = 2000;
        const double rate = 1.5,
            end = 6;
        var model = Runs.Compile(Lines(count, k => $"A{k} -> A{(k + 1) % count} at 1.5 per day") + $"\nA0(0) = {units}");
        Assert.NotNull(Propensities.Of(model).Dependencies);
        var simulator = new NextReactionSimulator(model);
        var sums = new double[count];
        var squares = new double[count];
        for (var replicate = 0; replicate < replicates; replicate++)
        {
            var final = Run(model, [0, end], replicate, simulator).States.AsSpan(count);
            for (var k = 0; k < count; k++)
                (sums[k], squares[k]) = (sums[k] + final[k], squares[k] + final[k] * final[k]);
        }
        for (var k = 0; k < count; k++)
        {
            // Each unit by itself: it is k places on with the probability of k steps, or of k steps and whole rounds.
            var share = Poisson.PMF(rate * end, k) + Poisson.PMF(rate * end, k + count);
            var (mean, variance) = (units * share, units * share * (1 - share));
            // Five standard errors; the fourth moment of a binomial is 3 v² + v (1 - 6 p q) at most.
            Assert.Equal(mean, sums[k] / replicates, 5 * Math.Sqrt(variance / replicates) + 5.0 / replicates);
            var spread = squares[k] / replicates - sums[k] / replicates * (sums[k] / replicates);
            Assert.Equal(variance, spread, 5 * Math.Sqrt((2 * variance * variance + variance) / replicates) + 5.0 / replicates);
        }
    }

    [Fact]
    public void A_model_whose_rates_hang_on_everything_goes_without_a_queue()
    {
        var sum = string.Join(" + ", Enumerable.Range(0, 40).Select(k => $"A{k}"));
        var lines = Lines(40, k => $"A{k} -> A{(k + 1) % 40} : A{k} * N / 1000; -> A{k} : 1") + $"\nN = {sum}";
        Assert.Null(Propensities.Of(Runs.Compile(lines)).Dependencies);
    }

    [Fact]
    public void A_rate_that_is_infinite_stops_the_run_in_words_of_its_time()
    {
        var model = Runs.Compile(Lines(30, k => $"A{k} -> B{k} : A{k} / (1 - floor(B{k} / 5)); A{k}(0) = 20"));
        Assert.NotNull(Propensities.Of(model).Dependencies);
        var failure = Assert.Throws<SimulationException>(() => Run(model, [0, 50], 0));
        Assert.Equal(FailureReason.NotFinite, failure.Reason);
        Assert.InRange(failure.Time, 0.0001, 49);
    }

    [Fact]
    public void A_queue_gives_items_in_the_order_of_their_keys_as_keys_change()
    {
        var random = new Random(3);
        var keys = Enumerable.Range(0, 57).Select(_ => random.NextDouble()).ToArray();
        var queue = new IndexedPriorityQueue(keys.Length);
        queue.Fill(keys);
        for (var change = 0; change < 3000; change++)
        {
            Assert.Equal((keys.Min(), keys[queue.First]), (queue.Least, queue.Least));
            var item = change % 3 == 0 ? queue.First : random.Next(keys.Length);
            keys[item] = change % 7 == 0 ? double.PositiveInfinity : keys[item] + random.NextDouble() - 0.4;
            if (double.IsInfinity(keys[item]))
                keys[item] = change % 2 == 0 ? double.PositiveInfinity : 5;
            queue.Change(item, keys[item]);
        }
    }
}
